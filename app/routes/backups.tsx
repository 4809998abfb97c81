import { loaded } from '#server/answers';
import { backupsFolder, folderFor, listBackups } from '#server/backup';
import { readJson } from '#server/http/bodies';
import { begin, lastJob } from '#server/jobs';
import { Backups } from '~/features/backups/Backups';
import { Header, Where } from '~/features/shared/frame/Header';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/backups';
import { checkBackupIntent } from './checks';

export const meta: Route.MetaFunction = () => [{ title: 'Backups · Papillon' }];

export const loader = () =>
  loaded(async () => ({
    backups: await listBackups(),
    folder: folderFor(),
    daily: backupsFolder() !== null,
    job: lastJob(),
  }));

/** Begins what is asked for; the page looks how it goes on. */
export const action = ({ request }: Route.ActionArgs) =>
  loaded(async () => {
    const wanted = checkBackupIntent(await readJson(request));
    if (wanted.intent === 'backup') return { begun: begin('backup') };
    // only what is in the list can be brought back
    const known = (await listBackups()).some((b) => b.name === wanted.name);
    if (!known) throw new Response('That backup is no longer in the folder.', { status: 404 });
    return { begun: begin('restore', wanted.name) };
  });

export default function BackupsRoute({ loaderData }: Route.ComponentProps) {
  return (
    <Frame>
      <Header>
        <Where>Backups</Where>
      </Header>
      <Backups {...loaderData} />
    </Frame>
  );
}

import { loaded } from '#server/answers';
import { database } from '#server/open';
import { listProfiles, patchesOf } from '#server/profiles';
import { Profiles } from '~/features/profiles/Profiles';
import { Header, Where } from '~/features/shared/frame/Header';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/profiles';

export const meta: Route.MetaFunction = () => [{ title: 'Print profiles · Papillon' }];

export const loader = () =>
  loaded(async () => {
    const db = await database();
    const profiles = await listProfiles(db);
    return {
      profiles: await Promise.all(profiles.map(async (p) => ({ ...p, patches: await patchesOf(db, p) }))),
    };
  });

export default function ProfilesRoute({ loaderData }: Route.ComponentProps) {
  return (
    <Frame>
      <Header>
        <Where>Print profiles</Where>
      </Header>
      <Profiles profiles={loaderData.profiles} />
    </Frame>
  );
}

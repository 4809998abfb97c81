import { loaded } from '#server/answers';
import { listKits, listPresets } from '#server/kits';
import { database } from '#server/open';
import { LibraryHeader } from '~/features/frame/Header';
import { Outline } from '~/features/frame/Outline';
import { HandOver } from '~/features/handover/HandOver';
import type { Route } from './+types/hand-over';

export const loader = ({ params }: Route.LoaderArgs) =>
  loaded(async () => {
    const db = await database();
    const [kits, presets] = await Promise.all([listKits(db, params.id), listPresets(db)]);
    return { kits, presets };
  });

export default function HandOverRoute({ loaderData }: Route.ComponentProps) {
  return (
    <div className="frame">
      <LibraryHeader />
      <Outline />
      <HandOver {...loaderData} />
    </div>
  );
}

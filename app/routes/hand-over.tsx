import { loaded } from '#server/answers';
import { listKits, listPresets } from '#server/kits';
import { database } from '#server/open';
import { Frame } from '~/features/frame/Frame';
import { LibraryHeader } from '~/features/frame/LibraryHeader';
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
    <Frame panels={{ outline: 'Groups' }}>
      <LibraryHeader />
      <Outline />
      <HandOver {...loaderData} />
    </Frame>
  );
}

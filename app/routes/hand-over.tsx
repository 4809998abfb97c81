import { loaded } from '#server/answers';
import { listKits, listPresets } from '#server/kits';
import { database } from '#server/open';
import { HandOver } from '~/features/handover/HandOver';
import { LibraryHeader } from '~/features/shared/frame/LibraryHeader';
import { Outline } from '~/features/shared/frame/Outline';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/hand-over';

export const loader = ({ params, context: { visitor } }: Route.LoaderArgs) =>
  loaded(async () => {
    const db = await database();
    const [kits, presets] = await Promise.all([listKits(db, params.id), visitor ? [] : listPresets(db)]);
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

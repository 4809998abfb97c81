import { useSearchParams } from 'react-router';
import { loaded } from '#server/answers';
import { database } from '#server/open';
import { listPictures } from '#server/pictures';
import { Gather } from '~/features/gather/Gather';
import { sourceIn } from '~/features/gather/sources';
import { LibraryHeader } from '~/features/shared/frame/LibraryHeader';
import { Outline } from '~/features/shared/frame/Outline';
import { Tray } from '~/features/shared/frame/Tray';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/gather';

export const loader = ({ params }: Route.LoaderArgs) =>
  loaded(async () => ({ kept: await listPictures(await database(), params.id) }));

export default function GatherRoute({ loaderData }: Route.ComponentProps) {
  const [search] = useSearchParams();
  const { readout } = sourceIn(search);
  return (
    <Frame panels={{ outline: 'Groups', ...(readout ? { readout } : {}) }}>
      <LibraryHeader />
      <Outline />
      <Gather kept={loaderData.kept} />
      <Tray />
    </Frame>
  );
}

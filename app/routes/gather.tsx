import { LibraryHeader } from '~/features/frame/Header';
import { Outline } from '~/features/frame/Outline';
import { Tray } from '~/features/frame/Tray';
import { Gather } from '~/features/gather/Gather';

export default function GatherRoute() {
  return (
    <div className="frame">
      <LibraryHeader />
      <Outline />
      <Gather />
      <Tray />
    </div>
  );
}

import { LibraryHeader } from '~/features/frame/Header';
import { Outline } from '~/features/frame/Outline';
import { HandOver } from '~/features/handover/HandOver';

export default function HandOverRoute() {
  return (
    <div className="frame">
      <LibraryHeader />
      <Outline />
      <HandOver />
    </div>
  );
}

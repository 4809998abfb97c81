import { LibraryHeader } from '~/features/frame/Header';
import { Outline } from '~/features/frame/Outline';
import { Tray } from '~/features/frame/Tray';
import { History } from '~/features/history/History';

export default function HistoryRoute() {
  return (
    <div className="frame">
      <LibraryHeader />
      <Outline />
      <History />
      <Tray />
    </div>
  );
}

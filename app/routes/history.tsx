import { Frame } from '~/features/frame/Frame';
import { LibraryHeader } from '~/features/frame/LibraryHeader';
import { Outline } from '~/features/frame/Outline';
import { Tray } from '~/features/frame/Tray';
import { History } from '~/features/history/History';

export default function HistoryRoute() {
  return (
    <Frame panels={{ outline: 'Groups', readout: 'History' }}>
      <LibraryHeader />
      <Outline />
      <History />
      <Tray />
    </Frame>
  );
}

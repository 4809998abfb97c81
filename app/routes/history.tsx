import { History } from '~/features/history/History';
import { LibraryHeader } from '~/features/shared/frame/LibraryHeader';
import { Outline } from '~/features/shared/frame/Outline';
import { Tray } from '~/features/shared/frame/Tray';
import { Frame } from '~/ui/Frame';

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

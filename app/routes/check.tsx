import { Check } from '~/features/check/Check';
import { Frame } from '~/features/frame/Frame';
import { LibraryHeader } from '~/features/frame/LibraryHeader';
import { Tray } from '~/features/frame/Tray';

export default function CheckRoute() {
  return (
    <Frame panels={{ outline: 'Checks', readout: 'Finding' }}>
      <LibraryHeader />
      <Check />
      <Tray />
    </Frame>
  );
}

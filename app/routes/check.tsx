import { Check } from '~/features/check/Check';
import { Frame } from '~/features/frame/Frame';
import { LibraryHeader } from '~/features/frame/LibraryHeader';

export default function CheckRoute() {
  return (
    <Frame panels={{ outline: 'Checks', readout: 'Finding' }}>
      <LibraryHeader />
      <Check />
    </Frame>
  );
}

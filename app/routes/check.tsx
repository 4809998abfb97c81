import { Check } from '~/features/check/Check';
import { LibraryHeader } from '~/features/shared/frame/LibraryHeader';
import { Frame } from '~/ui/Frame';

export default function CheckRoute() {
  return (
    <Frame panels={{ outline: 'Checks', readout: 'Finding' }}>
      <LibraryHeader />
      <Check />
    </Frame>
  );
}

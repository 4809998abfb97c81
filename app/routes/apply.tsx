import { Apply } from '~/features/apply/Apply';
import { LibraryHeader } from '~/features/shared/frame/LibraryHeader';
import { Frame } from '~/ui/Frame';

export default function ApplyRoute() {
  return (
    <Frame panels={{ outline: 'Artwork', readout: 'Colours' }}>
      <LibraryHeader />
      <Apply />
    </Frame>
  );
}

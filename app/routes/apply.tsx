import { Apply } from '~/features/apply/Apply';
import { Frame } from '~/features/frame/Frame';
import { LibraryHeader } from '~/features/frame/LibraryHeader';

export default function ApplyRoute() {
  return (
    <Frame panels={{ outline: 'Artwork', readout: 'Colours' }}>
      <LibraryHeader />
      <Apply />
    </Frame>
  );
}

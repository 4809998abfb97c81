import { useState } from 'react';
import { Arrange } from '~/features/arrange/Arrange';
import { Frame } from '~/features/frame/Frame';
import { LibraryHeader } from '~/features/frame/LibraryHeader';
import { Outline } from '~/features/frame/Outline';
import { Tray } from '~/features/frame/Tray';

export default function ArrangeRoute() {
  const [scrollTo, setScrollTo] = useState<{ groupId: string; n: number } | null>(null);
  return (
    <Frame panels={{ outline: 'Groups', readout: 'Readout' }}>
      <LibraryHeader />
      <Outline onChoose={(groupId) => setScrollTo((was) => ({ groupId, n: (was?.n ?? 0) + 1 }))} />
      <Arrange scrollTo={scrollTo} />
      <Tray />
    </Frame>
  );
}

import { useState } from 'react';
import { useLocation } from 'react-router';
import { Arrange } from '~/features/arrange/Arrange';
import { LibraryHeader } from '~/features/shared/frame/LibraryHeader';
import { Outline } from '~/features/shared/frame/Outline';
import { Tray } from '~/features/shared/frame/Tray';
import { Frame } from '~/ui/Frame';

export default function ArrangeRoute() {
  const [scrollTo, setScrollTo] = useState<{ groupId: string; n: number } | null>(null);
  // its bar takes the place of the tray's
  const asked = (useLocation().state as { tune?: boolean } | null)?.tune;
  const [tuning, setTuning] = useState(!!asked);
  return (
    <Frame panels={{ outline: 'Groups', readout: 'Readout' }}>
      <LibraryHeader />
      <Outline onChoose={(groupId) => setScrollTo((was) => ({ groupId, n: (was?.n ?? 0) + 1 }))} />
      <Arrange scrollTo={scrollTo} tuning={tuning} setTuning={setTuning} />
      {!tuning && <Tray />}
    </Frame>
  );
}

import { lazy, Suspense, useState } from 'react';
import { useLocation } from 'react-router';
import { Arrange } from '~/features/arrange/Arrange';
import { useArrangeView } from '~/features/arrange/ViewTabs';
import { LibraryHeader } from '~/features/shared/frame/LibraryHeader';
import { Outline } from '~/features/shared/frame/Outline';
import { Tray } from '~/features/shared/frame/Tray';
import { Frame } from '~/ui/Frame';

const BoardView = lazy(() =>
  import('~/features/arrange/board/BoardView').then((m) => ({ default: m.BoardView })),
);

export default function ArrangeRoute() {
  const [scrollTo, setScrollTo] = useState<{ groupId: string; n: number } | null>(null);
  // its bar takes the place of the tray's
  const asked = (useLocation().state as { tune?: boolean } | null)?.tune;
  const [tuning, setTuning] = useState(!!asked);
  const [view] = useArrangeView();
  if (view === 'board')
    return (
      <Frame panels={{ outline: 'Boards', readout: 'Board' }}>
        <LibraryHeader />
        <Suspense>
          <BoardView />
        </Suspense>
      </Frame>
    );
  return (
    <Frame panels={{ outline: 'Groups', readout: 'Readout' }}>
      <LibraryHeader />
      <Outline onChoose={(groupId) => setScrollTo((was) => ({ groupId, n: (was?.n ?? 0) + 1 }))} />
      <Arrange view={view} scrollTo={scrollTo} tuning={tuning} setTuning={setTuning} />
      {!tuning && <Tray />}
    </Frame>
  );
}

import { useSearchParams } from 'react-router';
import { Gather } from '~/features/gather/Gather';
import { sourceIn } from '~/features/gather/sources';
import { Header, Where } from '~/features/shared/frame/Header';
import { Tray } from '~/features/shared/frame/Tray';
import { UsualCondition } from '~/features/shared/frame/UsualCondition';
import { Frame, Panel } from '~/ui/Frame';

import css from './gather-unplaced.module.css';

/** Gathering before any library is open: the tray keeps the colours until they are placed in one. */
export default function GatherUnplacedRoute() {
  const [search] = useSearchParams();
  const { readout } = sourceIn(search);
  return (
    <Frame panels={{ outline: 'Groups', ...(readout ? { readout } : {}) }}>
      <Header>
        <Where>Gather</Where>
      </Header>
      <Panel side="outline" label="Groups">
        <p className={`caption ${css.note}`}>
          No library is open. Put colours in the tray, then place them in a new one.
        </p>
      </Panel>
      <UsualCondition>
        <Gather />
        <Tray />
      </UsualCondition>
    </Frame>
  );
}

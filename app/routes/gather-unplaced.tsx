import { useSearchParams } from 'react-router';
import { Frame, Panel } from '~/features/frame/Frame';
import { Header, Where } from '~/features/frame/Header';
import { Tray } from '~/features/frame/Tray';
import { UsualCondition } from '~/features/frame/UsualCondition';
import { Gather } from '~/features/gather/Gather';
import { sourceIn } from '~/features/gather/sources';

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

import { Header } from '~/features/frame/Header';
import { Tray } from '~/features/frame/Tray';
import { Gather } from '~/features/gather/Gather';

/** Gathering before any library is open: the tray keeps the colours until they are placed in one. */
export default function GatherUnplacedRoute() {
  return (
    <div className="frame">
      <Header>
        <span className="second">/</span>
        <span style={{ fontSize: 15, fontWeight: 500 }}>Gather</span>
      </Header>
      <aside className="outline">
        <p className="caption" style={{ margin: '4px 16px' }}>
          No library is open. Put colours in the tray, then place them in a new one.
        </p>
      </aside>
      <Gather />
      <Tray />
    </div>
  );
}

import { Plus } from 'lucide-react';
import { nanoid } from 'nanoid';
import type { CSSProperties } from 'react';
import { isLoose } from '#core/swatch/index';
import { useStore } from '~/state/library-store';
import { useLibrary } from '~/state/workspace';
import { groupLabel, Strip, stripColors } from '~/ui/swatch';

const newRow: CSSProperties = { padding: '12px 16px', display: 'flex', gap: 5, alignItems: 'center' };

/** The groups of the open library, each with a thin strip of its colours. */
export function Outline({ onChoose }: { onChoose?(groupId: string): void }) {
  const { store, groupId, setGroupId } = useLibrary();
  const { library } = useStore(store);
  const addGroup = () => {
    const id = nanoid(12);
    const taken = new Set(library.groups.map((g) => g.name));
    let name = 'New group';
    for (let n = 2; taken.has(name); n++) name = `New group ${n}`;
    store.edit({ type: 'addGroup', group: { id, name, swatches: [] }, index: library.groups.length });
    setGroupId(id);
    onChoose?.(id);
  };
  return (
    <aside className="outline" aria-label="Groups">
      <h2 className="caption" style={{ margin: '2px 16px 8px', fontWeight: 500 }}>
        Groups
      </h2>
      {library.groups.map((group, i) =>
        isLoose(library, group) && group.swatches.length === 0 ? null : (
          <button
            key={group.id}
            type="button"
            className="outline-row"
            aria-current={group.id === groupId}
            onClick={() => {
              setGroupId(group.id);
              onChoose?.(group.id);
            }}
          >
            <span style={{ display: 'flex', justifyContent: 'space-between', gap: 8, marginBottom: 6 }}>
              <span className="cut">{groupLabel(library, i)}</span>
              <span className="second" style={{ fontWeight: 400 }}>
                {group.swatches.length}
              </span>
            </span>
            <Strip colors={stripColors(group.swatches)} />
          </button>
        ),
      )}
      <button type="button" className="tab" style={newRow} onClick={addGroup}>
        <Plus size={13} /> New group
      </button>
    </aside>
  );
}

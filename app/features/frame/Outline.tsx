import { Plus } from 'lucide-react';
import { nanoid } from 'nanoid';
import { type CSSProperties, memo, useCallback, useRef } from 'react';
import { addGroups, type Group, isLoose } from '#core/swatch/index';
import { useStore } from '~/state/store';
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
    if (!store.edit(addGroups(store.rows, [{ id, name, swatches: [] }]))) return;
    setGroupId(id);
    onChoose?.(id);
  };
  const latest = useRef((_: string) => {});
  latest.current = (id) => {
    setGroupId(id);
    onChoose?.(id);
  };
  const choose = useCallback((id: string) => latest.current(id), []);
  return (
    <aside className="outline" aria-label="Groups">
      <h2 className="caption" style={{ margin: '2px 16px 8px', fontWeight: 500 }}>
        Groups
      </h2>
      {library.groups.map((group, i) =>
        isLoose(library, group) && group.swatches.length === 0 ? null : (
          <Row
            key={group.id}
            group={group}
            label={groupLabel(library, i)}
            current={group.id === groupId}
            onChoose={choose}
          />
        ),
      )}
      <button type="button" className="tab" style={newRow} onClick={addGroup}>
        <Plus size={13} /> New group
      </button>
    </aside>
  );
}

/** Drawn anew only when the group itself changes. */
const Row = memo(function Row({
  group,
  label,
  current,
  onChoose,
}: {
  group: Group;
  label: string;
  current: boolean;
  onChoose(id: string): void;
}) {
  return (
    <button type="button" className="outline-row" aria-current={current} onClick={() => onChoose(group.id)}>
      <span style={{ display: 'flex', justifyContent: 'space-between', gap: 8, marginBottom: 6 }}>
        <span className="cut">{label}</span>
        <span className="second" style={{ fontWeight: 400 }}>
          {group.swatches.length}
        </span>
      </span>
      <Strip colors={stripColors(group.swatches)} />
    </button>
  );
});

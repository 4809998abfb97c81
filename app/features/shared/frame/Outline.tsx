import { Plus } from 'lucide-react';
import { nanoid } from 'nanoid';
import { memo, useCallback, useMemo, useRef } from 'react';
import { addGroups, freeGroupName, type Group, isLoose, openThreads } from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Panel, useShutDrawers } from '~/ui/Frame';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { count, groupLabel, Strip, stripColors } from '~/ui/swatch';
import css from './Outline.module.css';

/** The groups of the open library, each with a thin strip of its colours. */
export function Outline({ onChoose }: { onChoose?(groupId: string): void }) {
  const { store, groupId, setGroupId } = useLibrary();
  const { library } = useStore(store);
  const { items } = library;
  const talk = useMemo(() => openThreads({ items: items ?? [] }), [items]);
  const shut = useShutDrawers();
  const stop = useOneStop<HTMLDivElement>();
  const addGroup = () => {
    const id = nanoid(12);
    if (!store.edit(addGroups(store.rows, [{ id, name: freeGroupName(library), swatches: [] }]))) return;
    setGroupId(id);
    onChoose?.(id);
  };
  const latest = useRef((_: string) => {});
  latest.current = (id) => {
    setGroupId(id);
    onChoose?.(id);
    shut();
  };
  const choose = useCallback((id: string) => latest.current(id), []);
  return (
    <Panel side="outline" label="Groups">
      <h2 className={`caption ${css.heading}`}>Groups</h2>
      <div {...stop} data-no-act>
        {library.groups.map((group, i) =>
          isLoose(library, group) && group.swatches.length === 0 ? null : (
            <Row
              key={group.id}
              group={group}
              open={talk.size === 0 ? 0 : group.swatches.reduce((n, s) => n + (talk.get(s.id) ?? 0), 0)}
              label={groupLabel(library, i)}
              current={group.id === groupId}
              onChoose={choose}
            />
          ),
        )}
      </div>
      <PlainButton look="tab" className={css.add} onClick={addGroup}>
        <Plus size={13} /> New group
      </PlainButton>
    </Panel>
  );
}

/** Redrawn only when the group itself changes. */
const Row = memo(function Row({
  group,
  open,
  label,
  current,
  onChoose,
}: {
  group: Group;
  /** Comments on its swatches that are not resolved. */
  open: number;
  label: string;
  current: boolean;
  onChoose(id: string): void;
}) {
  const condition = useCondition();
  return (
    <PlainButton className={css.row} aria-current={current} onClick={() => onChoose(group.id)}>
      <span className={css.name}>
        <span className="cut" dir="auto">
          {label}
        </span>
        {open > 0 && (
          <span className={css.talk} title={`${count(open, 'open comment')}`}>
            {open}
            <span className="unseen"> {open === 1 ? 'open comment' : 'open comments'}, swatches:</span>
          </span>
        )}
        <span className="second">{group.swatches.length}</span>
      </span>
      <Strip colors={stripColors(group.swatches, condition)} />
    </PlainButton>
  );
});

import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { Ellipsis } from 'lucide-react';
import { useMemo, useState } from 'react';
import { type Group, isLoose, moveGroup, removeGroup, renameGroup } from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import { groupLabel } from '~/ui/swatch';

import css from './GroupHead.module.css';

/** A group's heading on the board: its name, where it came from, and what can be done with it. */
export function GroupHead({
  group,
  index,
  top,
  drop,
  onChoose,
  onSend,
}: {
  group: Group;
  index: number;
  top: number;
  drop: boolean;
  onChoose(): void;
  onSend(ids: ReadonlySet<string>): void;
}) {
  const { store, select } = useLibrary();
  const { library } = useStore(store);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [editing, setEditing] = useState(false);
  const loose = isLoose(library, group);
  const act = (run: () => void) => () => {
    setMenu(null);
    run();
  };
  const origin = group.swatches[0]?.origin;
  const same = useMemo(
    () =>
      !!origin &&
      group.swatches.every((s) => s.origin?.from === origin.from && s.origin?.name === origin.name),
    [group.swatches, origin],
  );
  // the place for ungrouped swatches stays first
  const first = isLoose(library, library.groups[0]) ? 1 : 0;
  return (
    <div className={css.groupHead} data-drop={drop} style={{ top: top + 9 }}>
      {editing ? (
        <RenameField
          className={css.rename}
          label="Name of the group"
          name={group.name}
          onRename={(name) => store.edit(renameGroup(group.id, name))}
          onDone={() => setEditing(false)}
        />
      ) : (
        <PlainButton
          look="tab"
          className={`cut ${css.name}`}
          dir="auto"
          onClick={onChoose}
          onDoubleClick={() => setEditing(true)}
        >
          {groupLabel(library, index)}
        </PlainButton>
      )}
      {same && origin && (
        <span className="caption cut">
          {origin.from === 'harmony' ? 'by ' : origin.from === 'picture' ? 'from the picture ' : 'from '}
          {origin.name}
        </span>
      )}
      <span className={`caption ${css.count}`}>{group.swatches.length}</span>
      <PlainButton
        look="icon"
        className={css.menu}
        aria-label={`Group ${groupLabel(library, index)}`}
        aria-haspopup="menu"
        onClick={(e) => setMenu(e.currentTarget)}
      >
        <Ellipsis size={15} />
      </PlainButton>
      <Menu anchorEl={menu} open={!!menu} onClose={() => setMenu(null)}>
        <MenuItem onClick={act(() => setEditing(true))}>{loose ? 'Make it a group' : 'Rename'}</MenuItem>
        <MenuItem onClick={act(() => select(group.swatches.map((s) => s.id)))}>Choose its swatches</MenuItem>
        <MenuItem
          disabled={group.swatches.length === 0}
          onClick={act(() => onSend(new Set(group.swatches.map((s) => s.id))))}
        >
          Send to a file or library…
        </MenuItem>
        <MenuItem
          disabled={loose || index <= first}
          onClick={act(() => store.edit(moveGroup(store.rows, group.id, index - 1)))}
        >
          Move up
        </MenuItem>
        <MenuItem
          disabled={loose || index >= library.groups.length - 1}
          onClick={act(() => store.edit(moveGroup(store.rows, group.id, index + 1)))}
        >
          Move down
        </MenuItem>
        <MenuItem onClick={act(() => store.edit(removeGroup(store.rows, group.id)))}>
          Delete with its {group.swatches.length} swatches
        </MenuItem>
      </Menu>
    </div>
  );
}

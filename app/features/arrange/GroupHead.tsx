import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { Ellipsis } from 'lucide-react';
import { useMemo, useState } from 'react';
import { type Group, isLoose, moveGroup, removeGroup, renameGroup } from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { groupLabel } from '~/ui/swatch';

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
  const rename = (name: string) => {
    setEditing(false);
    if (name !== group.name) store.edit(renameGroup(group.id, name));
  };
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
    <div className={`group-head${drop ? ' drop' : ''}`} style={{ top: top + 9 }}>
      {editing ? (
        <input
          className="plain-input"
          style={{ maxWidth: 260 }}
          aria-label="Name of the group"
          defaultValue={group.name}
          // biome-ignore lint/a11y/noAutofocus: the user has just asked to type here
          autoFocus
          onFocus={(e) => e.target.select()}
          onBlur={(e) => rename(e.target.value)}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') rename(e.currentTarget.value);
            if (e.key === 'Escape') setEditing(false);
          }}
        />
      ) : (
        <button
          type="button"
          className="tab cut"
          style={{
            color: 'var(--ink)',
            fontWeight: 600,
            padding: 0,
            maxWidth: '60%',
          }}
          onClick={onChoose}
          onDoubleClick={() => setEditing(true)}
        >
          {groupLabel(library, index)}
        </button>
      )}
      {same && origin && (
        <span className="caption cut">
          from {origin.from === 'picture' ? 'the picture ' : ''}
          {origin.name}
        </span>
      )}
      <span className="caption" style={{ marginLeft: 'auto' }}>
        {group.swatches.length}
      </span>
      <IconButton
        size="small"
        sx={{ p: '1px', my: '-4px' }}
        aria-label={`Group ${groupLabel(library, index)}`}
        aria-haspopup="menu"
        onClick={(e) => setMenu(e.currentTarget)}
      >
        <Ellipsis size={15} />
      </IconButton>
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

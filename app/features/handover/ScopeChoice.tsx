import Checkbox from '@mui/material/Checkbox';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { inScope, type Scope } from '#core/formats/index';
import { countSwatches, isLoose, type Library } from '#core/swatch/index';
import { count, groupLabel } from '~/ui/swatch';

/** Which swatches go: everything, some groups, or those chosen in Arrange. */
export function ScopeChoice({
  library,
  selection,
  scope,
  onChange,
}: {
  library: Library;
  selection: ReadonlySet<string>;
  scope: Scope;
  onChange(scope: Scope): void;
}) {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const groups = library.groups.filter((g) => g.swatches.length > 0);
  const all = groups.map((g) => g.id);
  const ids = scope.what === 'groups' ? scope.ids : [];
  const close = (next: Scope) => {
    onChange(next);
    setMenu(null);
  };
  const toggle = (id: string) => {
    const before = scope.what === 'groups' ? ids : all;
    const next = before.includes(id) ? before.filter((i) => i !== id) : [...before, id];
    onChange(next.length === all.length ? { what: 'library' } : { what: 'groups', ids: next });
  };
  const label =
    scope.what === 'library'
      ? 'Everything goes'
      : `${scope.what === 'groups' ? `${count(scope.ids.length, 'group')}: ` : 'Chosen: '}${count(countSwatches(inScope(library, scope)), 'swatch', 'swatches')}`;
  return (
    <>
      <button
        type="button"
        className="tab"
        style={{ marginLeft: 'auto', color: 'var(--ink)', display: 'flex', gap: 5, alignItems: 'center' }}
        aria-haspopup="menu"
        onClick={(e) => setMenu(e.currentTarget)}
      >
        {label} <ChevronDown size={13} aria-hidden />
      </button>
      <Menu anchorEl={menu} open={!!menu} onClose={() => setMenu(null)}>
        <MenuItem selected={scope.what === 'library'} onClick={() => close({ what: 'library' })}>
          Everything
        </MenuItem>
        <MenuItem
          selected={scope.what === 'swatches'}
          disabled={selection.size === 0}
          onClick={() => close({ what: 'swatches', ids: [...selection] })}
        >
          {selection.size > 0
            ? `The ${count(selection.size, 'swatch', 'swatches')} chosen in Arrange`
            : 'Chosen swatches: choose them in Arrange first'}
        </MenuItem>
        {groups.length > 1 &&
          groups.map((g) => (
            <MenuItem
              key={g.id}
              role="menuitemcheckbox"
              aria-checked={scope.what === 'library' || ids.includes(g.id)}
              onClick={() => toggle(g.id)}
            >
              <Checkbox
                checked={scope.what === 'library' || ids.includes(g.id)}
                tabIndex={-1}
                sx={{ p: 0, mr: 1 }}
              />
              {isLoose(library, g) ? 'No group' : groupLabel(library, library.groups.indexOf(g))} ·{' '}
              {g.swatches.length}
            </MenuItem>
          ))}
      </Menu>
    </>
  );
}

import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { inScope, type Scope } from '#core/formats/plan';
import { countSwatches, isLoose, type Library } from '#core/swatch/index';
import { PlainButton } from '~/ui/plain-button';
import { count, groupLabel } from '~/ui/swatch';

import css from './ScopeChoice.module.css';

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
      <PlainButton
        look="tab"
        className={css.scope}
        aria-haspopup="menu"
        onClick={(e) => setMenu(e.currentTarget)}
      >
        {label} <ChevronDown size={13} aria-hidden />
      </PlainButton>
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
              <span className={css.tick} data-on={scope.what === 'library' || ids.includes(g.id)} aria-hidden>
                ✓
              </span>
              {isLoose(library, g) ? 'No group' : groupLabel(library, library.groups.indexOf(g))} ·{' '}
              {g.swatches.length}
            </MenuItem>
          ))}
      </Menu>
    </>
  );
}

import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { SelectField } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import type { HomeIntent } from './intents';
import { addressOf, type Place, SORTS, type Sort } from './places';
import css from './Shelves.module.css';

/** The shelves, the archive and the bin to choose from, and the order of what is shown. */
export function Shelves({
  place,
  sort,
  shelves,
  counts,
  ask,
}: {
  place: Place;
  sort: Sort;
  shelves: readonly { name: string; count: number }[];
  counts: { all: number; archive: number; bin: number };
  ask(intent: HomeIntent): void;
}) {
  const [search, setSearch] = useSearchParams();
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [renaming, setRenaming] = useState(false);
  const shelf = place.in === 'shelf' ? place.name : null;
  const to = (next: Place, label: string, n: number, isHere: boolean) => (
    <Link
      key={`${next.in} ${label}`}
      to={addressOf(next, search)}
      replace
      className={css.place}
      aria-current={isHere ? 'page' : undefined}
    >
      <bdi className="cut">{label}</bdi> <span className="caption">{n}</span>
    </Link>
  );
  const rename = (name: string) => {
    const wanted = name.trim().slice(0, 200);
    if (!shelf || !wanted) return;
    ask({ intent: 'rename shelf', shelf, name: wanted });
    setSearch(new URL(addressOf({ in: 'shelf', name: wanted }, search), 'http://x').searchParams, {
      replace: true,
    });
  };
  return (
    <nav className={css.shelves} aria-label="Shelves">
      {to({ in: 'all' }, 'All', counts.all, place.in === 'all')}
      {shelves.map(({ name, count }) =>
        renaming && shelf === name ? (
          <RenameField
            key={name}
            label="Name of the shelf"
            name={name}
            onRename={rename}
            onDone={() => setRenaming(false)}
          />
        ) : (
          to({ in: 'shelf', name }, name, count, shelf === name)
        ),
      )}
      {shelf && (
        <PlainButton
          look="icon"
          aria-haspopup="menu"
          aria-label={`More for the shelf ${shelf}`}
          onClick={(e) => setMenu(e.currentTarget)}
        >
          …
        </PlainButton>
      )}
      <Menu anchorEl={menu} open={!!menu} onClose={() => setMenu(null)}>
        <MenuItem
          onClick={() => {
            setMenu(null);
            setTimeout(() => setRenaming(true));
          }}
        >
          Rename the shelf
        </MenuItem>
        <MenuItem
          onClick={() => {
            setMenu(null);
            if (!shelf) return;
            ask({ intent: 'rename shelf', shelf });
            setSearch(new URL(addressOf({ in: 'all' }, search), 'http://x').searchParams, { replace: true });
          }}
        >
          Remove the shelf; its libraries stay
        </MenuItem>
      </Menu>
      {(counts.archive > 0 || place.in === 'archive') &&
        to({ in: 'archive' }, 'Archive', counts.archive, place.in === 'archive')}
      {(counts.bin > 0 || place.in === 'bin') && to({ in: 'bin' }, 'Bin', counts.bin, place.in === 'bin')}
      {place.in !== 'bin' && (
        <label className={css.sort}>
          <span className="caption">by</span>
          <SelectField
            aria-label="Order of the libraries"
            value={sort}
            onChange={(e) =>
              setSearch(
                (was) => {
                  const next = new URLSearchParams(was);
                  if (e.target.value === 'newest') next.delete('sort');
                  else next.set('sort', e.target.value);
                  return next;
                },
                { replace: true },
              )
            }
          >
            {SORTS.map(([id, label]) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </SelectField>
        </label>
      )}
    </nav>
  );
}

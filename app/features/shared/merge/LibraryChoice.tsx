import { useEffect, useState } from 'react';
import type { LibraryName } from '#server/libraries';
import { useStores } from '~/state/stores';
import { Field, SelectField } from '~/ui/field';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { count, Strip } from '~/ui/swatch';
import { when } from '~/ui/when';
import css from './LibraryChoice.module.css';

/** More are not taken in at a glance: they are found by typing. */
const MAX_AT_A_GLANCE = 12;
const MAX_SHOWN = 200;

const nameOf = (library: LibraryName) => library.name || 'Library without a name';

/** Chooses one of the other libraries. */
export function LibraryChoice({
  without,
  value,
  onChange,
}: {
  without: string;
  value: string;
  onChange(id: string, name: string): void;
}) {
  const stores = useStores();
  const [list, setList] = useState<LibraryName[] | null>(null);
  const [failed, setFailed] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the list is asked for once, when the choice is shown
  useEffect(() => {
    void stores.listLibraries().then((all) => {
      if (!all) {
        setFailed(true);
        return;
      }
      const others = all.filter((l) => l.id !== without);
      setList(others);
      const chosen = others.find((l) => l.id === value) ?? others[0];
      if (chosen) onChange(chosen.id, chosen.name);
    });
  }, []);
  if (failed) return <p role="alert">The server does not answer. Close this and try again.</p>;
  if (!list) return <p className="second">Looking for libraries…</p>;
  if (list.length === 0) return <p className="second">You have no other library yet.</p>;
  if (list.length > MAX_AT_A_GLANCE) return <LongList list={list} value={value} onChange={onChange} />;
  return (
    <SelectField
      value={value}
      aria-label="Library"
      onChange={(e) => onChange(e.target.value, list.find((l) => l.id === e.target.value)?.name ?? '')}
    >
      {list.map((l) => (
        <option key={l.id} value={l.id}>
          {nameOf(l)} · {count(l.swatchCount, 'swatch', 'swatches')}
        </option>
      ))}
    </SelectField>
  );
}

/** Found by typing, each with its colours and when it was last changed. */
function LongList({
  list,
  value,
  onChange,
}: {
  list: LibraryName[];
  value: string;
  onChange(id: string, name: string): void;
}) {
  const [typed, setTyped] = useState('');
  const stop = useOneStop<HTMLDivElement>();
  const wanted = typed.trim().toLocaleLowerCase('en');
  const found = list.filter((l) => l.name.toLocaleLowerCase('en').includes(wanted));
  const choose = (l: LibraryName) => onChange(l.id, l.name);
  return (
    <section aria-label="Library">
      <Field
        className={css.find}
        placeholder="Find a library"
        aria-label="Find a library"
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          const now = e.target.value.trim().toLocaleLowerCase('en');
          const first = list.find((l) => l.name.toLocaleLowerCase('en').includes(now));
          if (now && first) choose(first);
        }}
      />
      <div {...stop} className={css.list}>
        {found.slice(0, MAX_SHOWN).map((l) => (
          <PlainButton
            key={l.id}
            className={css.row}
            aria-pressed={l.id === value}
            data-chosen={l.id === value}
            onClick={() => choose(l)}
          >
            <span className="cut" dir="auto">
              {nameOf(l)}
            </span>
            <span className="caption">
              {count(l.swatchCount, 'swatch', 'swatches')} · {when(new Date(l.changedAt), new Date())}
            </span>
            <Strip colors={l.colors} />
          </PlainButton>
        ))}
      </div>
      <p className="caption" role="status">
        {found.length === 0
          ? 'No library has that name.'
          : `${count(found.length, 'library', 'libraries')}${found.length > MAX_SHOWN ? `, ${MAX_SHOWN} shown; type on to narrow it down` : ''}`}
      </p>
    </section>
  );
}

import { useEffect, useState } from 'react';
import { useStores } from '~/state/stores';
import { SelectField } from '~/ui/field';
import { count } from '~/ui/swatch';

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
  const [list, setList] = useState<{ id: string; name: string; swatchCount: number }[] | null>(null);
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
      if (others.length > 0) onChange(others[0].id, others[0].name);
    });
  }, []);
  if (failed) return <p role="alert">The server does not answer. Close this and try again.</p>;
  if (!list) return <p className="second">Looking for libraries…</p>;
  if (list.length === 0) return <p className="second">You have no other library yet.</p>;
  return (
    <SelectField
      value={value}
      aria-label="Library"
      onChange={(e) => onChange(e.target.value, list.find((l) => l.id === e.target.value)?.name ?? '')}
    >
      {list.map((l) => (
        <option key={l.id} value={l.id}>
          {l.name || 'Library without a name'} · {count(l.swatchCount, 'swatch', 'swatches')}
        </option>
      ))}
    </SelectField>
  );
}

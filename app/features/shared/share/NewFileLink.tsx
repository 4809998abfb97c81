import Button from '@mui/material/Button';
import { useId, useState } from 'react';
import { type FileChoice, factsById, writableFacts } from '#core/formats/plan';
import { isLoose, type Library } from '#core/swatch/index';
import type { FileLink } from '#server/links';
import { FormatLine, FormatOptions } from '~/features/shared/formats/FormatOptions';
import { SelectField } from '~/ui/field';
import { Tick } from '~/ui/tick';
import css from './Share.module.css';

/** A link to a file, before it is made: its format, its swatches, and whether it stays as it is. */
export function NewFileLink({
  library,
  onMake,
  onCancel,
}: {
  library: Library;
  onMake(data: FileLink): Promise<void>;
  onCancel(): void;
}) {
  const id = useId();
  const [choice, setChoice] = useState<FileChoice>({ format: 'css' });
  const [group, setGroup] = useState('');
  const [cors, setCors] = useState(false);
  const [pinned, setPinned] = useState(false);
  const [busy, setBusy] = useState(false);
  const format = factsById(choice.format);
  const groups = library.groups.filter((g) => g.swatches.length > 0);
  const named = library.groups.find((g) => g.id === group);
  const make = async () => {
    setBusy(true);
    const { options } = choice;
    await onMake({
      is: 'file',
      name: [format.name, named && (isLoose(library, named) ? 'no group' : named.name)]
        .filter(Boolean)
        .join(', '),
      file: { format: choice.format, ...(options ? { options } : {}) },
      groups: group ? [group] : null,
      cors,
      // the server keeps the file as it is then
      pinned: pinned ? { hash: '', at: 0 } : null,
    });
    setBusy(false);
  };
  return (
    <fieldset className={css.making} aria-label="New file link">
      <label htmlFor={`${id}format`} className="second">
        Format
      </label>
      <SelectField
        id={`${id}format`}
        value={choice.format}
        onChange={(e) => setChoice({ format: e.target.value })}
      >
        {writableFacts.map((f) => (
          <option key={f.id} value={f.id}>
            {f.name}: {f.about}
          </option>
        ))}
      </SelectField>
      <label htmlFor={`${id}group`} className="second">
        Swatches
      </label>
      <SelectField id={`${id}group`} value={group} onChange={(e) => setGroup(e.target.value)}>
        <option value="">the whole library</option>
        {groups.map((g) => (
          <option key={g.id} value={g.id}>
            {isLoose(library, g) ? 'No group' : g.name || 'group without a name'}
          </option>
        ))}
      </SelectField>
      <div className={css.wide}>
        <FormatLine>
          <FormatOptions format={format} choice={choice} groups={1} onChange={setChoice} />
        </FormatLine>
        <Tick checked={pinned} onChange={setPinned} label="stays as it is now, whatever changes later" />
        <Tick checked={cors} onChange={setCors} label="scripts on other sites may read it" />
        <p className={css.make}>
          <Button onClick={onCancel}>Cancel</Button>
          <Button variant="contained" disabled={busy} onClick={() => void make()}>
            Make the file link
          </Button>
        </p>
      </div>
    </fieldset>
  );
}

import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { useEffect, useMemo, useRef, useState } from 'react';
import { codeEntries, codeLines, readCodes, toHex, typedColor } from '#core/color/index';
import { addGroups, addSwatches, KINDS, type Kind, type Swatch } from '#core/swatch/index';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Field, LinesField, SelectField } from '~/ui/field';
import { Notice } from '~/ui/notice';
import { count } from '~/ui/swatch';
import css from './AddSwatch.module.css';

const NOT_A_COLOUR =
  'is not a colour. Type one as #B3262B, rgb 179 38 43, cmyk 20 95 85 10, lab 40 57 33 or tomato.';

/** What was typed or pasted as swatches in their order, or why it is none. */
function useRead(text: string): { found: Pick<Swatch, 'name' | 'color' | 'alpha'>[]; problem: string } {
  const condition = useCondition();
  return useMemo(() => {
    if (text.trim() === '') return { found: [], problem: '' };
    const one = typedColor(text);
    if (one) return { found: [{ name: '', color: one }], problem: '' };
    const lines = codeLines(text).map((line) => ({ read: readCodes(line), own: {} }));
    const { taken, questions, unread } = codeEntries(
      lines,
      { answers: {}, suggest: true, once: false },
      condition,
    );
    const open = questions.reduce((n, q) => n + q.codes, 0);
    if (open > 0)
      return {
        found: [],
        problem: `${count(open, 'code')} can be read in several ways. Write the space before the numbers, as in “rgb 10 20 30”.`,
      };
    if (taken.length === 0) return { found: [], problem: `“${text.trim().slice(0, 40)}” ${NOT_A_COLOUR}` };
    return {
      found: taken.map(({ name, suggested, color, alpha }) => ({
        name: suggested ? '' : name,
        color,
        ...(alpha === undefined ? {} : { alpha }),
      })),
      problem: unread > 0 ? `${count(unread, 'line')} without a colour will be left out.` : '',
    };
  }, [text, condition]);
}

/** One row that adds a swatch, or as many as are pasted, to the group the outline points at. */
export function AddSwatch({ onClose }: { onClose(): void }) {
  const { store, groupId, select } = useLibrary();
  const condition = useCondition();
  const [text, setText] = useState('');
  const [name, setName] = useState('');
  const [code, setCode] = useState('');
  const [kind, setKind] = useState<Kind>('process');
  const [asked, setAsked] = useState(false);
  const [isUnready, setUnready] = useState(false);
  const first = useRef<HTMLTextAreaElement>(null);
  // whatever else takes the focus while the screen is still coming
  useEffect(() => {
    const frame = requestAnimationFrame(() => first.current?.focus());
    return () => cancelAnimationFrame(frame);
  }, []);
  const { found, problem } = useRead(text);
  const several = found.length > 1;

  const add = () => {
    setAsked(true);
    if (found.length === 0) return;
    const made = found.map(
      (one): Swatch => ({
        ...one,
        id: nanoid(12),
        name: several ? one.name : name || one.name,
        ...(code && !several ? { code } : {}),
        kind,
        origin: { from: 'typed' },
      }),
    );
    const group = store.snapshot().library.groups.find((g) => g.id === groupId);
    const added = store.edit(
      group
        ? addSwatches(store.rows, group.id, made)
        : addGroups(store.rows, [{ id: nanoid(12), name: '', swatches: made }]),
    );
    if (!added) {
      setUnready(true);
      return;
    }
    setUnready(false);
    select(made.map((s) => s.id));
    setText('');
    setName('');
    setCode('');
    setAsked(false);
    first.current?.focus();
  };
  return (
    <form
      className={css.add}
      aria-label="Add a swatch"
      onSubmit={(e) => {
        e.preventDefault();
        add();
      }}
      onKeyDown={(e) => e.key === 'Escape' && onClose()}
    >
      <span className={css.faces} aria-hidden>
        {found.slice(0, 8).map(({ color }, i) => (
          <i key={i} style={{ background: toHex(color, condition) }} />
        ))}
      </span>
      <LinesField
        ref={first}
        className={css.color}
        aria-label="Colour"
        placeholder="#B3262B, cmyk 20 95 85 10, or paste several"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAsked(false);
        }}
      />
      <Field
        className={css.name}
        dir="auto"
        aria-label="Name"
        placeholder={several ? 'names as pasted' : 'name'}
        disabled={several}
        value={name}
        onChange={(e) => setName(e.target.value.slice(0, 1000))}
      />
      <Field
        className={css.code}
        aria-label="Code"
        placeholder="code"
        disabled={several}
        value={code}
        onChange={(e) => setCode(e.target.value.slice(0, 200))}
      />
      <SelectField
        className={css.narrow}
        aria-label="Kind"
        value={kind}
        onChange={(e) => setKind(e.target.value as Kind)}
      >
        {KINDS.map((id) => (
          <option key={id}>{id}</option>
        ))}
      </SelectField>
      <Button type="submit" variant="contained" disabled={text.trim() === ''}>
        {several ? `Add ${found.length.toLocaleString('en-GB')}` : 'Add'}
      </Button>
      <Button variant="text" onClick={onClose}>
        Close
      </Button>
      {isUnready && <Notice>The library is still being read, so nothing was added. Press Add again.</Notice>}
      {problem && (asked || found.length > 0) && <Notice>{problem}</Notice>}
    </form>
  );
}

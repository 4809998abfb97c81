import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Field } from './field';
import css from './number-field.module.css';

/** A small field for a number that takes effect as soon as it is one; arrow keys step it. */
export function NumberField({
  label,
  value,
  min,
  max,
  step = 1,
  decimals = 0,
  unit,
  silent,
  onChange,
}: {
  label: string;
  unit?: string | undefined;
  /** The label stands elsewhere; here it is only said. */
  silent?: boolean;
  value: number;
  min: number;
  max: number;
  step?: number;
  decimals?: number;
  onChange(value: number): void;
}) {
  const shown = value.toFixed(decimals);
  const [typed, setTyped] = useState(shown);
  /** What was typed since the field was entered: it may come back late, when more has been typed. */
  const sent = useRef<number[]>([]);
  // what is being typed stands as long as it means the same: “5” on the way to “50” does not become “5.0”
  useEffect(
    () =>
      setTyped((was) =>
        (was.trim() !== '' && Number(was) === value) || sent.current.includes(value) ? was : shown,
      ),
    [shown, value],
  );
  const rounded = (n: number) => Number(n.toFixed(decimals));
  const settle = (n: number) => onChange(Math.min(max, Math.max(min, rounded(n))));
  const leave = () => {
    const n = Number(typed);
    sent.current = [];
    if (typed.trim() !== '' && Number.isFinite(n)) settle(n);
    setTyped(shown);
  };
  return (
    <label className={css.field}>
      <span className={silent ? 'unseen' : 'caption'}>{label}</span>
      <Field
        className="mono"
        inputMode="decimal"
        // as wide as what is in it
        style={shown.length > 4 ? { width: `${shown.length + 2.5}ch` } : undefined}
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          const n = Number(e.target.value);
          // what has more places than are shown waits until it is done
          if (e.target.value.trim() !== '' && n >= min && n <= max && n === rounded(n)) {
            sent.current.push(n);
            onChange(n);
          }
        }}
        onBlur={leave}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            leave();
            // the next number takes its place
            e.currentTarget.select();
          }
          const by = { ArrowUp: step, ArrowDown: -step }[e.key];
          if (!by) return;
          e.preventDefault();
          sent.current = [];
          settle(value + by * (e.shiftKey ? 10 : 1));
        }}
      />
      {unit}
    </label>
  );
}

/** Number fields in two columns. */
export function NumberFields({ children }: { children: ReactNode }) {
  return <div className={css.fields}>{children}</div>;
}

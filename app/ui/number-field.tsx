import { type ReactNode, useEffect, useState } from 'react';
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
  onChange,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  decimals?: number;
  onChange(value: number): void;
}) {
  const shown = value.toFixed(decimals);
  const [typed, setTyped] = useState(shown);
  useEffect(() => setTyped(shown), [shown]);
  const put = (n: number) => onChange(Math.min(max, Math.max(min, n)));
  return (
    <label className={css.field}>
      <span className="caption">{label}</span>
      <Field
        className="mono"
        inputMode="decimal"
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          const n = Number(e.target.value);
          if (e.target.value.trim() !== '' && n >= min && n <= max) onChange(n);
        }}
        onBlur={() => {
          const n = Number(typed);
          if (typed.trim() !== '' && Number.isFinite(n)) put(n);
          setTyped(shown);
        }}
        onKeyDown={(e) => {
          const by = { ArrowUp: step, ArrowDown: -step }[e.key];
          if (!by) return;
          e.preventDefault();
          put(value + by * (e.shiftKey ? 10 : 1));
        }}
      />
    </label>
  );
}

/** Number fields in two columns. */
export function NumberFields({ children }: { children: ReactNode }) {
  return <div className={css.fields}>{children}</div>;
}

import type { ComponentProps } from 'react';
import css from './field.module.css';

/** A line to type in. */
export function Field({ className = '', ...rest }: ComponentProps<'input'>) {
  return <input {...rest} className={`${css.field} ${className}`} />;
}

/** A line to type in that grows with what is pasted; Enter sends its form. */
export function LinesField({
  className = '',
  value,
  ...rest
}: ComponentProps<'textarea'> & { value: string }) {
  return (
    <textarea
      rows={Math.min(MAX_LINES, value.split('\n').length)}
      {...rest}
      value={value}
      className={`${css.field} ${css.lines} ${className}`}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' || e.shiftKey) return;
        e.preventDefault();
        e.currentTarget.form?.requestSubmit();
      }}
    />
  );
}
const MAX_LINES = 5;

/** One of several, from a list that folds out. */
export function SelectField({ className = '', ...rest }: ComponentProps<'select'>) {
  return <select {...rest} className={`${css.field} ${className}`} />;
}

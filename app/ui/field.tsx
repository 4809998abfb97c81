import type { ComponentProps } from 'react';
import css from './field.module.css';

/** A line to type in. */
export function Field({ className = '', ...rest }: ComponentProps<'input'>) {
  return <input {...rest} className={`${css.field} ${className}`} />;
}

/** One of several, from a list that folds out. */
export function SelectField({ className = '', ...rest }: ComponentProps<'select'>) {
  return <select {...rest} className={`${css.field} ${className}`} />;
}

import type { ComponentProps, ReactNode } from 'react';
import css from './setting.module.css';

/** A name, its value, and below them what sets it. */
export function Setting({
  label,
  value,
  children,
}: {
  label: ReactNode;
  value?: ReactNode;
  children: ReactNode;
}) {
  return (
    <div className={css.setting}>
      <div className={css.head}>
        <span>{label}</span>
        {value !== undefined && <span className="mono">{value}</span>}
      </div>
      {children}
    </div>
  );
}

/** Choices side by side, of which one is pressed. */
export function Choices({ className = '', ...rest }: ComponentProps<'fieldset'>) {
  return <fieldset className={`${css.choices} ${className}`} {...rest} />;
}

import type { ReactNode } from 'react';
import css from './empty.module.css';

/** A stage with nothing on it yet: what it is for, and what to do next. */
export function Empty({
  title,
  text,
  level: Heading = 'h1',
  children,
}: {
  title: string;
  text: ReactNode;
  /** The level of its heading on a page that has one of its own. */
  level?: 'h1' | 'h2';
  children?: ReactNode;
}) {
  return (
    <div className={css.empty}>
      <Heading className="title">{title}</Heading>
      <p className={`second ${css.text}`}>{text}</p>
      <div className={css.ways}>{children}</div>
    </div>
  );
}

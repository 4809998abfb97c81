import { TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import css from './notice.module.css';

/** A warning or a refusal: an icon and words. */
export function Notice({ children }: { children: ReactNode }) {
  return (
    <div role="alert" className={css.notice}>
      <TriangleAlert size={15} aria-hidden />
      <span>{children}</span>
    </div>
  );
}

import type { ReactNode } from 'react';
import { PlainButton } from '~/ui/plain-button';
import { Tick } from '~/ui/tick';
import css from './TickRow.module.css';

/** A line that can be ticked, and looked at by itself. */
export function TickRow({
  label,
  ticked,
  onTick,
  chosen,
  onChoose,
  title,
  children,
}: {
  label: string;
  ticked: boolean;
  onTick(on: boolean): void;
  chosen: boolean;
  onChoose(): void;
  title?: string;
  children: ReactNode;
}) {
  return (
    <div className={css.row} data-chosen={chosen}>
      <Tick silent label={label} checked={ticked} onChange={onTick} />
      <PlainButton className={css.words} aria-current={chosen} title={title} onClick={onChoose}>
        {children}
      </PlainButton>
    </div>
  );
}

import css from './tick.module.css';

/** A box to tick with its words behind it. */
export function Tick({
  checked,
  onChange,
  label,
  silent,
  className = '',
}: {
  checked: boolean;
  /** @param isRange it was pressed with Shift */
  onChange(on: boolean, isRange: boolean): void;
  label: string;
  /** The words stand elsewhere; here they are only said. */
  silent?: boolean;
  className?: string;
}) {
  return (
    <label className={`${css.option} ${className}`}>
      <input
        type="checkbox"
        className={css.tick}
        checked={checked}
        onChange={(e) => onChange(e.target.checked, (e.nativeEvent as Partial<MouseEvent>).shiftKey === true)}
      />
      <span className={silent ? 'unseen' : undefined}>{label}</span>
    </label>
  );
}

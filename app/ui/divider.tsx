import css from './divider.module.css';

/** A line over two things that lie upon each other, with the one to its left and the other to its right; dragged, or moved with the arrow keys. */
export function Divider({
  value,
  onChange,
  label,
}: {
  /** How far across it stands, %. */
  value: number;
  onChange(value: number): void;
  label: string;
}) {
  return (
    <>
      <span className={css.divider} style={{ left: `calc(12px + (100% - 24px) * ${value / 100})` }} />
      <input
        type="range"
        min={0}
        max={100}
        value={value}
        onChange={(e) => onChange(Number(e.target.value))}
        aria-label={label}
        className={css.range}
      />
    </>
  );
}

/** The clip path of what lies to the right of the divider. */
export const rightOf = (value: number) => `inset(0 0 0 calc(12px + (100% - 24px) * ${value / 100}))`;

import css from './wing-pair.module.css';

/** A swatch as it is here and as it will be there, with a hairline between; null where there is none. */
export function WingPair({ left, right }: { left: string; right: string | null }) {
  return (
    <span className={css.pair}>
      <i style={{ background: left }} />
      <i
        className={right === null ? css.absent : undefined}
        style={right === null ? undefined : { background: right }}
      />
    </span>
  );
}

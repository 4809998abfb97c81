import { useMemo } from 'react';
import { knownWays, type Row, wayName } from '#core/artwork/index';
import type { Library } from '#core/swatch/index';
import { useCondition } from '~/ui/condition';
import { Toolbar } from '~/ui/Frame';
import { count, swatchLabel } from '~/ui/swatch';
import { WingPair } from '~/ui/wing-pair';
import css from './ArtworkReport.module.css';

/** What becomes of the artwork that goes along: every colour of every colourway, as it was drawn and as it goes out. */
export function ArtworkReport({ library }: { library: Library }) {
  const condition = useCondition();
  const ways = useMemo(() => knownWays(library, condition), [library, condition]);
  const became = (row: Row) => {
    if (row.followsName)
      return `as ${row.followsName}${row.lighter ? `, ${row.lighter > 0 ? '+' : '−'}${Math.abs(row.lighter)} L*` : ''}`;
    if (row.swatch) return [row.swatch.code, swatchLabel(row.swatch, condition)].filter(Boolean).join(' ');
    return row.state === 'gone' ? `${row.was || 'its swatch'}, deleted` : row.to.toUpperCase();
  };
  return (
    <section className={css.report} aria-label="What becomes of the artwork">
      <Toolbar>
        <strong>Artwork</strong>
        <span className="caption">
          an SVG for each colourway, and a PDF with a page for each and a sheet of all · inks for{' '}
          {condition.name}
        </span>
      </Toolbar>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: the arrow keys scroll it */}
      <div className={css.ways} tabIndex={0}>
        {ways.map((way) => {
          const changed = way.rows.filter((r) => r.state !== 'drawn');
          return (
            <section key={`${way.artwork.id} ${way.colorway?.id}`} aria-label={wayName(way)}>
              <h2 className={css.title} dir="auto">
                {wayName(way)}
                <span className="caption">
                  {changed.length === 0
                    ? 'as it was drawn'
                    : `${count(changed.length, 'colour')} changed, ${way.rows.length - changed.length} as drawn`}
                </span>
              </h2>
              <ul className={css.rows}>
                {changed.map((row) => (
                  <li key={row.key}>
                    <span className={css.pair}>
                      <WingPair left={row.from.hex} right={row.to} />
                    </span>
                    <span className={css.words}>
                      <span className="cut" dir="auto">
                        {became(row)}
                      </span>
                      <span className="caption cut" dir="auto">
                        {[row.names[0], row.line ? `line of ${row.line} mm` : '']
                          .filter(Boolean)
                          .join(' · ') || row.from.hex.toUpperCase()}
                      </span>
                    </span>
                    <span className="mono">
                      {row.swatch?.kind === 'technical' ? 'exact' : row.deltaE00.toFixed(1)}
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          );
        })}
      </div>
    </section>
  );
}

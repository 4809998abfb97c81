import { contrastCheck } from '#core/check/contrast';
import { sides } from '#core/check/index';
import { contrast, toHex } from '#core/color/index';
import { type Options, optionOf } from '#core/options';
import { allSwatches, type Library, type Swatch } from '#core/swatch/index';
import { useCondition } from '~/ui/condition';
import { swatchLabel } from '~/ui/swatch';
import css from './ContrastGrid.module.css';

/** More do not fit on a screen, and nobody reads them. */
const MAX_SHOWN = 24;

/** The library against itself: every pair with its contrast, those that pass in full, the others faint. */
export function ContrastGrid({ library, options }: { library: Library; options: Options }) {
  const condition = useCondition();
  const least = Number(optionOf(contrastCheck, options, 'step'));
  const all = allSwatches(library).filter((s) => s.kind !== 'technical');
  const chosen = sides(
    all,
    String(optionOf(contrastCheck, options, 'text')),
    String(optionOf(contrastCheck, options, 'ground')),
  );
  const texts = (chosen.text.length > 0 ? chosen.text : all).slice(0, MAX_SHOWN);
  const grounds = (chosen.ground.length > 0 ? chosen.ground : all).slice(0, MAX_SHOWN);
  if (all.length === 0) return null;
  const label = (s: Swatch) => swatchLabel(s, condition);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: the arrow keys scroll it
    <section className={css.around} tabIndex={0} aria-label="Contrast of every pair">
      <table className={css.grid}>
        <thead>
          <tr>
            <td className="caption">text ↓ on →</td>
            {grounds.map((g) => (
              <th key={g.id} scope="col" title={label(g)}>
                <span className={css.column} dir="auto">
                  {label(g)}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {texts.map((t) => (
            <tr key={t.id}>
              <th scope="row" className={css.name} title={label(t)} dir="auto">
                {label(t)}
              </th>
              {grounds.map((g) => {
                if (g === t) return <td key={g.id} />;
                const ratio = contrast(t.color, g.color, condition);
                const passes = ratio >= least;
                return (
                  <td key={g.id}>
                    <span
                      className={css.cell}
                      data-passes={passes}
                      title={`${label(t)} on ${label(g)}: ${ratio.toFixed(2)} : 1`}
                      style={
                        passes
                          ? { background: toHex(g.color, condition), color: toHex(t.color, condition) }
                          : undefined
                      }
                    >
                      {ratio.toFixed(1)}
                    </span>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {all.length > MAX_SHOWN && (
        <p className="caption">
          The first {MAX_SHOWN} of {all.length.toLocaleString('en-GB')}; choose roles above to see others.
        </p>
      )}
      <p className="caption">
        {[3, 4.5, 7]
          .map(
            (step) =>
              `${texts.reduce((n, t) => n + grounds.filter((g) => g !== t && contrast(t.color, g.color, condition) >= step).length, 0)} pass ${step}`,
          )
          .join(' · ')}
        , of those shown, either way round. Cells are the text on its ground where it passes.
      </p>
    </section>
  );
}

import { sides } from '#core/check/index';
import { contrast, differenceInWords, differenceOf, toLab } from '#core/color/index';
import type { Library, Swatch } from '#core/swatch/index';
import css from '~/features/shared/Gamuts.module.css';
import { useCondition } from '~/ui/condition';
import { swatchLabel } from '~/ui/swatch';

const signed = (v: number) => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v).toFixed(1)}`;

/** WCAG contrast of a swatch on what the library has for paper and ink. */
export function OnPaper({ swatch, library }: { swatch: Swatch; library: Library }) {
  const condition = useCondition();
  const { text, ground } = sides(
    library.groups.flatMap((g) => g.swatches.filter((s) => s.role)),
    '',
    '',
  );
  const beside = [
    ...ground.slice(0, 2).map((s) => ['On', s] as const),
    ...text.slice(0, 2).map((s) => ['Under', s] as const),
  ].filter(([, s]) => s.id !== swatch.id);
  if (beside.length === 0) return null;
  return (
    <section className={css.gamuts} aria-label="Contrast">
      {beside.map(([how, s]) => (
        <p key={`${how} ${s.id}`} className={css.line}>
          <span className="second cut" dir="auto">
            {how} {swatchLabel(s, condition)}
          </span>
          <span className="mono">{contrast(swatch.color, s.color, condition).toFixed(1)} : 1</span>
        </p>
      ))}
    </section>
  );
}

/** Two swatches and what is between them, in figures and in words. */
export function Between({ a, b }: { a: Swatch; b: Swatch }) {
  const condition = useCondition();
  const [x, y] = [toLab(a.color, condition), toLab(b.color, condition)];
  const { deltaE00, L, chroma, hue } = differenceOf(x, y);
  const words = differenceInWords(x, y);
  return (
    <section className={css.gamuts} aria-label="Difference">
      {[
        ['ΔE00', deltaE00.toFixed(1)],
        ['L*', signed(L)],
        ['C*', signed(chroma)],
        ['h', `${signed(hue)}°`],
        ['Contrast', `${contrast(a.color, b.color, condition).toFixed(1)} : 1`],
      ].map(([name, text]) => (
        <p key={name} className={css.line}>
          <span className="second">{name}</span>
          <span className="mono">{text}</span>
        </p>
      ))}
      <p>
        {swatchLabel(b, condition)} is {words}.
      </p>
    </section>
  );
}

import { deltaE00, type Lab } from '#core/color/index';
import { labUnder } from '#core/reading/figures';
import { type Illuminant, reflectanceToXyz, whiteOf } from '#core/spectral/index';
import type { Spectrum } from '#core/swatch/index';
import css from '~/features/shared/Gamuts.module.css';

/** Daylight as it is printed for, a lamp, and a shop's tubes: what prints are looked at in. */
const LIGHTS: readonly (readonly [Illuminant, string])[] = [
  ['D50', 'daylight, D50'],
  ['A', 'a lamp, A'],
  ['F11', 'shop tubes, F11'],
];

const labIn = (spectrum: Spectrum, light: Illuminant): Lab =>
  labUnder(reflectanceToXyz(spectrum, light), whiteOf(light, '2'));

/** A measured swatch in other lights; or how far two are apart in each, as pairs that match in one need not match in another. */
export function InLights({ spectrum, other }: { spectrum: Spectrum; other?: Spectrum }) {
  return (
    <section className={css.gamuts} aria-label="In other lights">
      {LIGHTS.map(([light, name]) => (
        <p key={light} className={css.line}>
          <span className="second">
            {other ? 'ΔE00' : 'Lab'} in {name}
          </span>
          <span className="mono">
            {other
              ? deltaE00(labIn(spectrum, light), labIn(other, light)).toFixed(1)
              : labIn(spectrum, light)
                  .map((v) => v.toFixed(1))
                  .join(' ')}
          </span>
        </p>
      ))}
    </section>
  );
}

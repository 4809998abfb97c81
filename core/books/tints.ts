import { type Color, type Condition, type Lab, labToXyz50, toLab, xyz50ToLab } from '../color/index.ts';
import { spectrumToLab, tintOf } from '../spectral/index.ts';
import type { BookFacts, Swatch } from '../swatch/index.ts';

/** Where nothing is known of the sheet: light spreads about as far as it can, and dots do not grow (common practice, no source). */
const PLAIN = { spread: 2, gain: 0 };
const WHITE: Color = { space: 'cmyk', components: [0, 0, 0, 0] };

/**
 * What a tint of an ink measures, Lab D50. From reflectance where ink and sheet have it; else from their Lab, on the sheet of the
 * print condition.
 *
 * @param percent of the plate, 0–100
 */
export function tintLab(
  { spectrum, color }: Pick<Swatch, 'spectrum' | 'color'>,
  { paper }: BookFacts,
  percent: number,
  condition: Condition,
): Lab {
  const sheet = paper?.spectrum;
  if (
    spectrum &&
    sheet &&
    spectrum.start === sheet.start &&
    spectrum.step === sheet.step &&
    spectrum.values.length === sheet.values.length
  )
    return spectrumToLab({
      ...spectrum,
      values: tintOf(sheet.values, spectrum.values, percent / 100, paper),
    });
  const solid = labToXyz50(toLab(color, condition)).map((v) => Math.max(0, v));
  const bare = labToXyz50(sheet ? spectrumToLab(sheet) : toLab(WHITE, condition));
  return xyz50ToLab(tintOf(bare, solid, percent / 100, paper ?? PLAIN));
}

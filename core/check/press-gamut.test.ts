import { describe, expect, it } from 'vitest';
import { deltaE00, type Lab, parseColor, pressGamut, toLab } from '../color/index.ts';
import { coated, libraryOf, uncoated } from '../testing.ts';
import { called, fixed, run } from './testing.ts';

describe('press gamut', () => {
  const library = libraryOf('x', {
    '': [
      ['Lamp', '#00ff00'],
      ['Kelp', '#2f7d6b'],
      ['Boot-top', 'C 0 M 100 Y 0 K 0'],
      ['Signal', '#ff0000'],
    ],
  });

  it('finds what the press cannot reach, worst first, and takes the nearest inside', async () => {
    const found = await run('press-gamut', library);
    expect(called(found)).toEqual(['Lamp', 'Signal']);
    const after = fixed(library, found);
    expect(after.groups[0].swatches[0].color.space).toBe('cmyk');
    expect(called(await run('press-gamut', after))).toEqual(['Signal']);
  });

  it('the nearest is not further away than the best of 5,324 mixes', () => {
    const steps = [0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1];
    for (const text of ['#ff0000', '#00ff00', '#0000ff', '#7a3b8f', '#ff8800']) {
      const wanted = toLab(parseColor(text), coated);
      const mixes = [0, 0.2, 0.5, 1].flatMap((k) =>
        steps.flatMap((c) => steps.flatMap((m) => steps.map((y) => [c, m, y, k]))),
      );
      const labs = coated.print(Float32Array.from(mixes.flat()));
      const best = Math.min(
        ...mixes.map((_, i) => deltaE00(wanted, [labs[3 * i], labs[3 * i + 1], labs[3 * i + 2]] as Lab)),
      );
      expect(pressGamut(parseColor(text), coated).deltaE00).toBeLessThan(best + 0.4);
    }
  });

  it('measured inks of the press are inside, those of another paper may not be', async () => {
    const inks = libraryOf('y', { '': [['Magenta', 'C 0 M 100 Y 0 K 0']] });
    const { profile } = uncoated.setting;
    const found = await run(
      'press-gamut',
      inks,
      { beside: profile },
      { beside: new Map([[profile, uncoated]]) },
    );
    expect(called(found)).toEqual(['Magenta']);
    expect(called(await run('press-gamut', inks))).toEqual([]);
  });
});

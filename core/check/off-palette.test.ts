import { describe, expect, it } from 'vitest';
import { deltaE00, parseColor, toLab } from '../color/index.ts';
import { coated } from '../testing.ts';
import { base, cutting, fixed, navy, run, white, withWay, work } from './testing.ts';

describe('off the palette', () => {
  it('off the palette: colours that are not swatches, each with the nearest, fixed by a link', async () => {
    const library = withWay({ '#aaaaaa': { swatch: white }, '#ff0000': { swatch: cutting } });
    const found = await run('off-palette', library);
    expect(found.findings.map((f) => [f.name, f.swatches])).toEqual([['hull', [navy.id]]]);
    expect(found.findings[0]!.measure).toBeCloseTo(
      deltaE00(toLab(parseColor('#15304b'), coated), toLab(navy.color, coated)),
      6,
    );
    expect((await run('off-palette', fixed(library, found))).total).toBe(0);
    expect((await run('off-palette', { ...base, items: [work] })).total).toBe(3);
    expect((await run('off-palette', { ...base, items: [work] }, { within: 5 })).total).toBeLessThan(3);
  });

  it('says so where there is none', async () => {
    for (const id of ['off-palette', 'machine-lines'])
      expect((await run(id, base)).title).toBe('This library has no artwork');
  });
});

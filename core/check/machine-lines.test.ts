import { describe, expect, it } from 'vitest';
import type { Swatch } from '../swatch/index.ts';
import { base, cutting, fixed, run, white, withWay } from './testing.ts';

describe('machine lines', () => {
  it('lines for machines: none is filled, none is misspelt, none is missing', async () => {
    const library = withWay({ '#aaaaaa': { swatch: white }, '#ff0000': { swatch: cutting } });
    const found = await run('machine-lines', library);
    // white is laid over areas, a cut is not
    expect(found.findings.map((f) => [f.name, f.figure])).toEqual([['Cutting', 'filled']]);
    expect((await run('machine-lines', fixed(library, found))).total).toBe(0);

    const slipped = structuredClone(base);
    slipped.groups[0]!.swatches[1]!.name = 'Cuting';
    const [, wrong] = slipped.groups[0]!.swatches as [Swatch, Swatch];
    const misspelt = withWay({ '#ff0000': { swatch: wrong, line: 0.25 } }, slipped);
    const slips = await run('machine-lines', misspelt);
    expect(slips.findings.map((f) => f.says)).toEqual([
      expect.stringMatching(/written “Cutting” where it is looked for/),
    ]);
    expect((await run('machine-lines', fixed(misspelt, slips))).total).toBe(0);

    const expects = 'Cutting, KissCut, White';
    const missing = await run('machine-lines', withWay({ '#ff0000': { swatch: cutting, line: 0.25 } }), {
      expects,
    });
    expect(missing.findings.map((f) => [f.name, f.figure])).toEqual([
      ['KissCut', 'missing'],
      ['White', 'missing'],
    ]);
    const own = await run('machine-lines', withWay({ '#ff0000': { swatch: cutting, line: 0.25 } }), {
      expects: 'KissCut',
    });
    expect(own.findings.map((f) => [f.name, f.figure])).toEqual([
      ['KissCut', 'missing'],
      ['Cutting', 'unknown'],
    ]);
  });
});

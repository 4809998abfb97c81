import { describe, expect, it } from 'vitest';
import { parseColor, seenBy, visionMatrix } from '../color/index.ts';
import { labOfSpectrum } from '../reading/figures.ts';
import { coated, libraryOf } from '../testing.ts';
import { called, fixed, run } from './testing.ts';

describe('colour vision', () => {
  it('is by the published matrices', () => {
    // Machado, Oliveira and Fernandes (2009): the authors’ page, severities 1.0 and 0.5; from memory
    expect(visionMatrix('protan', 1).slice(0, 3)).toEqual([0.152286, 1.052583, -0.204868]);
    expect(visionMatrix('deutan', 1).slice(3, 6)).toEqual([0.280085, 0.672501, 0.047413]);
    expect(visionMatrix('tritan', 1).slice(6)).toEqual([0.004733, 0.691367, 0.3039]);
    expect(visionMatrix('deutan', 0.5).slice(0, 3)).toEqual([0.547494, 0.607765, -0.155259]);
    expect(visionMatrix('protan', 0)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    // each row gives white back: greys stay grey
    for (const eye of ['protan', 'deutan', 'tritan'] as const)
      for (const severity of [0.1, 0.35, 1]) {
        const m = visionMatrix(eye, severity);
        for (const row of [0, 3, 6]) expect(m[row]! + m[row + 1]! + m[row + 2]!).toBeCloseTo(1, 5);
        const grey = seenBy(parseColor('#808080'), m, coated);
        expect(Math.hypot(grey.lab[1], grey.lab[2])).toBeLessThan(0.1);
      }
  });

  it('finds red and green that collapse, by the eye, and tells them apart again', async () => {
    const library = libraryOf('x', {
      '': [
        ['Port', '#b5492e'],
        ['Moss', '#6d6b2b'],
        ['Sky', '#5aa0d8'],
      ],
    });
    const found = await run('vision', library, { within: 8 });
    expect(called(found)).toContain('Port · Moss');
    const at = called(found).indexOf('Port · Moss');
    const after = fixed(library, found, at);
    expect(called(await run('vision', after, { within: 8 }))).not.toContain('Port · Moss');
    expect((await run('vision', library, { within: 8, severity: 10 })).total).toBe(0);
  });

  it('looks at measured swatches in another light, and offers no fixes there', async () => {
    const library = libraryOf('x', {
      '': [
        ['One', '#b5492e'],
        ['Other', '#6d6b2b'],
      ],
    });
    const [one, other] = library.groups[0]!.swatches;
    const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);
    // a red that a lamp makes redder, and a green
    const curve = (of: (nm: number) => number) => ({ start: 380, step: 10, values: nms.map(of) });
    one!.spectrum = curve((nm) => 0.06 + 0.5 / (1 + Math.exp(-(nm - 590) / 14)));
    other!.spectrum = curve((nm) => 0.05 + 0.25 * Math.exp(-(((nm - 560) / 60) ** 2)));
    const [day, lamp] = [
      await run('vision', library, { within: 10 }),
      await run('vision', library, { within: 10, light: 'A' }),
    ];
    expect(lamp.detail).toMatch(/Measured swatches as they are under A/);
    expect([day.total, lamp.total]).toEqual([2, 2]);
    // what the spectrum gives under A, seen by the same eyes
    const matrix = visionMatrix('protan', 1);
    const color = { space: 'lab' as const, components: labOfSpectrum(one!.spectrum!, 'A') };
    const seen = seenBy(color, matrix, coated).lab;
    const protan = lamp.findings.find((f) => f.says.includes('protan'))!;
    expect(protan.left.lab).toEqual(seen);
    expect(protan.left.lab).not.toEqual(day.findings.find((f) => f.says.includes('protan'))!.left.lab);
    expect([day, lamp].map((f) => f.findings.every((x) => x.fixes.length === 0))).toEqual([false, true]);
  });
});

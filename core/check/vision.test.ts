import { describe, expect, it } from 'vitest';
import { parseColor, seenBy, visionMatrix } from '../color/index.ts';
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
});

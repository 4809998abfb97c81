import { describe, expect, it } from 'vitest';
import { deltaE00, toLab } from '../color/index.ts';
import type { Library } from '../swatch/index.ts';
import { coated, libraryOf } from '../testing.ts';
import { called, fixed, run } from './testing.ts';

describe('look-alikes', () => {
  const library = libraryOf('x', {
    Hull: [
      ['Navy', 'Lab 20 2 -20'],
      ['Night', 'Lab 20.5 2 -20'],
    ],
    Deck: [
      ['Dusk', 'Lab 20.2 2 -20.3'],
      ['Sand', 'Lab 80 5 20'],
    ],
  });

  it('pairs across groups or inside them, and keeps left, right or the mean', async () => {
    expect((await run('look-alikes', library)).total).toBe(3);
    const inside = await run('look-alikes', library, { groups: true });
    expect(called(inside)).toEqual(['Navy · Night']);
    const names = (l: Library) => l.groups.flatMap((g) => g.swatches.map((s) => s.name));
    expect(names(fixed(library, inside, 0, 0))).toEqual(['Navy', 'Dusk', 'Sand']);
    expect(names(fixed(library, inside, 0, 1))).toEqual(['Night', 'Dusk', 'Sand']);
    const mean = fixed(library, inside, 0, 2).groups[0].swatches;
    expect(mean.map((s) => s.color.components)).toEqual([[20.25, 2, -20]]);
  });

  it('finds every pair that comparing all with all finds', async () => {
    let seed = 7;
    const next = () => {
      seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
      return seed / 2 ** 32;
    };
    const many = libraryOf('many', {
      '': Array.from({ length: 700 }, (_, i): [string, string] => [
        `n${i}`,
        `Lab ${(next() * 100).toFixed(2)} ${(next() * 200 - 100).toFixed(2)} ${(next() * 200 - 100).toFixed(2)}`,
      ]),
    });
    const labs = many.groups[0].swatches.map((s) => toLab(s.color, coated));
    for (const within of [1, 3, 5]) {
      let pairs = 0;
      labs.forEach((a, i) => {
        for (const b of labs.slice(i + 1)) if (deltaE00(a, b) <= within) pairs++;
      });
      expect((await run('look-alikes', many, { within })).total).toBe(pairs);
    }
  });
});

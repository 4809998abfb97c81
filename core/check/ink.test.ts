import { describe, expect, it } from 'vitest';
import { deltaE00, toLab, withLessInk } from '../color/index.ts';
import { coated, libraryOf } from '../testing.ts';
import { called, fixed, run } from './testing.ts';

describe('total ink', () => {
  const library = libraryOf('x', {
    '': [
      ['Deep', 'C 90 M 80 Y 80 K 70'],
      ['Kelp', 'C 70 M 0 Y 50 K 40'],
    ],
  });
  const limited = { condition: { ...coated.setting, inkLimit: 300 } };

  it('over the limit is found, and more black gives the same colour with less', async () => {
    const found = await run('ink', library);
    expect(found.total).toBe(0);
    const less = withLessInk(library.groups[0].swatches[0].color, coated, 3)!;
    expect(less.inks.reduce((a, b) => a + b)).toBeLessThanOrEqual(3 + 1e-9);
    expect(deltaE00(toLab(library.groups[0].swatches[0].color, coated), less.lab)).toBeLessThan(1);
    const strict = Object.create(coated, { setting: { value: limited.condition } });
    const over = await run('ink', library, {}, { condition: strict });
    expect(called(over)).toEqual(['Deep']);
    const after = fixed(library, over);
    const total = after.groups[0].swatches[0].color.components.reduce((a, b) => a + b);
    expect(total).toBeLessThanOrEqual(3);
    expect((await run('ink', after, {}, { condition: strict })).total).toBe(0);
  });
});

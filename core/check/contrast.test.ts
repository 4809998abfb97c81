import { describe, expect, it } from 'vitest';
import { contrast } from '../color/index.ts';
import { coated, libraryOf } from '../testing.ts';
import { called, fixed, run, withRoles } from './testing.ts';

describe('contrast', () => {
  const library = withRoles(
    libraryOf('x', {
      '': [
        ['Grey', '#999999'],
        ['Ink', '#161616'],
        ['Paper', '#ffffff'],
      ],
    }),
    { Grey: 'caption text', Ink: 'text', Paper: 'ground' },
  );

  it('asks for roles, and finds the least change of lightness that passes', async () => {
    const found = await run('contrast', library);
    expect(called(found)).toEqual(['Grey on Paper']);
    // what is counted is reported
    expect([found.count, found.counts]).toEqual([1, 'text on ground under 4.5']);
    const after = fixed(library, found);
    const [grey, , paper] = after.groups[0].swatches;
    const ratio = contrast(grey.color, paper.color, coated);
    expect(ratio).toBeGreaterThanOrEqual(4.5);
    // one step of 8 bits lighter would not pass
    expect(ratio).toBeLessThan(4.6);
    expect((await run('contrast', after)).total).toBe(0);
  });

  it('counts the pairs that pass where no role says what is to be read', async () => {
    const bare = libraryOf('y', {
      '': [
        ['a', '#000'],
        ['b', '#fff'],
        ['c', '#777'],
        ['d', '#eee'],
      ],
    });
    for (const step of ['3', '4.5', '7']) {
      const colors = bare.groups[0].swatches.map((s) => s.color);
      const pairs = colors.flatMap((a, i) => colors.slice(i + 1).map((b) => contrast(a, b, coated)));
      const passing = pairs.filter((r) => r >= Number(step)).length;
      expect((await run('contrast', bare, { step })).count).toBe(passing);
    }
  });
});

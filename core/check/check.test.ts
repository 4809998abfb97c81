import { describe, expect, it } from 'vitest';
import { coated, libraryOf } from '../testing.ts';
import { checks, runCheck } from './index.ts';

describe.each(checks.map((c) => [c.id, c] as const))('%s', (_, check) => {
  it.each([
    ['of nothing', libraryOf('empty', {})],
    ['of one swatch', libraryOf('one', { a: [['Sea', '#2f7d6b']] })],
    [
      'of odd names and colours',
      libraryOf('odd', {
        '': [
          ['', 'C 100 M 100 Y 100 K 100'],
          ['قارب', 'color(display-p3 0 1 0)'],
          ['x'.repeat(200), 'oklch(0.99 0.3 120)'],
          ['', 'gray 0'],
        ],
      }),
    ],
  ])('has something to say %s', async (_, library) => {
    const found = await runCheck(check, library, {}, { condition: coated });
    expect(found.title).not.toBe('');
    expect(found.total).toBe(found.findings.length);
    for (const f of found.findings) expect(f.left.hex).toMatch(/^#[0-9a-f]{6}$/);
    expect(check.about({}, coated)).not.toBe('');
  });
});

import { describe, expect, it } from 'vitest';
import { drawChips, pngSheet } from '../core/formats/png/png.ts';
import { coated, libraryOf } from '../core/testing.ts';
import { loadFont, typesetting } from './typesetting.ts';

/** The sheet of a library with names, and where ink stands in the strips under its chips. */
async function inked(names: string[], chip = 60) {
  const library = libraryOf('x', { '': names.map((n) => [n, '#c0c0c0'] as [string, string]) });
  const sheet = pngSheet(library, { columns: names.length, chip, names: true });
  const before = drawChips(sheet, coated);
  const data = await typesetting.drawLabels(sheet, before.slice(), coated);
  const columns = new Map<number, number>();
  for (let y = 0; y < sheet.height; y++)
    for (let x = 0; x < sheet.width; x++) {
      const at = 4 * (y * sheet.width + x);
      if (data[at] === before[at]) continue;
      expect(y).toBeGreaterThanOrEqual(chip);
      columns.set(Math.floor(x / chip), (columns.get(Math.floor(x / chip)) ?? 0) + 1);
    }
  return { sheet, data, ink: names.map((_, i) => columns.get(i) ?? 0) };
}

describe('names on a sheet', () => {
  it('stand under their own chip only, however long, and never touch a colour', async () => {
    const { ink } = await inked(['A', 'x'.repeat(200), 'B']);
    expect(ink.every((n) => n > 20)).toBe(true);
    // the longest is cut, so it has more ink than a letter but none beyond its chip
    expect(ink[1]).toBeGreaterThan(ink[0]);
    const alone = await inked(['A', 'B', 'B']);
    expect(alone.ink[2]).toBe(ink[2]);
  });

  it('do not break a sheet: markup, control characters, other scripts, nothing at all', async () => {
    const { ink } = await inked(['<b>&"', 'a\u0000\nb', 'قارب', '']);
    // without a name its code stands there
    for (const n of ink) expect(n).toBeGreaterThan(5);
  });

  it('keep every pixel opaque', async () => {
    const { data, sheet } = await inked(['Hull', 'Deck']);
    for (let i = 3; i < 4 * sheet.width * sheet.height; i += 4) expect(data[i]).toBe(255);
  });

  it('come from the fonts that ship with the app', async () => {
    for (const font of ['regular', 'semibold', 'mono'] as const) {
      const bytes = await loadFont(font);
      expect(String.fromCharCode(...bytes.subarray(0, 4))).toBe('wOFF');
    }
  });
});

import { describe, expect, it } from 'vitest';
import { toHex } from '../color/index.ts';
import { coated } from '../testing.ts';
import { ofPicture, type Picture, paletteOf, plainRecipe, type Recipe } from './index.ts';

/** A picture of flat squares of a number of pixels a side, row by row. */
function squares(rows: string[][], side: number): Picture {
  const [width, height] = [rows[0]!.length * side, rows.length * side];
  const data = new Uint8ClampedArray(4 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const hex = rows[Math.floor(y / side)]![Math.floor(x / side)]!;
      const rgb = [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16));
      data.set([...rgb, 255], 4 * (y * width + x));
    }
  return { width, height, data };
}
const sea = '#2f7d6b';
const red = '#b3262b';
const sand = '#e7cfa6';
const flag = squares(
  [
    [red, sea, sea],
    [sand, sea, sea],
  ],
  12,
);
const palette = (part: Partial<Recipe>) => paletteOf(ofPicture(flag), { ...plainRecipe, ...part });
const hexes = (part: Partial<Recipe>) => palette(part).colors.map((c) => toHex(c.color, coated));

describe('a recipe', () => {
  it('by Reduce gives the colours by their share, with the places they were first seen', () => {
    const { colors } = palette({ count: 3 });
    expect(colors.map((c) => toHex(c.color, coated))).toEqual([sea, red, sand]);
    expect(colors[0]!.share).toBeCloseTo(4 / 6, 5);
    // the first square of the sea begins behind the first twelve pixels
    expect(colors.map((c) => c.first)).toEqual([12, 0, 12 * 36]);
  });

  it('by Exact gives every colour once, in reading order', () => {
    const row = ofPicture(squares([[red, sea, sand]], 12));
    const found = paletteOf(row, { ...plainRecipe, method: 'exact', order: 'appearance' });
    expect(found.colors.map((c) => toHex(c.color, coated))).toEqual([red, sea, sand]);
    expect(found.exact?.distinct).toBe(3);
  });

  it('by points gives them as they were taken', () => {
    const points = palette({ count: 3 }).colors.slice().reverse();
    expect(hexes({ method: 'point', points })).toEqual([sand, red, sea]);
  });

  it('by Chart names a colour that several chips show once, with all of their share', () => {
    const grid = {
      rows: 2,
      columns: 3,
      left: 0,
      right: 0,
      top: 0,
      bottom: 0,
      gapX: 0,
      gapY: 0,
      angle: 0,
      empty: 0,
    };
    const { colors, chart } = palette({ method: 'chart', grid, order: 'appearance' });
    expect(colors.map((c) => toHex(c.color, coated))).toEqual([red, sea, sand]);
    expect(chart?.chips.length).toBe(6);
    expect(colors[1]!.share).toBeCloseTo(4 * colors[0]!.share, 5);
  });

  it('in cells and in a region looks only there, and the places are still of the picture', () => {
    const region = {
      outline: [
        [0, 0],
        [12, 0],
        [12, 24],
        [0, 24],
      ] as [number, number][],
      outside: false,
    };
    expect(hexes({ count: 3, region }).sort()).toEqual([red, sand].sort());
    const [first] = palette({ method: 'exact', order: 'appearance', cell: 12 }).colors;
    expect(first!.first).toBe(6 * 36 + 6);
  });

  it('with the user’s changes leaves out what was taken out, and says how many there were', () => {
    const { colors, found } = palette({ count: 3, amendments: [{ remove: '179,38,43' }] });
    expect(colors.map((c) => toHex(c.color, coated))).toEqual([sea, sand]);
    expect(found).toBe(3);
  });

  it('of nothing opaque gives nothing', () => {
    const clear: Picture = { width: 2, height: 2, data: new Uint8ClampedArray(16) };
    expect(paletteOf(ofPicture(clear), plainRecipe)).toMatchObject({ colors: [], pairs: [], found: 0 });
  });
});

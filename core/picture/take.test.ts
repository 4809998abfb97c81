import { describe, expect, it } from 'vitest';
import { fromRgb8, parseColor } from '../color/index.ts';
import {
  amended,
  checkTakes,
  colorKey,
  NEVER,
  newTake,
  type PaletteColor,
  plainRecipe,
  resized,
  type Take,
  typedNames,
} from './index.ts';

const color = (rgb: [number, number, number], share = 0.25): PaletteColor => ({
  color: fromRgb8(...rgb),
  rgb,
  share,
  first: 0,
});
const red = color([138, 28, 36]);
const wine = color([128, 30, 40], 0.5);
const sea = color([20, 48, 74]);

describe('what the user did to a result', () => {
  it('is laid over it: what was taken out stays out, what was joined stays joined', () => {
    const left = amended([red, wine, sea], [{ remove: colorKey(sea) }]);
    expect(left).toEqual([red, wine]);
    const [kept] = amended([wine, red], [{ left: colorKey(wine), right: colorKey(red), keep: 'left' }]);
    expect(kept.rgb).toEqual(wine.rgb);
    expect(kept.share).toBe(0.75);
  });

  it('does nothing to colours that are not there any more', () => {
    expect(
      amended(
        [red],
        [{ remove: colorKey(sea) }, { left: colorKey(red), right: colorKey(wine), keep: 'mean' }],
      ),
    ).toEqual([red]);
  });
});

describe('a typed name', () => {
  const names = [{ name: 'Boot-top', color: parseColor('#8a1c24') }];
  it('goes with its colour when another count shifts it a little, and to one colour only', () => {
    expect(typedNames([sea, color([140, 30, 38]), red], names)).toEqual([undefined, undefined, 'Boot-top']);
    expect(typedNames([color([140, 30, 38]), sea], names)).toEqual(['Boot-top', undefined]);
  });

  it('does not go to another colour', () => {
    expect(typedNames([sea, color([200, 120, 30])], names)).toEqual([undefined, undefined]);
  });
});

describe('a take on a copy of the picture in another size', () => {
  it('has its points, region, cells and grid where they lay, and its colours as they were', () => {
    const seen = (first: number): PaletteColor => ({
      color: { space: 'rgb', components: [1, 0, 0] },
      rgb: [255, 0, 0],
      share: 0.5,
      first,
    });
    const grid = {
      rows: 2,
      columns: 3,
      angle: 1,
      left: 40,
      top: 20,
      right: 40,
      bottom: 20,
      gapX: 8,
      gapY: 4,
      empty: 0,
    };
    const take: Take = {
      ...newTake('t'),
      colors: [seen(0), seen(NEVER)],
      recipe: {
        ...plainRecipe,
        // column 300, row 250 of 400 × 300
        points: [seen(250 * 400 + 300)],
        cell: 12,
        region: {
          outline: [
            [0, 0],
            [400, 0],
            [200, 300],
          ],
          outside: true,
        },
        grid,
      },
    };
    const small = resized(take, { width: 400, height: 300 }, { width: 100, height: 75 });
    expect(small.recipe.points).toEqual([seen(62 * 100 + 75)]);
    expect(small.recipe.region?.outline).toEqual([
      [0, 0],
      [100, 0],
      [50, 75],
    ]);
    expect(small.recipe).toMatchObject({
      cell: 3,
      grid: { left: 10, top: 5, gapX: 2, gapY: 1, angle: 1, rows: 2 },
    });
    expect(small.colors).toEqual(take.colors);
    expect(resized(take, { width: 400, height: 300 }, { width: 400, height: 300 })).toBe(take);
  });
});

it('takes from elsewhere are checked before they are believed', () => {
  expect(checkTakes([newTake('t')])).toHaveLength(1);
  expect(() => checkTakes([{ ...newTake('t'), recipe: { ...plainRecipe, count: 0 } }])).toThrow(/count/);
  expect(() => checkTakes([{ ...newTake('t'), colors: [{ ...red, rgb: [300, 0, 0] }] }])).toThrow(/rgb/);
});

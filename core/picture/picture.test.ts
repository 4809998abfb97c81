import { fileURLToPath } from 'node:url';
import { converter } from 'culori';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { contenders, kMeans } from '../../tests/bench/contenders.ts';
import { type Color, fromRgb8, parseColor } from '../color/index.ts';
import {
  exactColors,
  fitOf,
  histogram,
  inCells,
  joined,
  lookAlikes,
  meanDeltaE00,
  merged,
  NEVER,
  type Picture,
  painterWith,
  paletteOrders,
  pixelsIn,
  prepare,
  rectangle,
  reduce,
  sample,
  smoothly,
  together,
  within,
  words,
} from './index.ts';

type Rgb = [number, number, number];

/** Draws a picture from a function of the place; null is transparent. */
function draw(width: number, height: number, at: (x: number, y: number) => Rgb | null): Picture {
  const data = new Uint8ClampedArray(4 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const rgb = at(x, y);
      if (rgb) data.set([...rgb, 255], 4 * (y * width + x));
    }
  return { width, height, data };
}

async function photo(name: string): Promise<Picture> {
  const file = fileURLToPath(new URL(`../../tests/photos/${name}`, import.meta.url));
  const { data, info } = await sharp(file).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8ClampedArray(data) };
}

/** Many different colours, none of them grey. */
const chip = (i: number): Rgb => [(i * 67 + 30) % 256, (i * 151 + 90) % 256, (i * 29 + 200) % 256];

const swatch = (rgb: number[]) => fromRgb8(rgb[0], rgb[1], rgb[2]);

const hexes = (colors: { rgb: Rgb }[]) => colors.map((c) => c.rgb.join());

describe('reduce', () => {
  const photos: Record<string, Picture> = {};
  beforeAll(async () => {
    for (const name of ['rocket.jpg', 'chelsea.png']) photos[name] = await photo(name);
  });

  describe.each(['rocket.jpg', 'chelsea.png'])('%s', (name) => {
    it.each([10])('at %i colours errs less than general-purpose quantisers', (count) => {
      const picture = photos[name];
      const counted = histogram(picture);
      const ours = reduce(prepare(counted), { count });
      expect(ours.length).toBe(count);
      const error = meanDeltaE00(
        counted,
        ours.map((c) => c.color),
      );
      const others = contenders(picture);
      for (const method of ['quantize', 'image-q Wu', 'image-q RGBQuant', 'image-q NeuQuant'])
        expect(error, method).toBeLessThan(meanDeltaE00(counted, others[method](count).map(swatch)));
      expect(error, 'k-means').toBeLessThan(meanDeltaE00(counted, kMeans(counted, count).map(swatch)));
    });

    it('gives the same palette each time, with shares that add up', () => {
      const once = reduce(prepare(histogram(photos[name])), { count: 24 });
      expect(reduce(prepare(histogram(photos[name])), { count: 24 })).toEqual(once);
      expect(once.reduce((sum, c) => sum + c.share, 0)).toBeCloseTo(1, 9);
      expect(once.map((c) => c.share)).toEqual(once.map((c) => c.share).sort((a, b) => b - a));
    });
  });

  it('gives the very colours of a flat picture, at any count above theirs', () => {
    const flat = draw(
      40,
      30,
      (x) =>
        [
          [16, 16, 16],
          [18, 18, 18],
          [200, 0, 0],
          [0, 90, 200],
        ][x % 4] as Rgb,
    );
    for (const count of [4, 10, 256])
      expect(hexes(reduce(prepare(histogram(flat)), { count: count })).sort()).toEqual(
        ['0,90,200', '16,16,16', '18,18,18', '200,0,0'].sort(),
      );
  });

  it('leaves transparent pixels out, and gives nothing for nothing', () => {
    const half = draw(8, 8, (x) => (x < 4 ? null : [10, 200, 30]));
    expect(reduce(prepare(histogram(half)), { count: 5 })).toMatchObject([
      { rgb: [10, 200, 30], share: 1, first: 4 },
    ]);
    expect(reduce(prepare(histogram(draw(8, 8, () => null))), { count: 5 })).toEqual([]);
    expect(hexes(reduce(prepare(histogram(draw(1, 1, () => [1, 2, 3]))), { count: 256 }))).toEqual(['1,2,3']);
  });

  it('gives greys for an all-grey picture', () => {
    const grey = draw(256, 20, (x) => [x, x, x]);
    for (const { rgb } of reduce(prepare(histogram(grey)), { count: 6 }))
      expect(Math.max(...rgb) - Math.min(...rgb)).toBeLessThanOrEqual(1);
  });
});

describe('as many colours as were asked for', () => {
  it.each(['rocket.jpg', 'chelsea.png'])('%s is given them', async (name) => {
    const prepared = prepare(histogram(await photo(name)));
    for (const count of [2, 64, 200, 256]) {
      const colors = reduce(prepared, { count });
      expect(new Set(colors.map((c) => c.rgb.join())).size).toBe(count);
      expect(colors.every((c) => c.share > 0)).toBe(true);
      expect(colors.reduce((sum, c) => sum + c.share, 0)).toBeCloseTo(1, 9);
    }
  });

  it('or all there are', () => {
    const ramp = draw(256, 40, (x) => [x, x, x]);
    expect(reduce(prepare(histogram(ramp)), { count: 256 })).toHaveLength(256);
    const few = draw(60, 40, (x, y) => [(x * 7 + y) % 9, (x * 7 + y) % 9, (x * 7 + y) % 9]);
    expect(reduce(prepare(histogram(few)), { count: 24 })).toHaveLength(9);
  });
});

describe('exact', () => {
  const inOrder = Array.from({ length: 24 }, (_, i) => chip(i));
  const white: Rgb = [255, 255, 255];
  /** A chart of 6 × 4 squares with gaps and margins of a number of pixels. */
  const chart = (side: number, gap: number, margin: number, background: Rgb | null = white) => {
    const place = (v: number) => {
      const step = Math.floor((v - margin) / (side + gap));
      return v >= margin && (v - margin) % (side + gap) < side ? step : -1;
    };
    return draw(2 * margin + 6 * side + 5 * gap, 2 * margin + 4 * side + 3 * gap, (x, y) => {
      const [column, row] = [place(x), place(y)];
      return column >= 0 && column < 6 && row >= 0 && row < 4 ? inOrder[row * 6 + column] : background;
    });
  };

  it.each<[string, Picture]>([
    ['with gaps and margins', chart(20, 4, 8)],
    ['with gaps only', chart(20, 4, 0)],
    ['with wide margins', chart(10, 10, 60)],
    ['touching each other', chart(20, 0, 0)],
    ['one pixel each', chart(1, 0, 0)],
    ['on a transparent page', chart(12, 3, 5, null)],
    ['on a black page', chart(12, 3, 5, [0, 0, 0])],
  ])('squares %s come once each, in order', (_, picture) => {
    const result = exactColors(picture);
    expect(hexes(result.colors)).toEqual(inOrder.map((c) => c.join()));
    expect(result.chart).toBe(true);
  });

  it('keeps the background when asked to, and tells what it left out', () => {
    expect(exactColors(chart(20, 4, 8)).background.map((c) => c.rgb)).toEqual([white]);
    expect(hexes(exactColors(chart(20, 4, 8), 256, true).colors)).toContain('255,255,255');
  });

  it('reads rows whose squares differ in size and sit a little crooked', () => {
    const picture = draw(100, 60, (x, y) => {
      if (x >= 5 && x < 25 && y >= 7 && y < 25) return chip(0);
      if (x >= 30 && x < 60 && y >= 4 && y < 26) return chip(1);
      if (x >= 70 && x < 90 && y >= 6 && y < 22) return chip(2);
      if (x >= 5 && x < 40 && y >= 35 && y < 55) return chip(3);
      return white;
    });
    expect(hexes(exactColors(picture).colors)).toEqual([0, 1, 2, 3].map((i) => chip(i).join()));
  });

  it('leaves out bands between rows', () => {
    const picture = draw(60, 64, (x, y) =>
      y % 22 >= 20 ? white : chip(Math.floor(y / 22) * 3 + Math.floor(x / 20)),
    );
    expect(hexes(exactColors(picture).colors)).toEqual(Array.from({ length: 9 }, (_, i) => chip(i).join()));
  });

  it('names a colour once and counts the squares that repeat it', () => {
    const picture = draw(40, 10, (x) => chip(Math.floor(x / 10) % 3));
    const result = exactColors(picture);
    expect(hexes(result.colors)).toEqual([0, 1, 2].map((i) => chip(i).join()));
    expect(result.repeats).toBe(1);
  });

  it('stops at 256 and says how many there are', () => {
    const many = draw(100, 10, (x, y) => [x, y * 20, 7]);
    const result = exactColors(many);
    expect(result.colors.length).toBe(256);
    expect(result.distinct).toBe(1000);
    expect(result.colors[1].rgb).toEqual([1, 0, 7]);
  });
});

describe('point', () => {
  const picture = draw(9, 9, (x, y) => (x === 4 && y === 4 ? [255, 255, 255] : [0, 0, 0]));
  it('takes the very pixel', () => {
    expect(sample(picture, 4, 4, 1)).toEqual([255, 255, 255]);
  });
  it('takes the mean in linear light, as light adds up', () => {
    // 1/9 of white in linear light is 0.111, which sRGB (IEC 61966-2-1) encodes as 0.3691 · 255 = 94
    expect(sample(picture, 4, 4, 3)).toEqual([94, 94, 94]);
    expect(sample(picture, 0, 0, 11)?.[0]).toBeGreaterThan(0);
  });
  it('finds nothing where nothing is', () => {
    expect(
      sample(
        draw(3, 3, () => null),
        1,
        1,
        3,
      ),
    ).toBeNull();
  });
});

/** A grey sea under a grey sky, with a red buoy of 0.4 % and light and noise enough to need reducing. */
const sea = draw(200, 150, (x, y) => {
  if ((x - 60) ** 2 + (y - 90) ** 2 < 38) return [200, 30 + (x % 5), 30];
  const n = ((x * 7919 + y * 104729) % 13) - 6;
  const base = y < 70 ? 190 - y / 2 : 90 + (y - 70) / 3;
  return [base + n, base + 4 + n + (x % 3), base + 9 + n].map(Math.round) as Rgb;
});
const red = (c: { rgb: Rgb }) => c.rgb[0] > 150 && c.rgb[1] < 90;

describe('balance from areas to accents', () => {
  const prepared = prepare(histogram(sea));
  it('finds the one red buoy among five only towards the accents', () => {
    expect(reduce(prepared, { count: 3, accent: 0 }).some(red)).toBe(false);
    expect(reduce(prepared, { count: 3, accent: 0.8 }).some(red)).toBe(true);
  });
  it('errs least at the areas end, and tells true shares at both', () => {
    const errors = [0, 0.5, 1].map((accent) => {
      const colors = reduce(prepared, { count: 6, accent });
      expect(colors.reduce((sum, c) => sum + c.share, 0)).toBeCloseTo(1, 9);
      return meanDeltaE00(
        prepared.histogram,
        colors.map((c) => c.color),
      );
    });
    expect(errors[0]).toBe(Math.min(...errors));
  });
});

describe('held colours', () => {
  const prepared = prepare(histogram(sea));
  const paper = parseColor('#f5efe2');
  const ink: Color = { space: 'lab', components: [12, 0, -2] };
  it('are in the palette as they were given, and the rest is found round them', () => {
    const colors = reduce(prepared, { count: 6, held: [paper, ink] });
    expect(colors.length).toBe(6);
    expect(colors.filter((c) => c.held).map((c) => c.color)).toEqual(expect.arrayContaining([paper, ink]));
    expect(colors.filter((c) => c.held).every((c) => c.first === NEVER)).toBe(true);
    // a colour that is held already is not found again
    const grey = reduce(prepared, { count: 1 }).find((c) => c.share > 0.2);
    if (!grey) throw new Error('no grey');
    const again = reduce(prepared, { count: 6, held: [grey.color] });
    expect(again.filter((c) => c.rgb.join() === grey.rgb.join()).length).toBe(1);
  });
  it('can be more than were asked for, and join a flat picture’s own', () => {
    const many = Array.from({ length: 5 }, (_, i) => swatch(chip(i)));
    expect(reduce(prepared, { count: 3, held: many }).filter((c) => c.held).length).toBe(5);
    const flat = prepare(histogram(draw(4, 4, (x) => (x < 2 ? [1, 2, 3] : [200, 0, 0]))));
    expect(hexes(reduce(flat, { count: 4, held: [swatch([1, 2, 3]), paper] })).sort()).toEqual(
      ['1,2,3', '200,0,0', '245,239,226'].sort(),
    );
  });
});

describe('several pictures together', () => {
  it('count the same, however large they are', () => {
    const [small, large] = [draw(10, 10, () => [200, 0, 0]), draw(100, 100, () => [0, 0, 200])];
    const joined = together([histogram(small), histogram(large)], [100, 10_000]);
    expect(reduce(prepare(joined), { count: 4 })).toMatchObject([
      { rgb: [200, 0, 0], share: 0.5, first: 0 },
      { rgb: [0, 0, 200], share: 0.5, first: 100 },
    ]);
  });
  it('name a colour of both once', () => {
    const flat = draw(5, 5, () => [9, 9, 9]);
    expect(together([histogram(flat), histogram(flat)], [25, 25])).toMatchObject({ size: 1, total: 50 });
  });
});

describe('a very large picture', () => {
  it('is counted on a grid: shares and colours stay what they are', () => {
    // 16 megapixels with more colours than are counted singly
    const big: Picture = { width: 4000, height: 4000, data: new Uint8Array(4 * 16e6) };
    const pixels = words(big);
    for (let i = 0; i < pixels.length; i++) {
      const x = i % 4000;
      const v = (i * 2654435761) >>> 24;
      pixels[i] = 0xff000000 | (x < 1000 ? (v << 8) | 200 : (200 << 16) | v);
    }
    const colors = reduce(prepare(histogram(big)), { count: 8 });
    const reds = colors.filter((c) => c.rgb[0] === 200 && c.rgb[2] < 20).reduce((sum, c) => sum + c.share, 0);
    expect(reds).toBeCloseTo(0.25, 3);
  });
});

describe('cells', () => {
  const board = draw(8, 6, (x, y) => ((x + y) % 2 ? [255, 255, 255] : [0, 0, 0]));
  it('are the mean in linear light', () => {
    // half of the light is sRGB 188 (IEC 61966-2-1: 0.5 encodes as 0.7354)
    const cells = inCells(board, 4);
    expect([cells.width, cells.height]).toEqual([2, 2]);
    expect([...cells.data.subarray(0, 4)]).toEqual([188, 188, 188, 255]);
  });
  it('leave out what is transparent, and stay transparent where all is', () => {
    const cells = inCells(
      draw(4, 2, (x) => (x === 0 ? [80, 90, 100] : null)),
      2,
    );
    expect([...cells.data]).toEqual([80, 90, 100, 255, 0, 0, 0, 0]);
  });
  it('of one pixel are the picture', () => {
    expect([...inCells(board, 1).data]).toEqual([...board.data]);
  });
});

describe('a region', () => {
  const opaque = (picture: Picture) => words(picture).reduce((n, p) => n + (p >>> 24 ? 1 : 0), 0);
  it('takes a rectangle, or all but it', () => {
    const outline = rectangle(150, 100, 50, 20);
    expect(opaque(within(sea, { outline, outside: false }))).toBe(100 * 80);
    expect(opaque(within(sea, { outline, outside: true }))).toBe(200 * 150 - 100 * 80);
  });
  it('takes a drawn shape by the middles of the pixels', () => {
    const disc = Array.from({ length: 90 }, (_, i): [number, number] => [
      100 + 60 * Math.cos((i / 45) * Math.PI),
      75 + 60 * Math.sin((i / 45) * Math.PI),
    ]);
    expect(opaque(within(sea, { outline: disc, outside: false })) / (Math.PI * 60 * 60)).toBeCloseTo(1, 2);
    const beyond = within(sea, { outline: rectangle(-50, -50, 20, 20), outside: false });
    expect(opaque(beyond)).toBe(400);
  });
});

describe('look-alikes', () => {
  const color = (rgb: Rgb, share: number, first: number) => ({ color: swatch(rgb), rgb, share, first });
  const colors = [color([200, 0, 0], 0.5, 9), color([202, 2, 0], 0.3, 1), color([0, 0, 200], 0.2, 5)];
  it('go into the one with the larger share, whose colour stays as it is', () => {
    const merges = lookAlikes(colors, 2);
    expect(merges).toMatchObject([{ gone: 1, into: 0 }]);
    expect(merged(colors, merges)).toEqual([{ ...colors[0], share: 0.8, first: 1 }, colors[2]]);
    expect(colors[0].share).toBe(0.5);
  });
  it('can become the right one, or the mean weighted by share', () => {
    expect(joined(colors[0], colors[1], 'right')).toMatchObject({ rgb: [202, 2, 0], share: 0.8, first: 1 });
    const mean = joined(color([0, 0, 0], 0.75, 0), color([255, 255, 255], 0.25, 0), 'mean');
    // a quarter of the way from L* 0 to 100: L* 25 is sRGB 59 (from memory of the L* curve; checked with culori)
    expect(mean.rgb).toEqual([59, 59, 59]);
  });
  it('leave held colours alone', () => {
    const held = [colors[0], { ...colors[1], held: true }];
    expect(lookAlikes(held, 5)).toMatchObject([{ gone: 0, into: 1 }]);
  });
  it('are none under a threshold of 0', () => {
    expect(lookAlikes(colors, 0)).toEqual([]);
  });
});

describe('orders', () => {
  it('put the same colours differently', () => {
    const list = [
      { color: swatch([200, 0, 0]), rgb: [200, 0, 0] as Rgb, share: 0.5, first: 9 },
      { color: swatch([230, 20, 0]), rgb: [230, 20, 0] as Rgb, share: 0.3, first: 1 },
      { color: swatch([0, 0, 200]), rgb: [0, 0, 200] as Rgb, share: 0.2, first: 5 },
    ];
    const order = (id: keyof typeof paletteOrders) => paletteOrders[id].arrange(list).map((c) => c.first);
    expect(order('share')).toEqual([9, 1, 5]);
    expect(order('appearance')).toEqual([1, 5, 9]);
    expect(order('lightness')).toEqual([1, 9, 5]);
    expect(order('hue')[2]).toBe(5);
  });

  const oklab = converter('oklab');
  const length = (colors: Color[]) =>
    colors.slice(1).reduce((sum, c, i) => {
      const [p, q] = [c, colors[i]].map(({ components: [r, g, b] }) => oklab({ mode: 'rgb', r, g, b }));
      return sum + Math.hypot(p.l - q.l, p.a - q.a, p.b - q.b);
    }, 0);
  const permutations = <T>(list: T[]): T[][] =>
    list.length < 2
      ? [list]
      : list.flatMap((one, i) => permutations(list.filter((_, k) => k !== i)).map((rest) => [one, ...rest]));

  it('smooth is the shortest way through all, as trying every way shows', () => {
    const colors = Array.from({ length: 7 }, (_, i) => swatch(chip(3 * i)));
    const best = Math.min(...permutations(colors).map(length));
    expect(length(smoothly(colors).map((i) => colors[i]))).toBeCloseTo(best, 9);
  });
  it('smooth finds a ramp of sixty colours again, dark end first', () => {
    const ramp = Array.from({ length: 60 }, (_, i) => swatch([20 + 3 * i, 30 + 2 * i, 60 + i]));
    const shuffled = ramp.map((_, i) => ramp[(i * 37) % 60]);
    expect(smoothly(shuffled).map((i) => shuffled[i])).toEqual(ramp);
  });
});

describe('fit', () => {
  it('tells mean, tail, word and what is missed', () => {
    const picture = draw(100, 1, (x) => (x < 90 ? [0, 0, 0] : [255, 255, 255]));
    const fit = fitOf(histogram(picture), [swatch([0, 0, 0])]);
    // black to white is ΔE00 100 by definition of L*
    expect(fit).toMatchObject({ word: 'poster', p95: expect.closeTo(100, 3), mean: expect.closeTo(10, 3) });
    expect(fit?.lightness.picture[19]).toBeCloseTo(0.1, 9);
    expect(fit?.lightness.palette[19]).toBe(0);
    expect(fit?.lightness.palette[0]).toBeCloseTo(1, 9);
    const full = fitOf(histogram(picture), [swatch([0, 0, 0]), swatch([255, 255, 255])]);
    expect(full).toMatchObject({ mean: 0, p95: 0, word: 'close' });
  });
});

describe('shown', () => {
  it('with a palette, each pixel takes the nearest colour and transparent ones stay', () => {
    const picture = draw(3, 1, (x) => (x === 2 ? null : x ? [250, 10, 10] : [20, 20, 30]));
    const paint = painterWith([swatch([0, 0, 0]), swatch([255, 0, 0])]);
    expect([...paint(words(picture))]).toEqual([0, 0, 0, 255, 255, 0, 0, 255, 0, 0, 0, 0]);
  });
  it('enlarged, a pixel becomes a square, and beyond the picture is nothing', () => {
    const picture = draw(2, 1, (x) => (x ? [9, 9, 9] : [1, 1, 1]));
    const view = { x: 0, y: 0, width: 3, height: 1, outWidth: 6, outHeight: 2 };
    const row = [...pixelsIn(picture, view)].map((p) => p & 255);
    expect(row).toEqual([1, 1, 9, 9, 0, 0, 1, 1, 9, 9, 0, 0]);
  });
});

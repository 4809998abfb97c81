import { distance, palette as iq, utils } from 'image-q';
import quantize from 'quantize';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import {
  drawWith,
  exactColors,
  histogram,
  lookAlikes,
  meanDeltaE00,
  merged,
  type Picture,
  paletteOrders,
  prepare,
  reduce,
  sample,
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
  const file = new URL(`../../tests/photos/${name}`, import.meta.url).pathname;
  const { data, info } = await sharp(file).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8ClampedArray(data) };
}

/** Many different colours, none of them grey. */
const chip = (i: number): Rgb => [(i * 67 + 30) % 256, (i * 151 + 90) % 256, (i * 29 + 200) % 256];

const hexes = (colors: { rgb: Rgb }[]) => colors.map((c) => c.rgb.join());

describe('reduce', () => {
  const photos: Record<string, Picture> = {};
  beforeAll(async () => {
    for (const name of ['rocket.jpg', 'chelsea.png']) photos[name] = await photo(name);
  });

  describe.each(['rocket.jpg', 'chelsea.png'])('%s', (name) => {
    it.each([5, 10, 24, 64])('at %i colours errs less than two general-purpose quantisers', (count) => {
      const picture = photos[name];
      const counted = histogram(picture);
      const ours = reduce(prepare(counted), count);
      const points: Rgb[] = [];
      for (let i = 0; i < picture.data.length; i += 4)
        points.push([picture.data[i], picture.data[i + 1], picture.data[i + 2]]);
      const theirs = quantize(points, count);
      if (!theirs) throw new Error('no palette');
      const wu = new iq.WuQuant(new distance.EuclideanBT709(), count);
      wu.sample(
        utils.PointContainer.fromUint8Array(new Uint8Array(picture.data), picture.width, picture.height),
      );
      const wuColors = wu
        .quantizeSync()
        .getPointContainer()
        .getPointArray()
        .map((p): Rgb => [p.r, p.g, p.b]);
      expect(ours.length).toBe(count);
      const error = meanDeltaE00(
        counted,
        ours.map((c) => c.rgb),
      );
      expect(error).toBeLessThan(meanDeltaE00(counted, theirs.palette()));
      expect(error).toBeLessThan(meanDeltaE00(counted, wuColors));
    });

    it('gives the same palette each time, with shares that add up', () => {
      const once = reduce(prepare(histogram(photos[name])), 24);
      expect(reduce(prepare(histogram(photos[name])), 24)).toEqual(once);
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
      expect(hexes(reduce(prepare(histogram(flat)), count)).sort()).toEqual(
        ['0,90,200', '16,16,16', '18,18,18', '200,0,0'].sort(),
      );
  });

  it('leaves transparent pixels out, and gives nothing for nothing', () => {
    const half = draw(8, 8, (x) => (x < 4 ? null : [10, 200, 30]));
    expect(reduce(prepare(histogram(half)), 5)).toEqual([{ rgb: [10, 200, 30], share: 1, first: 4 }]);
    expect(reduce(prepare(histogram(draw(8, 8, () => null))), 5)).toEqual([]);
    expect(hexes(reduce(prepare(histogram(draw(1, 1, () => [1, 2, 3]))), 256))).toEqual(['1,2,3']);
  });

  it('gives greys for an all-grey picture', () => {
    const grey = draw(256, 20, (x) => [x, x, x]);
    for (const { rgb } of reduce(prepare(histogram(grey)), 6))
      expect(Math.max(...rgb) - Math.min(...rgb)).toBeLessThanOrEqual(1);
  });
});

describe('exact', () => {
  const inOrder = Array.from({ length: 24 }, (_, i) => chip(i));
  const white: Rgb = [255, 255, 255];
  /** A chart of 6 × 4 squares with gaps and margins of so many pixels. */
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

describe('look-alikes', () => {
  const colors = [
    { rgb: [200, 0, 0] as Rgb, share: 0.5, first: 9 },
    { rgb: [202, 2, 0] as Rgb, share: 0.3, first: 1 },
    { rgb: [0, 0, 200] as Rgb, share: 0.2, first: 5 },
  ];
  it('go into the one with the larger share, whose colour stays as it is', () => {
    const merges = lookAlikes(colors, 2);
    expect(merges).toMatchObject([{ gone: 1, into: 0 }]);
    expect(merged(colors, merges)).toEqual([{ rgb: [200, 0, 0], share: 0.8, first: 1 }, colors[2]]);
    expect(colors[0].share).toBe(0.5);
  });
  it('are none under a threshold of 0', () => {
    expect(lookAlikes(colors, 0)).toEqual([]);
  });
  it('can be put in four orders', () => {
    const order = (id: keyof typeof paletteOrders) =>
      [...colors].sort(paletteOrders[id].compare).map((c) => c.first);
    expect(order('share')).toEqual([9, 1, 5]);
    expect(order('appearance')).toEqual([1, 5, 9]);
    expect(order('hue')[2]).toBe(5);
    expect(order('lightness')[2]).toBe(5);
  });
});

describe('drawn with the palette', () => {
  it('gives each pixel the nearest colour and leaves transparent ones', () => {
    const picture = draw(3, 1, (x) => (x === 2 ? null : x ? [250, 10, 10] : [20, 20, 30]));
    expect([
      ...drawWith(picture, [
        [0, 0, 0],
        [255, 0, 0],
      ]),
    ]).toEqual([0, 0, 0, 255, 255, 0, 0, 255, 0, 0, 0, 0]);
  });
});

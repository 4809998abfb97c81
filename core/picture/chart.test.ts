import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { deltaE00, fromRgb8, toLab } from '../color/index.ts';
import { coated } from '../testing.ts';
import { type ChartGrid, findChart, type Picture, plainGrid, readChart, readLitChart } from './index.ts';

type Rgb = [number, number, number];

interface Layout {
  rows: number;
  columns: number;
  width?: number;
  height?: number;
  gap?: number;
  margin?: number;
  page?: string;
  /** Degrees clockwise. */
  turn?: number;
  quality?: number;
  /** Code below each chip, number on it, frame round it. */
  labels?: boolean;
  numbers?: boolean;
  frames?: boolean;
  /** Standard deviation of noise on every channel. */
  noise?: number;
  /** Chips missing at the end. */
  missing?: number;
  /** Parts of the light that the farthest corner lacks, and the page alone in the same way. */
  shade?: number;
  printed?: number;
}

/** Light is what is added up, not the numbers of eight bits (sRGB, IEC 61966-2-1). */
const linear = (v: number) => (v <= 10.31 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4);
const eightBit = (v: number) => 255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);

/** Colours all over the gamut, none twice, and not so dark that a step of eight bits is a large difference. */
const chip = (i: number): Rgb => [
  40 + ((i * 67) % 200),
  40 + ((i * 151 + 50) % 200),
  40 + ((i * 29 + 160) % 200),
];
const css = (rgb: Rgb) => `rgb(${rgb.join(' ')})`;

/** A chart as a JPEG of a scan would show it. */
async function chart(layout: Layout): Promise<Picture> {
  const {
    rows,
    columns,
    width = 60,
    height = 50,
    gap = 0,
    margin = 24,
    page = '#ffffff',
    quality = 80,
  } = layout;
  const below = layout.labels ? 14 : 0;
  const [w, h] = [
    2 * margin + columns * (width + gap) - gap,
    2 * margin + rows * (height + below + gap) - gap,
  ];
  const chips = Array.from({ length: rows * columns - (layout.missing ?? 0) }, (_, i) => {
    const [x, y] = [
      margin + (i % columns) * (width + gap),
      margin + Math.floor(i / columns) * (height + below + gap),
    ];
    const frame = layout.frames ? 'stroke="#222222" stroke-width="2"' : '';
    const text = (place: number, words: string) =>
      `<text x="${x + 3}" y="${place}" font-size="10" font-family="sans-serif" fill="#333333">${words}</text>`;
    return `<rect x="${x}" y="${y}" width="${width}" height="${height}" fill="${css(chip(i))}" ${frame}/>${layout.labels ? text(y + height + 11, `no. ${i}`) : ''}${layout.numbers ? text(y + height - 4, String(i + 1)) : ''}`;
  });
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${w}" height="${h}"><rect width="100%" height="100%" fill="${page}"/>${chips.join('')}</svg>`;
  const flat = await sharp(await sharp(Buffer.from(svg)).png().toBuffer())
    .rotate(layout.turn ?? 0, { background: page })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  let state = 1;
  const random = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
  const { shade = 0, printed = 0 } = layout;
  if (shade || printed) {
    const ground = flat.data.subarray(0, 3).slice();
    for (let i = 0; i < flat.data.length; i++) {
      const [x, y] = [((i / 3) | 0) % flat.info.width, (i / 3 / flat.info.width) | 0];
      const far = 0.6 * (x / flat.info.width) + 0.4 * (y / flat.info.height) ** 2;
      const at = i - (i % 3);
      const isPage = [0, 1, 2].every((c) => Math.abs(flat.data[at + c]! - ground[c]!) < 3);
      const part = 1 - far * (shade || (isPage ? printed : 0));
      if (i % 3 === 2)
        for (let c = 0; c < 3; c++)
          flat.data[at + c] = Math.round(eightBit(linear(flat.data[at + c]!) * part));
    }
  }
  if (layout.noise)
    for (let i = 0; i < flat.data.length; i++) {
      // twelve uniform numbers add up to a bell of deviation 1
      const bell = Array.from({ length: 12 }, random).reduce((sum, v) => sum + v, -6);
      flat.data[i] = Math.min(255, Math.max(0, Math.round(flat.data[i] + bell * layout.noise)));
    }
  const raw = { width: flat.info.width, height: flat.info.height, channels: 3 as const };
  const jpeg = await sharp(flat.data, { raw }).jpeg({ quality }).toBuffer();
  const { data, info } = await sharp(jpeg).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

function found(picture: Picture): ChartGrid {
  const grid = findChart(picture);
  if (!grid) throw new Error('no chart was found');
  return grid;
}

describe('a chart as a photograph or scan', () => {
  it.each<[string, Layout]>([
    ['touching chips', { rows: 4, columns: 6 }],
    ['chips to the very edge', { rows: 4, columns: 6, margin: 0 }],
    ['gaps, turned by 3°', { rows: 4, columns: 6, gap: 10, turn: 3 }],
    ['touching, turned by −3°', { rows: 5, columns: 7, turn: -3 }],
    [
      'frames, codes below and numbers on a grey page',
      { rows: 4, columns: 5, gap: 12, frames: true, labels: true, numbers: true, page: '#8a8a8a', turn: 1.4 },
    ],
    ['noise, on a black page', { rows: 4, columns: 6, gap: 8, noise: 7, page: '#101010', turn: -2.1 }],
    ['turned by 8°', { rows: 4, columns: 6, gap: 10, turn: 8 }],
    ['touching, turned by −11°', { rows: 4, columns: 6, turn: -11 }],
    ['many small chips', { rows: 10, columns: 14, width: 24, height: 24, gap: 5, quality: 95 }],
    ['one row', { rows: 1, columns: 8, gap: 12, turn: 2 }],
    ['one column', { rows: 9, columns: 1, width: 200, gap: 6, turn: -2 }],
    [
      'large, with wide gaps',
      { rows: 5, columns: 6, width: 260, height: 200, gap: 70, margin: 120, turn: 2.6 },
    ],
  ])('%s: every colour within ΔE00 1, in order', async (_, layout) => {
    const picture = await chart(layout);
    const grid = found(picture);
    expect([grid.rows, grid.columns]).toEqual([layout.rows, layout.columns]);
    expect(grid.angle).toBeCloseTo(layout.turn ?? 0, 0);
    readChart(picture, grid).forEach((one, i) => {
      expect([one.row, one.column]).toEqual([Math.floor(i / layout.columns), i % layout.columns]);
      if (!one.color) throw new Error('nothing there');
      expect(
        deltaE00(toLab(one.color.color, coated), toLab(fromRgb8(...chip(i)), coated)),
        `chip ${i}`,
      ).toBeLessThan(1);
    });
  });

  it.each<[string, Layout]>([
    ['with wide gaps', { rows: 4, columns: 6, gap: 12, shade: 0.35 }],
    ['with codes below, turned', { rows: 4, columns: 6, gap: 16, labels: true, shade: 0.3, turn: 5 }],
    ['touching, with a page around, noisy', { rows: 5, columns: 7, margin: 40, shade: 0.4, noise: 2 }],
    ['on a grey page', { rows: 4, columns: 6, gap: 12, page: '#b0b0b0', shade: 0.3 }],
  ])('in uneven light, %s, each chip is corrected by the page around it', async (_, layout) => {
    const picture = await chart(layout);
    const grid = found(picture);
    const mean = (chips: { color: { color: Parameters<typeof toLab>[0] } | null }[]) =>
      chips.reduce(
        (sum, one, i) =>
          sum + deltaE00(toLab(one.color!.color, coated), toLab(fromRgb8(...chip(i)), coated)) / chips.length,
        0,
      );
    const lit = readLitChart(picture, grid);
    expect(mean(readChart(picture, grid))).toBeGreaterThan(2.5);
    expect(mean(lit.chips)).toBeLessThan(1);
    expect(lit.darkest).toBeGreaterThan(0.5);
  });

  it.each<[string, Layout]>([
    ['a page in even light', { rows: 4, columns: 6, gap: 12, noise: 3 }],
    ['a page that is printed with a shade', { rows: 4, columns: 6, gap: 12, printed: 0.35 }],
    ['chips without a page', { rows: 4, columns: 6, margin: 0, shade: 0.2 }],
  ])('%s changes no chip', async (_, layout) => {
    const picture = await chart(layout);
    const grid = found(picture);
    expect(readLitChart(picture, grid)).toEqual({ chips: readChart(picture, grid), darkest: null });
  });

  it('supplies a chip that melts into the page, and leaves out places at the end that are empty', async () => {
    const page = css(chip(8));
    const inside = await chart({ rows: 4, columns: 6, gap: 10, page });
    expect(readChart(inside, found(inside))[8].color?.color).toBeDefined();
    expect(found(inside)).toMatchObject({ rows: 4, columns: 6, empty: 0 });
    const short = await chart({ rows: 3, columns: 6, gap: 10, missing: 2 });
    expect(found(short)).toMatchObject({ rows: 3, columns: 6, empty: 2 });
    expect(readChart(short, found(short)).length).toBe(16);
  });

  it('is not seen in a photograph', async () => {
    for (const name of ['rocket.jpg', 'chelsea.png']) {
      const file = fileURLToPath(new URL(`../../tests/photos/${name}`, import.meta.url));
      const { data, info } = await sharp(file).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
      expect(findChart({ width: info.width, height: info.height, data: new Uint8Array(data) })).toBeNull();
    }
  });

  it('can be told where its chips are', async () => {
    const picture = await chart({ rows: 2, columns: 3, margin: 0 });
    const grid = { ...plainGrid(picture, 2, 3), left: 0, top: 0, right: 0, bottom: 0 };
    const chips = readChart(picture, grid);
    expect(chips.map((c) => c.outline[0])).toEqual(
      [0, 1].flatMap((r) => [0, 1, 2].map((c) => [60 * c, 50 * r])),
    );
    expect(chips[4].color?.rgb.map((v, c) => Math.abs(v - chip(4)[c]) < 3)).toEqual([true, true, true]);
  });
});

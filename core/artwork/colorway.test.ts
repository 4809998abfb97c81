import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { type Color, deltaE00, parseColor, toLab } from '../color/index.ts';
import { COLORWAY, type Colorway, type Wish, withLinks } from '../swatch/index.ts';
import type { Swatch } from '../swatch/model.ts';
import { coated } from '../testing.ts';
import {
  differences,
  factsOf,
  isOff,
  linksBy,
  madeOf,
  madeSvg,
  ordersOf,
  partAt,
  partMap,
  type Row,
  readArtwork,
  rowsIn,
  separated,
  straysIn,
  trueSize,
  withOutlines,
  wouldTurn,
} from './index.ts';

const swatch = (name: string, color: string, more: Partial<Swatch> = {}): Swatch => ({
  id: name,
  name,
  kind: 'process',
  color: parseColor(color),
  ...more,
});
const navy = swatch('Navy', '#14304a', { role: 'hull' });
const sand = swatch('Sand', '#e6d3a3', { role: 'cloth' });
const red = swatch('Red', 'Lab 40 60 30', { kind: 'spot', code: 'R 12' });
const cut = swatch('Cutting', '#ef6a18', { kind: 'technical' });
const library = [navy, sand, red, cut];
const find = (list: readonly Swatch[]) => (id: string) => list.find((s) => s.id === id);

const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 200 100">
<rect id="cloth" width="200" height="100" fill="#d8cfae"/>
<g id="hull" fill="#2c4c80"><rect x="20" y="40" width="60" height="40"/><rect id="funnel" x="40" y="20" width="10" height="20"/></g>
<path id="stitching" d="M0 95H200" fill="none" stroke="#7b9d9d" stroke-width="2"/>
<g transform="scale(2)"><circle id="buoy" cx="80" cy="25" r="10" fill="#c8102e"/></g>
</svg>`;
const artwork = readArtwork(svg);
const facts = factsOf(artwork);
const keyOf = (name: string) => artwork.parts.find((p) => p.name === name)!.key;
const colorway = (links: Record<string, Wish>): Colorway => ({
  ...{ id: 'c', kind: COLORWAY, name: 'Night' },
  ...withLinks({ refs: [], data: { artwork: 'a', links: {} } }, links),
});
const rowsOf = (one: Colorway | null, list = library) => rowsIn(facts.colors, one, find(list), coated);
const become = (rows: Row[]) => Object.fromEntries(rows.map((r) => [r.key, r.to]));

/** What sharp paints (librsvg), one pixel to a unit of the drawing. */
async function painted(text: string) {
  const { data, info } = await sharp(Buffer.from(text), { density: 300 })
    .resize({ width: 200, kernel: 'nearest' })
    .flatten({ background: '#ffffff' })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return (x: number, y: number) => {
    const i = (y * info.width + x) * 3;
    return `#${data.subarray(i, i + 3).toString('hex')}`;
  };
}

describe('a colourway', () => {
  it('gives colours swatches, single parts their own, and leaves the rest as drawn', async () => {
    const rows = rowsOf(
      colorway({ '#2c4c80': { swatch: navy }, [keyOf('funnel')]: { color: parseColor('#ffcc00') } }),
    );
    expect(become(rows)).toEqual({
      '#d8cfae': '#d8cfae',
      '#c8102e': '#c8102e',
      '#2c4c80': '#14304a',
      [keyOf('funnel')]: '#ffcc00',
      '#7b9d9d': '#7b9d9d',
    });
    expect(rows.map((r) => r.state)).toEqual(['drawn', 'swatch', 'own', 'drawn', 'drawn']);
    const out = madeSvg(madeOf(artwork, ordersOf(rows)));
    const at = await painted(out);
    expect([at(30, 60), at(45, 30), at(5, 5), at(160, 50)]).toEqual([
      '#14304a',
      '#ffcc00',
      '#d8cfae',
      '#c8102e',
    ]);
    // as it was drawn it is the same to the letter
    expect(madeSvg(madeOf(artwork, ordersOf(rowsOf(null))))).toBe(svg);
  });

  it('follows its swatches when they are recoloured and renamed, and keeps the color of one that is deleted', () => {
    const one = colorway({ '#2c4c80': { swatch: navy } });
    const other = { ...navy, name: 'Deep navy', color: parseColor('#001122') };
    const [row] = rowsOf(one, [other]).filter((r) => r.key === '#2c4c80');
    expect([row!.to, row!.swatch?.name]).toEqual(['#001122', 'Deep navy']);
    const [gone] = rowsOf(one, []).filter((r) => r.key === '#2c4c80');
    expect([gone!.to, gone!.state, gone!.was]).toEqual(['#14304a', 'gone', 'Navy']);
  });

  it('dyes to match: what follows another has its colour, or a shade of it, and never follows itself', () => {
    const one = colorway({
      '#2c4c80': { swatch: red },
      '#7b9d9d': { follows: '#2c4c80', color: red.color },
      '#c8102e': { follows: '#7b9d9d', lighter: 20, color: red.color },
    });
    const rows = new Map(rowsOf(one).map((r) => [r.key, r]));
    expect(rows.get('#7b9d9d')).toMatchObject({
      state: 'follows',
      swatch: red,
      to: rows.get('#2c4c80')!.to,
      followsName: 'hull',
    });
    // L* 40 and 20 more; a shade of a spot ink is not that ink
    expect(toLab(rows.get('#c8102e')!.color, coated)).toEqual([60, 60, 30]);
    expect(rows.get('#c8102e')!.swatch).toBeUndefined();
    expect([wouldTurn(one, '#2c4c80', '#c8102e'), wouldTurn(one, '#d8cfae', '#c8102e')]).toEqual([
      true,
      false,
    ]);
    const turning = colorway({
      '#2c4c80': { follows: '#7b9d9d', color: red.color },
      '#7b9d9d': { follows: '#2c4c80', color: red.color },
    });
    expect(rowsOf(turning)).toHaveLength(4);
    // what follows something as drawn is as that is drawn
    const [plain] = rowsOf(colorway({ '#7b9d9d': { follows: '#d8cfae', color: red.color } })).filter(
      (r) => r.key === '#7b9d9d',
    );
    expect(plain!.to).toBe('#d8cfae');
  });

  it('is compared part by part with another', () => {
    const a = rowsOf(colorway({ '#2c4c80': { swatch: navy } }));
    const b = rowsOf(colorway({ [keyOf('funnel')]: { swatch: sand }, '#2c4c80': { swatch: navy } }));
    const found = differences(a, b, coated);
    expect(found.map((d) => [d.a.to, d.b.to])).toEqual([['#14304a', '#e6d3a3']]);
    expect(found[0]!.deltaE00).toBeCloseTo(deltaE00(toLab(navy.color, coated), toLab(sand.color, coated)), 9);
    expect(differences(a, a, coated)).toEqual([]);
  });
});

describe('colourways at one stroke', () => {
  const named = (links: Record<string, Wish>) =>
    Object.fromEntries(Object.entries(links).map(([k, w]) => [k, 'swatch' in w ? w.swatch.name : '']));

  it('by role: the swatch whose role the parts are called by', () => {
    expect(named(linksBy('role', facts.colors, library, coated))).toEqual({
      '#d8cfae': 'Sand',
      '#2c4c80': 'Navy',
    });
  });

  it('by area, in the order of the swatches; technical ones are for machines', () => {
    expect(named(linksBy('area', facts.colors, library, coated))).toMatchObject({
      '#d8cfae': 'Navy',
      '#2c4c80': 'Sand',
      '#c8102e': 'Red',
    });
    expect(linksBy('area', facts.colors, [cut], coated)).toEqual({});
  });

  it('by lightness: what is lighter stays no darker', () => {
    const links = linksBy('lightness', facts.colors, library, coated);
    const lightnessOf = (c: Color) => toLab(c, coated)[0];
    const sorted = [...facts.colors].sort((a, b) => lightnessOf(a.color) - lightnessOf(b.color));
    const after = sorted.map((c) => lightnessOf((links[c.hex] as { swatch: Swatch }).swatch.color));
    expect(after).toEqual([...after].sort((a, b) => a - b));
    expect(Math.max(...after)).toBeCloseTo(lightnessOf(sand.color), 9);
  });

  it('by the nearest, which a search through all confirms', () => {
    const links = linksBy('nearest', facts.colors, library, coated);
    for (const { hex, color } of facts.colors) {
      const best = [navy, sand, red].sort(
        (a, b) =>
          deltaE00(toLab(a.color, coated), toLab(color, coated)) -
          deltaE00(toLab(b.color, coated), toLab(color, coated)),
      )[0]!;
      expect((links[hex] as { swatch: Swatch }).swatch.name).toBe(best.name);
    }
  });

  it('at random: the same for the same seed, and every swatch once before any comes twice', () => {
    const many = Array.from({ length: 9 }, (_, i) => swatch(`s${i}`, `hsl(${i * 40} 60% 50%)`));
    const one = named(linksBy('random', facts.colors, many, coated, 7));
    expect(named(linksBy('random', facts.colors, many, coated, 7))).toEqual(one);
    expect(new Set(Object.values(one)).size).toBe(facts.colors.length);
    const seeds = new Set(
      [1, 2, 3, 4, 5].map((s) => JSON.stringify(named(linksBy('random', facts.colors, many, coated, s)))),
    );
    expect(seeds.size).toBe(5);
  });
});

it('finds colours off the palette, the nearest first, and none that is a swatch already', () => {
  const shifted = swatch('Hull', '#2d4c81');
  const rows = rowsOf(colorway({ '#c8102e': { swatch: red } }));
  const strays = straysIn(rows, [shifted, sand, red], coated);
  expect(strays.map((s) => [s.row.key, s.nearest.name])).toEqual([
    ['#2c4c80', 'Hull'],
    ['#d8cfae', 'Sand'],
    ['#7b9d9d', 'Sand'],
  ]);
  expect(strays[0]!.deltaE00).toBeLessThan(1);
  expect(straysIn(rowsOf(null), [swatch('Same', '#2c4c80')], coated).filter((s) => !isOff(s))).toHaveLength(
    1,
  );
});

describe('lines for machines', () => {
  it('have their width in mm however much their shape is scaled, and no fill', async () => {
    const rows = rowsOf(colorway({ '#c8102e': { swatch: cut, line: 2 } }));
    const out = madeSvg(madeOf(artwork, ordersOf(rows)));
    // a mm is two units of the drawing, and the circle is drawn at twice its size
    expect(out).toContain('fill:none;stroke:#ef6a18;stroke-width:2"');
    const at = await painted(out);
    expect([at(160, 50), at(180, 50), at(160, 30)]).toEqual(['#d8cfae', '#ef6a18', '#ef6a18']);
    // everything else stays to the letter
    expect(out.replace(' style="fill:none;stroke:#ef6a18;stroke-width:2"', '')).toBe(svg);
  });

  it('go around shapes: so far outside, round at the corners, without the holes', async () => {
    const shapes = readArtwork(
      `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 200 200"><path id="frame" fill-rule="evenodd" d="M50 50H150V150H50ZM80 80H120V120H80Z"/></svg>`,
    );
    const { artwork: around, keys } = await withOutlines(shapes, [
      { of: [shapes.parts[0]!.key], offset: 5, width: 0.25 },
    ]);
    const line = around.parts.find((p) => p.key === keys[0])!;
    const points = [...line.node.attributes.d!.matchAll(/(-?[\d.]+) (-?[\d.]+)/g)].map((m) => [
      Number(m[1]),
      Number(m[2]),
    ]);
    const box = [0, 1].flatMap((i) => [
      Math.min(...points.map((p) => p[i]!)),
      Math.max(...points.map((p) => p[i]!)),
    ]);
    for (const [i, v] of [40, 160, 40, 160].entries()) expect(box[i]).toBeCloseTo(v, 1);
    // Steiner's formula: area, perimeter times the offset, and a circle for the corners; in mm
    const shoelace = points.reduce((sum, [x, y], i) => {
      const [nx, ny] = points[(i + 1) % points.length]!;
      return sum + (x! * ny! - nx! * y!) / 2;
    }, 0);
    expect(Math.abs(shoelace) / 4).toBeCloseTo(50 * 50 + 4 * 50 * 5 + Math.PI * 25, 0);
    // the parts that were there keep their keys, and one hole's line is not drawn
    expect(around.parts[0]!.key).toBe(shapes.parts[0]!.key);
    expect(line.node.attributes.d!.match(/M/g)).toHaveLength(1);
    await expect(
      withOutlines(shapes, [{ of: [shapes.parts[0]!.key], offset: -30, width: 1 }]),
    ).rejects.toThrow(/nothing is left/);
  });

  it('go around strokes by their width, and around what is drawn again in both places', async () => {
    const shapes = readArtwork(
      `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 100 50"><defs><circle id="dot" r="5"/></defs><use href="#dot" x="20" y="20"/><use href="#dot" x="70" y="20"/><path id="bar" d="M20 40H60" stroke="#ff0000" stroke-width="4"/></svg>`,
    );
    const { artwork: around, keys } = await withOutlines(shapes, [
      { of: shapes.parts.map((p) => p.key), offset: 1, width: 0.25 },
    ]);
    const d = around.parts.find((p) => p.key === keys[0])!.node.attributes.d!;
    const pieces = d
      .split('M')
      .slice(1)
      .map((piece) => {
        const xs = [...piece.matchAll(/(-?[\d.]+) (-?[\d.]+)/g)].map((m) => Number(m[1]));
        return [Math.min(...xs), Math.max(...xs)].map((v) => Math.round(v * 10) / 10);
      });
    expect(pieces.sort((a, b) => a[0]! - b[0]!)).toEqual([
      [14, 26],
      [17, 63],
      [64, 76],
    ]);
  });
});

it('separates into greys: a plate’s own ink black, others knocked out, technical inks over all', async () => {
  const rows = rowsOf(colorway({ '#2c4c80': { swatch: red }, '#c8102e': { swatch: cut } }));
  const inks = { id: 'l', name: '', groups: [{ id: 'g', name: '', swatches: library }] };
  const plates = separated(madeOf(artwork, ordersOf(rows)), inks, coated);
  expect(plates.map((p) => p.name)).toEqual(['Cyan', 'Magenta', 'Yellow', 'Black', 'Red', 'Cutting']);
  const at = async (name: string) => painted(plates.find((p) => p.name === name)!.svg);
  const [yellow, spot, lines] = [await at('Yellow'), await at('Red'), await at('Cutting')];
  expect([spot(30, 60), spot(5, 5), spot(160, 50)]).toEqual(['#000000', '#ffffff', '#ffffff']);
  expect([lines(160, 50), lines(30, 60)]).toEqual(['#000000', '#ffffff']);
  // the spot ink takes the yellow of the cloth away, the technical one lies over it
  expect(yellow(30, 60)).toBe('#ffffff');
  expect(yellow(160, 50)).toBe(yellow(5, 5));
  expect(yellow(5, 5)).not.toBe('#ffffff');
});

it('says by the colour of a pixel which part is there, whatever it is painted with', async () => {
  const faint = readArtwork(svg.replace('id="buoy"', 'id="buoy" opacity="0.3" fill-opacity="0.5"'));
  const map = partMap(madeOf(faint, ordersOf(rowsOf(null))));
  const { data } = await sharp(Buffer.from(map), { density: 300 })
    .resize({ width: 200, kernel: 'nearest' })
    .flatten({ background: '#ffffff' })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const nameAt = (x: number, y: number) => {
    const i = (y * 200 + x) * 3;
    const id = partAt((data[i]! << 16) | (data[i + 1]! << 8) | data[i + 2]!, faint.parts.length);
    return id === null ? null : faint.parts[id]!.name;
  };
  expect([nameAt(5, 5), nameAt(30, 60), nameAt(45, 30), nameAt(160, 50)]).toEqual([
    'cloth',
    'hull',
    'funnel',
    'buoy',
  ]);
  for (const id of [0, 1, 77, 49_999]) expect(partAt(0xffffff, id)).toBeNull();
});

it('states the size that its pixels were said to be worth', async () => {
  const pixels = readArtwork(
    '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="150"><rect width="10" height="10" fill="#102030"/></svg>',
  );
  const made = madeOf(pixels, []);
  expect(trueSize(pixels.size, { ppi: 72 }).width).toBeCloseTo((300 * 25.4) / 72, 9);
  const size = trueSize(pixels.size, { width: 60 });
  expect([size.width, size.height, size.unit]).toEqual([60, 30, 'mm']);
  const out = madeSvg(made, { size });
  expect(out).toContain('width="60mm" height="30mm" viewBox="0 0 300 150"');
  // sharp takes an inch of mm for 72 pixels at its usual density: 60 mm are 170
  expect((await sharp(Buffer.from(out)).metadata()).width).toBe(Math.round((60 / 25.4) * 72));
  expect(readArtwork(out).size).toMatchObject({ width: 60, height: 30, unit: 'mm' });
});

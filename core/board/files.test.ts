import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { parseColor } from '../color/index.ts';
import { PdfInks } from '../pdf/inks.ts';
import { folder, plates, undamaged } from '../pdf/testing.ts';
import { type Board, emptyBoard, gradientThrough, type Library, type Swatch } from '../swatch/index.ts';
import { coated } from '../testing.ts';
import { fontCss, outlinesOf } from './fonts.ts';
import { layOut } from './lay-out.ts';
import { textsOf } from './marks.ts';
import { boardPdf } from './pdf.ts';
import { boardSvg, workKey } from './svg.ts';

// Files of boards in the hands of others: Ghostscript separates the PDF, mutool reads its boxes, librsvg (in sharp) draws the SVG.

const services = await localServices();
const swatch = (id: string, name: string, color: string, kind: Swatch['kind'] = 'process'): Swatch => ({
  ...{ id, name, kind, color: parseColor(color) },
});
const navy = swatch('n', 'Hull navy', 'Lab 21 -2 -22', 'spot');
const gold = swatch('y', 'Line gold', 'Lab 76 9 48', 'spot');
const sand = swatch('s', 'Sand', '#e2d2b4');
const red = swatch('r', 'Boot-top red', '#b61e28');
const library: Library = {
  id: 'l',
  name: 'Livery',
  groups: [{ id: 'g', name: 'Hull', swatches: [navy, gold, sand, red] }],
  items: [gradientThrough('gr', 'Navy to gold', [navy, gold], 'oklab')],
};
const board = (more: Partial<Board['data']> = {}): Board => {
  const made = emptyBoard(
    'b',
    'Livery on one page',
    [navy, gold, sand, red].map((s, i) => ({
      id: `o${i}`,
      of: 'swatch',
      refs: [s.id],
      name: s.name,
      weight: [6, 1, 3, 2][i]!,
    })),
  );
  return { ...made, data: { ...made.data, ...more } };
};
const pdfOf = async (one: Board, more: Partial<Parameters<typeof boardPdf>[1]> = {}) => {
  const laid = layOut(one, { library, condition: coated, pictures: [] });
  const { pages } = laid;
  const ground = laid.printsGround ? laid.ground : null;
  const parts = { pictures: new Map(), works: new Map() };
  const made = await boardPdf(pages, { library, title: one.name, ground, parts, services, ...more });
  return { ...made, pages };
};
const svgOf = async (one: Board, outlines = true) => {
  const { pages, ground } = layOut(one, { library, condition: coated, pictures: [] });
  const drawing = {
    library,
    condition: coated,
    ground,
    title: one.name,
    pictures: new Map(),
    works: new Map(),
  };
  const { loadFont } = services;
  return boardSvg(
    pages[0]!,
    outlines
      ? { ...drawing, outline: await outlinesOf(loadFont, textsOf(pages)) }
      : { ...drawing, fontCss: await fontCss(loadFont, async () => 'data:font/woff;base64,') },
  );
};
const DPI = 72;
const pixels = async (picture: Buffer | string) => {
  const { data, info } = await sharp(Buffer.from(picture), { density: DPI })
    .flatten({ background: '#fff' })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data, ...info };
};
const shotOf = async (bytes: Uint8Array) => {
  const path = join(folder, 'board.pdf');
  writeFileSync(path, bytes);
  const out = join(folder, 'board.png');
  execFileSync('gs', [
    '-q',
    '-dNOPAUSE',
    '-dBATCH',
    '-dSAFER',
    '-sDEVICE=png16m',
    `-r${DPI}`,
    `-sOutputFile=${out}`,
    path,
  ]);
  return pixels(await sharp(out).png().toBuffer());
};

describe('a board as PDF', () => {
  it('has each ink on its plate, as much of the page as its weight says, and the inks of gradients there, too', async () => {
    const one = board();
    one.data.labels = [];
    const { bytes } = await pdfOf(one);
    undamaged(bytes);
    const found = await plates(bytes);
    expect([...found.keys()]).toEqual(expect.arrayContaining(['Hull navy', 'Line gold']));
    const whole = async (name: string) => {
      const data = found.get(name)!;
      return data.filter((v) => v < 10).length;
    };
    const [navyDots, goldDots] = [await whole('Hull navy'), await whole('Line gold')];
    expect(navyDots / goldDots).toBeCloseTo(6, 0);

    const graded = board({
      objects: [{ id: 'x', of: 'gradient', refs: ['gr'], name: '', weight: 1 }],
      labels: [],
    });
    const mixed = await plates((await pdfOf(graded)).bytes);
    for (const name of ['Hull navy', 'Line gold']) {
      const data = mixed.get(name)!;
      // every amount between none and all, and on no process plate
      expect(new Set(data.map((v) => v >> 4)).size, name).toBeGreaterThan(12);
    }
    expect(mixed.get('Magenta')!.every((v) => v > 250)).toBe(true);
  });

  it('is cut where its boxes say, with colours beyond the edge and marks on every plate', async () => {
    const { bytes } = await pdfOf(board({ page: { size: 'a5', landscape: false, margin: 0 } }), {
      bleed: true,
      marks: true,
    });
    const path = join(folder, 'boxes.pdf');
    writeFileSync(path, bytes);
    const said = execFileSync('mutool', ['pages', path]).toString();
    const box = (name: string) =>
      ['l', 'b', 'r', 't'].map((side) =>
        Number(new RegExp(`<${name}[^>]*\\b${side}="([\\d.-]+)"`).exec(said)![1]),
      );
    const [left, bottom, right, top] = box('TrimBox') as [number, number, number, number];
    const mm = 72 / 25.4;
    expect((right - left) / mm).toBeCloseTo(148, 2);
    expect((top - bottom) / mm).toBeCloseTo(210, 2);
    expect(box('BleedBox').map((v, i) => Math.abs(v - [left, bottom, right, top][i]!) / mm)).toEqual(
      [3, 3, 3, 3].map((v) => expect.closeTo(v, 2)),
    );
    // navy begins at the upper left corner, and goes 3 mm beyond it
    const { data, width } = await shotOf(bytes);
    const at = (x: number, y: number) => [...data.subarray(3 * (y * width + x), 3 * (y * width + x) + 3)];
    expect(at(Math.round(left) - 7, Math.round(left) - 7)[0]).toBeLessThan(80);
    expect(at(Math.round(left) - 10, Math.round(left) - 10)).toEqual([255, 255, 255]);
    const all = await plates(bytes);
    for (const [name, plate] of all)
      expect(
        plate.some((v) => v < 128),
        name,
      ).toBe(true);
  });

  it('prints a dark ground, and never the colour of the paper', async () => {
    const inked = async (paper: 'condition' | 'dark') => {
      const one = board({ paper, labels: [], objects: [], showsCondition: false });
      const all = await plates((await pdfOf({ ...one, name: '' })).bytes);
      return [...all.values()].some((plate) => plate.some((v) => v < 250));
    };
    expect(await inked('condition')).toBe(false);
    expect(await inked('dark')).toBe(true);
  });

  it('has live text, which letters of no font here are reported to lack', async () => {
    const named = {
      ...library,
      groups: [
        {
          ...library.groups[0]!,
          swatches: [
            { ...navy, name: 'Hafenblau für Übersee' },
            { ...gold, name: '港の青' },
            { ...sand, name: 'Мокрый песок' },
            { ...red, name: 'Kékfestő \u2603' },
          ],
        },
      ],
    };
    const { pages, ground } = layOut(board(), { library: named, condition: coated, pictures: [] });
    const parts = { pictures: new Map(), works: new Map() };
    const { bytes, warnings } = await boardPdf(pages, {
      library: named,
      title: 't',
      ground,
      parts,
      services,
    });
    const path = join(folder, 'text.pdf');
    writeFileSync(path, bytes);
    const text = execFileSync('mutool', ['draw', '-q', '-F', 'text', path]).toString();
    expect(text).toContain('Hafenblau für Übersee');
    expect(text).toContain('Livery on one page');
    for (const name of ['港の青', 'Мокрый песок', 'Kékfestő ?']) expect(text).toContain(name);
    // a snowman has no font here
    expect(warnings).toEqual([expect.stringMatching(/question marks/)]);
  });

  it('has the same bytes each time, and can be a PDF/X-4', async () => {
    const [a, b] = [await pdfOf(board()), await pdfOf(board())];
    expect(Buffer.compare(a.bytes, b.bytes)).toBe(0);
    const { bytes } = await pdfOf(board(), { x4: true });
    expect((await PdfInks.open(bytes)).facts()).toMatchObject({ conformance: 'PDF/X-4' });
  });

  it('takes pictures cut to their place, and works as they are, on their plates', async () => {
    const picture = await sharp({ create: { width: 40, height: 20, channels: 3, background: '#c8102e' } })
      .jpeg()
      .toBuffer();
    const inner = (await pdfOf(board({ labels: [] }))).bytes;
    const own: Library = {
      ...library,
      items: [
        {
          ...{ id: 'w', kind: 'artwork', name: 'sheet.pdf', refs: [] },
          data: {
            asset: 'a'.repeat(64),
            form: 'pages',
            parts: 1,
            colors: [],
            count: 1,
            width: 297,
            height: 210,
            unit: 'mm',
          },
        },
      ],
    };
    const one = board({
      labels: [],
      objects: [
        { id: 'p', of: 'picture', refs: ['pic'], name: '', weight: 2 },
        { id: 'w', of: 'work', refs: ['w'], name: '', weight: 2 },
      ],
    });
    const pictures = [{ id: 'pic', name: 'x', width: 40, height: 20, colors: [] }];
    const { pages, ground } = layOut(one, { library: own, condition: coated, pictures });
    const { bytes } = await boardPdf(pages, {
      ...{ library: own, title: 't', ground, services },
      parts: {
        pictures: new Map([['pic', picture]]),
        works: new Map([[workKey('w', null), { bytes: inner }]]),
      },
    });
    undamaged(bytes);
    expect([...(await plates(bytes)).keys()]).toContain('Hull navy');
    const { data, width, height } = await shotOf(bytes);
    const place = pages[0]!.marks.find((m) => m.is === 'picture')!;
    const at = (x: number, y: number) => {
      const [px, py] = [Math.floor((x / 297) * width), Math.floor((y / 210) * height)];
      return data[3 * (py * width + px) + 1]!;
    };
    // red all over its box, and paper beside it
    for (const [x, y] of [
      [1, 1],
      [place.width - 1, 1],
      [place.width / 2, place.height - 1],
    ] as const)
      expect(at(place.x + x, place.y + y)).toBeLessThan(60);
    expect(at(place.x - 2, place.y + 4)).toBe(255);
  });
});

describe('a board as SVG', () => {
  it('has areas as large as weights say, within 1 % of the pixels', async () => {
    const { data, width, height } = await pixels(await svgOf(board({ labels: [] })));
    const count = (hex: string) => {
      const [r, g, b] = [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16));
      let n = 0;
      for (let i = 0; i < data.length; i += 3)
        if (Math.abs(data[i]! - r!) < 3 && Math.abs(data[i + 1]! - g!) < 3 && Math.abs(data[i + 2]! - b!) < 3)
          n++;
      return n;
    };
    expect(count('#e2d2b4') / count('#b61e28') / 1.5).toBeCloseTo(1, 1.9);
    expect(width * height).toBeGreaterThan(400_000);
  });

  it('looks as its PDF does', async () => {
    // colours of a screen, which both show alike
    const own = { ...library, groups: [{ ...library.groups[0]!, swatches: [sand, red] }] };
    const objects = [sand, red].map((s) => ({
      id: s.id,
      of: 'swatch' as const,
      refs: [s.id],
      name: s.name,
      weight: 2,
    }));
    const one = board({ objects });
    const { pages, ground } = layOut(one, { library: own, condition: coated, pictures: [] });
    const parts = { pictures: new Map(), works: new Map() };
    const drawing = {
      library: own,
      condition: coated,
      ground,
      title: '',
      pictures: new Map(),
      works: new Map(),
    };
    const svg = await pixels(
      boardSvg(pages[0]!, { ...drawing, outline: await outlinesOf(services.loadFont, textsOf(pages)) }),
    );
    const pdf = await shotOf(
      (await boardPdf(pages, { library: own, title: '', ground, parts, services })).bytes,
    );
    const [w, h] = [Math.min(svg.width, pdf.width), Math.min(svg.height, pdf.height)];
    let off = 0;
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const [a, b] = [3 * (y * svg.width + x), 3 * (y * pdf.width + x)];
        if ([0, 1, 2].some((c) => Math.abs(svg.data[a + c]! - pdf.data[b + c]!) > 60)) off++;
      }
    // edges of letters alone
    expect(off / (w * h)).toBeLessThan(0.005);
  });

  it('has text as text, with its fonts, or outlines of every letter', async () => {
    const live = await svgOf(board(), false);
    expect(live).toMatch(/<text[^>]*>Boot-top red<\/text>/);
    expect(live).toContain('@font-face{font-family:"Hanken Grotesk";font-weight:600');
    const outlined = await svgOf(board());
    expect(outlined).not.toContain('<text');
    expect(outlined.match(/<path transform/g)!.length).toBe(live.match(/<text /g)!.length);
  });
});

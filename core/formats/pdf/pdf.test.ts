import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import PDFDocument from 'pdfkit';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { localServices } from '../../../cli/engine.ts';
import { parseColor } from '../../color/index.ts';
import { gradientsOf } from '../../swatch/gradient.ts';
import { countingIds, type Library, type Swatch } from '../../swatch/model.ts';
import { fleet, readBy } from '../../testing.ts';
import { changes } from '../changes.ts';
import { recognise } from '../registry.ts';
import { pdf } from './pdf.ts';

const services = await localServices();

// Second opinions: Debian's ghostscript and mupdf-tools, installed by `npm test`.
const folder = mkdtempSync(join(tmpdir(), 'papillon-pdf-'));
afterAll(() => rmSync(folder, { recursive: true }));

const encode = (library: Library) => pdf.encode(library, services);
const file = async (library: Library, name = 'sheet') => {
  const path = join(folder, `${name}.pdf`);
  writeFileSync(path, await encode(library));
  return path;
};

describe('PDF sheet', () => {
  it('ghostscript separates it: a plate for each spot and technical swatch under its exact name', async () => {
    const out = join(folder, 'plate');
    execFileSync('gs', [
      '-q',
      '-dNOPAUSE',
      '-dBATCH',
      '-dSAFER',
      '-sDEVICE=tiffsep',
      '-r36',
      `-sOutputFile=${out}%d.tif`,
      await file(fleet),
    ]);
    const plates = readdirSync(folder).filter((f) => f.startsWith('plate1'));
    const inks = plates.flatMap((p) => /\((.+)\)/.exec(p)?.[1] ?? []);
    expect(inks.sort()).toEqual(['Black', 'Boot-top red', 'Cutting', 'Cyan', 'Magenta', 'Yellow']);
    // each spot stands on its own plate, full strength (0 is full ink), and nowhere on another's
    const ink = async (name: string) => {
      const { data } = await sharp(join(folder, `plate1(${name}).tif`))
        .greyscale()
        .raw()
        .toBuffer({ resolveWithObject: true });
      return data.reduce((n, v) => n + (v < 10 ? 1 : 0), 0);
    };
    const [red, cut] = [await ink('Boot-top red'), await ink('Cutting')];
    // a chip is 119 by 54 points, which is 59 by 27 dots at 36 to the inch
    for (const dots of [red, cut]) expect(Math.abs(dots - 59 * 27)).toBeLessThan(200);
  });

  it('puts tints on the plate of their ink, as much as they are of it', async () => {
    const solid: Swatch = { id: 'r', name: 'Fähre #5', kind: 'spot', color: parseColor('Lab 40 60 30') };
    const tint = (percent: number): Swatch => ({
      ...solid,
      id: `${percent}`,
      name: `Fähre #5 ${percent} %`,
      color: parseColor(`Lab ${100 - 0.6 * percent} ${0.6 * percent} ${0.3 * percent}`),
      tint: { of: solid.name, percent },
    });
    const without = {
      id: 'l',
      name: 'Tints',
      groups: [{ id: 'g', name: '', swatches: [tint(50), tint(25)] }],
    };
    const library = {
      ...without,
      groups: [{ ...without.groups[0]!, swatches: [solid, tint(50), tint(25)] }],
    };
    for (const [n, some] of [library, without].entries()) {
      execFileSync('gs', [
        '-q',
        '-dNOPAUSE',
        '-dBATCH',
        '-dSAFER',
        '-sDEVICE=tiffsep',
        '-r36',
        `-sOutputFile=${join(folder, `tint${n}-%d.tif`)}`,
        await file(some),
      ]);
      const plates = readdirSync(folder).filter((f) => f.startsWith(`tint${n}-1(`) && f.includes('hre'));
      // one plate for the ink and all its tints
      expect(plates.length).toBe(1);
      const data = await sharp(join(folder, plates[0]!)).greyscale().raw().toBuffer();
      const dots = (ink: number) => data.filter((v) => Math.abs(v - 255 * (1 - ink)) < 3).length;
      for (const ink of [0.5, 0.25]) expect(Math.abs(dots(ink) - 59 * 27)).toBeLessThan(200);
      const report = await changes(some, pdf, services);
      expect(report.changes.filter((c) => c.what === 'tint')).toEqual([]);
      expect(report.largestDeltaE00).toBeLessThan(0.1);
    }
  });

  it('no ink paints on a plate that is not its own: reserved, doubled and missing names get another, which is reported', async () => {
    const names = [
      'All',
      'None',
      'Cyan',
      '',
      '',
      'Same',
      'Same',
      'قارب',
      '船',
      `${'x'.repeat(130)}1`,
      `${'x'.repeat(130)}2`,
    ];
    const swatches = names.map(
      (name, i): Swatch => ({
        id: `${i}`,
        name,
        kind: i % 2 ? 'technical' : 'spot',
        color: parseColor(`Lab 40 ${i * 5} 20`),
      }),
    );
    const twin: Swatch = { ...swatches[7]!, id: 'twin' };
    const library = {
      id: 'l',
      name: 'Plates',
      groups: [{ id: 'g', name: '', swatches: [...swatches, twin] }],
    };
    execFileSync('gs', [
      ...['-q', '-dNOPAUSE', '-dBATCH', '-dSAFER', '-dMaxSpots=60', '-sDEVICE=tiffsep', '-r18'],
      `-sOutputFile=${join(folder, 'names%d.tif')}`,
      await file(library, 'names'),
    ]);
    // ghostscript writes the bytes of a name that are not ASCII as %XX
    const plates = readdirSync(folder).flatMap((f) => /^names1\((.+)\)\.tif$/.exec(f)?.[1] ?? []);
    const process = ['Cyan', 'Magenta', 'Yellow', 'Black'];
    const spots = plates.filter((p) => !process.includes(p)).map((p) => decodeURIComponent(p));
    const long = 'x'.repeat(127);
    expect(spots.sort()).toEqual(
      [
        'All ink',
        'None ink',
        'Cyan ink',
        'Spot',
        'Spot 2',
        'Same',
        'Same 2',
        'قارب',
        '船',
        long,
        `${long.slice(2)} 2`,
      ].sort(),
    );
    // a reserved name is nowhere in it as an ink
    expect(new TextDecoder('latin1').decode(await encode(library))).not.toMatch(
      /Separation \/(All|None|Cyan|Spot#20?)?[ \n]/,
    );
    const { changes: told } = await changes(library, pdf, services);
    expect(told.filter((c) => c.what === 'name').map((c) => c.after)).toEqual([
      'All ink',
      'None ink',
      'Cyan ink',
      'Spot',
      'Spot 2',
      'Same 2',
      long,
      `${long.slice(2)} 2`,
    ]);
  });

  it('mutool finds its fonts, separations and text on every page', async () => {
    const many = {
      ...fleet,
      groups: [
        fleet.groups[0],
        {
          ...fleet.groups[1],
          swatches: Array.from({ length: 40 }, (_, i) => ({
            ...fleet.groups[1].swatches[0],
            id: `${i}`,
            name: `Red ${i}`,
            color: parseColor(`Lab 40 ${i} 30`),
          })),
        },
      ],
    };
    const path = await file(many, 'many');
    const info = execFileSync('mutool', ['info', path]).toString();
    expect(info).toMatch(/Pages: 2/);
    expect(info).toMatch(/Fonts \(\d+\)/);
    const text = execFileSync('mutool', ['draw', '-q', '-F', 'txt', path]).toString();
    for (const word of ['Fleet livery', 'Hull', 'Red 0', 'Red 39', 'KF 204', 'waterline', '1 / 2', '2 / 2'])
      expect(text).toContain(word);
    // no complaint about the file's structure
    expect(execFileSync('mutool', ['show', path, 'trailer']).toString()).toMatch(/Root/);
  });

  it('has names of any script as letters, and says how they are read', async () => {
    const names = [
      'Kékfestő',
      'Θάλασσα',
      'Мокрый песок',
      'สีฟ้า',
      '藍色の海',
      '파란 하늘',
      'Xanh lục',
      'כחול',
      'أزرق',
    ];
    const swatches = names.map((name, i) => ({ ...fleet.groups[1].swatches[0], id: `${i}`, name }));
    const path = join(folder, 'scripts.pdf');
    writeFileSync(path, await encode({ ...fleet, groups: [{ ...fleet.groups[1], swatches }] }));
    const text = execFileSync('mutool', ['draw', '-q', '-F', 'txt', path]).toString().normalize('NFKC');
    for (const name of names.slice(0, -2)) expect(text).toContain(name.normalize('NFKC'));
    // mutool has letters as they are seen; readers that know ActualText (ISO 32000-1, 14.9.4) have them as they are read
    expect(text).toContain('לוחכ');
    const plain = join(folder, 'scripts-plain.pdf');
    execFileSync('mutool', ['clean', '-d', path, plain]);
    const content = readFileSync(plain);
    for (const name of names.slice(-2)) {
      const actual = Buffer.from(`\ufeff${name}`, 'utf16le').swap16();
      expect(content.includes(actual) || content.includes(actual.toString('hex').toUpperCase()), name).toBe(
        true,
      );
    }
  });

  it('paints process colours in DeviceCMYK and ICC RGB', async () => {
    const source = new TextDecoder('latin1').decode(await encode(fleet));
    expect(source).toContain('0.04 0.26 0.7 0.12 k');
    expect(source).toMatch(/ICCBased/);
    expect(source).toMatch(/\/Separation \/Boot-top#20red/);
  });

  it('names of any length and script neither break it nor change a colour', async () => {
    const names = ['قارب الليل', 'x'.repeat(200), '(un(balanced', '\\ #20 /', '🚢', ''];
    const library = {
      ...fleet,
      groups: [
        {
          id: 'g',
          name: '\u0000odd',
          swatches: names.map((name, i) => ({ ...fleet.groups[1].swatches[0], id: `${i}`, name })),
        },
      ],
    };
    const path = await file(library, 'odd');
    const warnings = execFileSync('gs', [
      '-q',
      '-dNOPAUSE',
      '-dBATCH',
      '-dSAFER',
      '-sDEVICE=nullpage',
      path,
    ]).toString();
    expect(warnings).toBe('');
    expect(readBy(pdf, await encode(library)).swatches.map((s) => [s.name, s.color])).toEqual(
      // a plate has at least some name, of 127 bytes at most
      names.map((n) => [n.slice(0, 127) || 'Spot', fleet.groups[1].swatches[0].color]),
    );
  });

  it('the same library always gives the same file', async () => {
    expect(await encode(fleet)).toEqual(await encode(fleet));
  });
});

describe('PDF of others', () => {
  const read = async (bytes: Uint8Array) => {
    const { library, warnings } = await pdf.decode(bytes, countingIds());
    const lines = library.groups.flatMap((g) =>
      g.swatches.map(
        (s) =>
          `${g.name ? `${g.name} | ` : ''}${s.kind} ${s.name} ${s.color.space} ${s.color.components.map((v) => Math.round(v * 1000) / 1000).join(' ')}`,
      ),
    );
    return { lines, warnings, library };
  };
  /** What ghostscript, which is not our code, makes of PostScript. */
  const ghostscript = (postscript: string) => {
    const [from, to] = [join(folder, 'made.ps'), join(folder, 'made.pdf')];
    writeFileSync(from, `%!PS\n${postscript}`);
    execFileSync('gs', [
      '-q',
      '-dNOPAUSE',
      '-dBATCH',
      '-dSAFER',
      '-sDEVICE=pdfwrite',
      `-sOutputFile=${to}`,
      from,
    ]);
    return new Uint8Array(readFileSync(to));
  };

  it('gives the names and values of its separations and the process colours of each page', async () => {
    const bytes = ghostscript(`
      [/Separation (Navy blue) /DeviceCMYK {dup 0.9 mul exch dup 0.6 mul exch dup 0 mul exch 0.3 mul}] setcolorspace 1 setcolor 10 10 50 50 rectfill
      0.5 setcolor 70 10 50 50 rectfill
      [/DeviceN [(Gold) (Night boat)] /DeviceRGB {2 copy 0.2 mul exch 0.8 mul add 3 1 roll pop pop 0.4 0.1}] setcolorspace 1 0 setcolor 10 80 50 50 rectfill
      0.1 0.2 0.3 0.4 setcmykcolor 10 150 50 50 rectfill 1 0 0 setrgbcolor 70 150 50 50 rectfill showpage
      0.25 setgray 10 10 50 50 rectfill 1 0 0 setrgbcolor 70 10 50 50 rectfill showpage`);
    expect(recognise(bytes)?.id).toBe('pdf');
    const { lines } = await read(bytes);
    expect(lines.filter((l) => l.includes('Navy'))).toEqual([
      'Spot colours | spot Navy blue cmyk 0.9 0.6 0 0.3',
    ]);
    expect(lines.filter((l) => l.includes('Gold') || l.includes('Night'))).toEqual(
      expect.arrayContaining([
        'Spot colours | spot Gold rgb 0.8 0.4 0.1',
        'Spot colours | spot Night boat rgb 0.2 0.4 0.1',
      ]),
    );
    expect(lines.filter((l) => l.startsWith('Page'))).toEqual([
      'Page 1 | process  cmyk 0.1 0.2 0.3 0.4',
      'Page 1 | process  rgb 1 0 0',
      'Page 2 | process  gray 0.25',
    ]);
  });

  it('reads tables and steps of tints, names of any script, and colours in forms', async () => {
    const { PDFDocument, PDFName } = await import('@cantoo/pdf-lib');
    const document = await PDFDocument.create();
    const { context } = document;
    const page = document.addPage([200, 200]);
    const table = context.stream(Uint8Array.from([255, 128, 128, 102, 178, 140]), {
      FunctionType: 0,
      Domain: [0, 1],
      Range: [0, 100, -128, 127, -128, 127],
      Size: [2],
      BitsPerSample: 8,
    });
    const straight = { FunctionType: 2, Domain: [0, 1], C0: [0, 0, 0, 0], C1: [0, 1, 0.5, 0], N: 1 };
    const steps = {
      FunctionType: 3,
      Domain: [0, 1],
      Bounds: [0.5],
      Encode: [0, 1, 0, 1],
      Functions: [straight, { ...straight, C1: [1, 0.2, 0, 0] }],
    };
    const space = (name: string, alternate: unknown, tint: unknown) =>
      ['Separation', PDFName.of(name), alternate, tint] as never;
    const form = context.register(
      context.stream('0 1 0 rg 0 0 9 9 re f', { Type: 'XObject', Subtype: 'Form', BBox: [0, 0, 9, 9] }),
    );
    page.node.set(
      PDFName.of('Resources'),
      context.obj({
        ColorSpace: {
          A: space(
            '#D9#82#D8#A7#D8#B1#D8#A8',
            ['Lab', { WhitePoint: [0.9642, 1, 0.8249], Range: [-128, 127, -128, 127] }],
            context.register(table),
          ),
          B: space('Stepped', 'DeviceCMYK', steps),
          C: space('All', 'DeviceCMYK', straight),
          D: space('Odd', 'DeviceCMYK', { FunctionType: 9 }),
        },
        XObject: { F: form },
      }),
    );
    const content =
      '/A cs 1 scn 0 0 9 9 re f (0 0 1 rg \\) in a text) Tj BI /W 1 /H 1 /BPC 8 ID 0 0 1 rg EI /F Do /B CS 1 SCN 0 0 9 9 re S';
    page.node.set(PDFName.of('Contents'), context.register(context.flateStream(content)));
    const { lines, warnings } = await read(await document.save());
    expect(lines.sort()).toEqual(
      [
        'Process colours | process  rgb 0 1 0',
        'Spot colours | spot Stepped cmyk 1 0.2 0 0',
        'Spot colours | spot قارب lab 40 50 12',
      ].sort(),
    );
    expect(warnings).toEqual([
      expect.stringMatching(/1 ink has no values/),
      expect.stringMatching(/1 picture in it was passed over/),
    ]);
  });

  it('reads what is half transparent, shadings and tiles, as pdfkit writes them, locked for all but reading', async () => {
    const document = new PDFDocument({
      size: [200, 200],
      font: '',
      ownerPassword: 'owner',
      userPassword: '',
    });
    const parts: Uint8Array[] = [];
    const done = new Promise<Uint8Array>((resolve) => {
      document.on('data', (part) => parts.push(part));
      document.on('end', () => resolve(new Uint8Array(Buffer.concat(parts))));
    });
    document.rect(0, 0, 40, 40).fillOpacity(0.5).fill([10, 20, 30, 40]);
    document.fillOpacity(1).rect(50, 0, 40, 40).fill([200, 100, 50]);
    const gradient = document.linearGradient(0, 50, 100, 50);
    gradient.stop(0, [0, 100, 0, 0]).stop(0.25, [100, 0, 0, 0]).stop(1, [0, 0, 100, 0]);
    document.rect(0, 50, 100, 40).fill(gradient);
    const tile = document.pattern([0, 0, 10, 10], 10, 10, '0 1 0.2 rg 0 0 5 5 re f');
    document.rect(0, 100, 40, 40).fill([tile, '#123456']);
    document.fillColor('#00ff00');
    document.end();
    const { lines, library, warnings } = await read(await done);
    expect(lines).toEqual([
      'process  cmyk 0.1 0.2 0.3 0.4',
      'process  rgb 0.784 0.392 0.196',
      'process  cmyk 0 1 0 0',
      'process  cmyk 1 0 0 0',
      'process  cmyk 0 0 1 0',
      // a tile without a colour of its own, painted in one
      'process  rgb 0.071 0.204 0.337',
    ]);
    expect(library.groups[0]!.swatches[0]!.alpha).toBe(0.5);
    expect(gradientsOf(library).map((g) => g.data.stops.map((stop) => stop.at))).toEqual([[0, 0.25, 1]]);
    expect(warnings).toEqual([]);
  });

  it('reads tables of colours and patterns, each ink once, and tells what it leaves out', async () => {
    const { PDFDocument: Made, PDFName, PDFHexString } = await import('@cantoo/pdf-lib');
    const document = await Made.create();
    const { context } = document;
    const page = document.addPage([200, 200]);
    const straight = (to: number[]) => ({
      FunctionType: 2,
      Domain: [0, 1],
      C0: to.map(() => 0),
      C1: to,
      N: 1,
    });
    const gold = context.register(
      context.obj(['Separation', 'Gold', 'DeviceCMYK', straight([0, 0.2, 0.6, 0.2])] as never),
    );
    const mixed = context.stream('{pop pop 0.1 0.2 0.3 0.4}', {
      FunctionType: 4,
      Domain: [0, 1, 0, 1],
      Range: [0, 1, 0, 1, 0, 1, 0, 1],
    });
    const tile = context.stream('0.3 0.6 0.9 rg 0 0 5 5 re f 0 0 1 0 k', {
      ...{
        Type: 'Pattern',
        PatternType: 1,
        PaintType: 1,
        TilingType: 1,
        BBox: [0, 0, 9, 9],
        XStep: 9,
        YStep: 9,
        Resources: {},
      },
    });
    const mesh = context.stream('', {
      ShadingType: 4,
      ColorSpace: 'DeviceRGB',
      BitsPerCoordinate: 8,
      BitsPerComponent: 8,
      BitsPerFlag: 8,
      Decode: [0, 1, 0, 1, 0, 1, 0, 1, 0, 1],
    });
    page.node.set(
      PDFName.of('Resources'),
      context.obj({
        ColorSpace: {
          T: ['Indexed', 'DeviceRGB', 1, PDFHexString.of('ff8000003366')] as never,
          L: [
            'Indexed',
            ['Lab', { WhitePoint: [0.9642, 1, 0.8249], Range: [-128, 127, -128, 127] }],
            0,
            PDFHexString.of('80c01a'),
          ] as never,
          Mix: [
            'DeviceN',
            ['Gold', 'Black'],
            'DeviceCMYK',
            context.register(mixed),
            { Subtype: 'NChannel', Colorants: { Gold: gold } },
          ] as never,
          P: [
            'DeviceN',
            ['Cyan', 'Black'],
            'DeviceCMYK',
            context.register(
              context.stream('{0 exch 0 exch}', {
                FunctionType: 4,
                Domain: [0, 1, 0, 1],
                Range: [0, 1, 0, 1, 0, 1, 0, 1],
              }),
            ),
          ] as never,
        },
        Pattern: { Tile: context.register(tile) },
        Shading: { Mesh: context.register(mesh) },
      }),
    );
    page.node.set(
      PDFName.of('Contents'),
      context.register(
        context.flateStream(
          '/T cs 1 sc 0 0 9 9 re f 0 sc 0 0 9 9 re f /L cs 0 sc 0 0 9 9 re f /Mix cs 1 0 scn 0 0 9 9 re f /P cs 0.5 0.25 scn 0 0 9 9 re f /Pattern cs /Tile scn 0 0 9 9 re f /Mesh sh 1 1 0 rg 0 0 9 9 re n',
        ),
      ),
    );
    const { lines, warnings } = await read(await document.save());
    expect(lines).toEqual([
      'Spot colours | spot Gold cmyk 0 0.2 0.6 0.2',
      'Process colours | process  rgb 0 0.2 0.4',
      'Process colours | process  rgb 1 0.502 0',
      // 128, 192 and 26 of 255, of 0 to 100 and of −128 to 127
      'Process colours | process  lab 50.196 64 -102',
      'Process colours | process  cmyk 0.5 0 0 0.25',
      'Process colours | process  rgb 0.3 0.6 0.9',
    ]);
    expect(warnings).toEqual([expect.stringMatching(/1 shading whose colours lie on a net/)]);
  });

  it('says why it cannot be opened, and is read by its inks when it is our own sheet in another’s hands', async () => {
    await expect(
      (async () => pdf.decode(new TextEncoder().encode('%PDF-1.7\nnothing'), countingIds()))(),
    ).rejects.toThrow(/damaged|nothing in it/);
    const own = new TextDecoder('latin1').decode(await encode(fleet)).replaceAll('(Papillon)', '(Somebody)');
    const { lines } = await read(Uint8Array.from(own, (c) => c.charCodeAt(0)));
    expect(lines).toEqual(
      expect.arrayContaining([
        'Spot colours | spot Boot-top red lab 40 57 33',
        'Spot colours | spot Cutting cmyk 0 1 0 0',
      ]),
    );
    expect(lines.some((l) => l.endsWith('cmyk 0.04 0.26 0.7 0.12'))).toBe(true);
  });
});

import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { convert, parseColor } from '../color/index.ts';
import { pdf as sheet } from '../formats/pdf/pdf.ts';
import { allSwatches, countingIds, type Library, type Swatch } from '../swatch/model.ts';
import { artworkPdf, assignColors, colorsOf, readArtwork } from './index.ts';

// Second opinions: Debian's ghostscript (tiffsep) and mupdf-tools, installed by `npm test`; sharp (librsvg) for what the drawing shows.
const folder = mkdtempSync(join(tmpdir(), 'papillon-artwork-'));
afterAll(() => rmSync(folder, { recursive: true }));
const services = await localServices();

const swatch = (name: string, kind: Swatch['kind'], color: string, more: Partial<Swatch> = {}): Swatch => ({
  id: name,
  name,
  kind,
  color: parseColor(color),
  ...more,
});
const deep = swatch('Fähre #5', 'spot', 'Lab 40 60 30');
const inks: Library = {
  id: 'l',
  name: 'Inks',
  groups: [
    {
      id: 'g',
      name: '',
      swatches: [
        deep,
        swatch('Fähre #5 40 %', 'spot', 'Lab 76 24 12', { tint: { of: deep.name, percent: 40 } }),
        swatch('Cutting', 'technical', '#e6007d'),
        swatch('Sand', 'process', 'C 10 M 20 Y 40 K 5'),
      ],
    },
  ],
};

/** The plates that ghostscript makes of a drawing, each as ink at a point, 0–1; one pixel is a millimetre. */
async function platesOf(svg: string, map: [string, string][], name: string) {
  const artwork = readArtwork(svg);
  const assignments = assignColors(
    colorsOf(artwork),
    inks,
    { map, nearest: false, within: 0 },
    services.condition,
  );
  const { bytes, warnings } = await artworkPdf(
    [{ artwork: artwork, makings: assignments, name: name }],
    inks,
    name,
    services,
  );
  const path = join(folder, `${name}.pdf`);
  writeFileSync(path, bytes);
  execFileSync('gs', [
    ...['-q', '-dNOPAUSE', '-dBATCH', '-dSAFER', '-sDEVICE=tiffsep', '-r25.4'],
    ...[`-sOutputFile=${join(folder, `${name}-%d.tif`)}`, path],
  ]);
  const plates: Record<string, { at(x: number, y: number): number; data: Buffer; width: number }> = {};
  for (const file of readdirSync(folder).filter((f) => f.startsWith(`${name}-1(`))) {
    const { data, info } = await sharp(join(folder, file))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    plates[/\((.+)\)/.exec(file)![1]!] = {
      data,
      width: info.width,
      at: (x, y) => 1 - data[y * info.width + x]! / 255,
    };
  }
  return { plates, warnings, path, bytes };
}

const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="60mm" viewBox="0 0 1000 600">
<style>.ground { fill: #d8c9a3 } .cut { stroke: #e6007d; stroke-width: 10; fill: none } #a, #b > rect { fill: #c8102e }</style>
<rect class="ground" width="1000" height="600"/>
<rect id="a" x="100" y="100" width="200" height="200"/>
<g id="b" opacity="0.5"><rect x="400" y="100" width="200" height="200"/></g>
<rect x="700" y="100" width="200" height="200" fill="#e8a0a8"/>
<path class="cut" d="M55 55h890v490h-890z"/>
<path d="M100 400h300v100h-300z" fill="#14304a"/>
</svg>`;

describe('a drawing as PDF', () => {
  it('has a plate of its own for every ink, named to the letter, painted just where its parts are', async () => {
    const { plates, path } = await platesOf(
      drawing,
      [
        ['#d8c9a3', 'Sand'],
        ['#c8102e', 'Fähre #5'],
        ['#e8a0a8', 'Fähre #5 40 %'],
        ['#e6007d', 'Cutting'],
      ],
      'plate',
    );
    const spots = Object.keys(plates).filter((n) => !['Cyan', 'Magenta', 'Yellow', 'Black'].includes(n));
    expect(spots.length).toBe(2);
    const spot = plates[spots.find((n) => n.includes('hre'))!]!;
    const cut = plates.Cutting!;
    // full, half through the group's opacity, and the tint as its part of the ink
    expect([spot.at(20, 20), spot.at(50, 20), spot.at(80, 20)].map((v) => Number(v.toFixed(2)))).toEqual([
      1, 0.5, 0.4,
    ]);
    const inked = (plate: typeof spot) => plate.data.reduce((n, v) => n + (v < 250 ? 1 : 0), 0);
    expect(inked(spot)).toBe(3 * 20 * 20);
    expect([cut.at(50, 5), cut.at(50, 30), spot.at(50, 50)]).toEqual([1, 0, 0]);
    // the authored inks of the ground, under the cut line too, and knocked out under the spot
    const at = (x: number, y: number) =>
      ['Cyan', 'Magenta', 'Yellow', 'Black'].map((n) => Number(plates[n]!.at(x, y).toFixed(2)));
    expect(at(90, 50)).toEqual([0.1, 0.2, 0.4, 0.05]);
    expect(at(50, 5)).toEqual([0.1, 0.2, 0.4, 0.05]);
    expect(at(20, 20)).toEqual([0, 0, 0, 0]);
    // what stays is printed as the condition prints it
    const navy = convert(parseColor('#14304a'), 'cmyk', services.condition).components;
    for (const [i, v] of at(20, 45).entries()) expect(Math.abs(v - navy[i]!)).toBeLessThan(0.006);

    // the size asked for: 100 by 60 mm are 283.46 by 170.08 points
    const pages = execFileSync('mutool', ['pages', path]).toString();
    expect(pages).toMatch(/<MediaBox l="0" b="0" r="283\.46\d*" t="170\.07\d*"/);
    expect(pages).toMatch(/<TrimBox l="0" b="0" r="283\.46\d*" t="170\.07\d*"/);
  });

  it('paints shapes where the drawing has them: uses, transforms, patterns, strokes, clips', async () => {
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="100mm" height="60mm" viewBox="0 0 100 60">
<defs><g id="gull"><path d="M0 0q5 -8 10 0q5 -8 10 0q-5 -4 -10 2q-5 -6 -10 -2z"/></g>
<pattern id="p" width="4" height="4" patternUnits="userSpaceOnUse"><rect width="2" height="4" fill="#c8102e"/></pattern>
<clipPath id="c"><circle cx="80" cy="15" r="10"/></clipPath></defs>
<g fill="#c8102e"><use xlink:href="#gull" x="10" y="14"/><use xlink:href="#gull" transform="translate(40 20) rotate(20) scale(.8)"/></g>
<rect x="5" y="30" width="30" height="20" fill="url(#p)"/>
<ellipse cx="55" cy="42" rx="14" ry="9" fill="none" stroke="#c8102e" stroke-width="3" stroke-dasharray="6 2"/>
<rect x="68" y="3" width="30" height="25" fill="#c8102e" clip-path="url(#c)"/>
<polygon points="80,35 95,35 95,55" fill="#c8102e" fill-rule="evenodd"/></svg>`;
    const { plates } = await platesOf(svg, [['#c8102e', 'Fähre #5']], 'shapes');
    const plate = plates[Object.keys(plates).find((n) => n.includes('hre'))!]!;
    const { data, info } = await sharp(Buffer.from(svg))
      .resize({ width: plate.width, height: 60, fit: 'fill' })
      .flatten({ background: '#ffffff' })
      .extractChannel('green')
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(info.width).toBe(plate.width);
    // ghostscript paints whole pixels where librsvg smooths: only what is wholly in or out is compared
    let [wrong, compared] = [0, 0];
    for (let y = 1; y < info.height - 1; y++)
      for (let x = 1; x < info.width - 1; x++) {
        const around = [-1, 0, 1].flatMap((dy) =>
          [-1, 0, 1].map((dx) => data[(y + dy) * info.width + x + dx]!),
        );
        const all = around.every((v) => v < 30) ? 1 : around.every((v) => v > 250) ? 0 : null;
        if (all === null) continue;
        compared++;
        if (Math.abs(plate.at(x, y) - all) > 0.1) wrong++;
      }
    expect(compared).toBeGreaterThan(3000);
    expect(wrong).toBe(0);
  });

  it('opens with its inks as swatches, though it is not a sheet of swatches', async () => {
    const { bytes } = await platesOf(drawing, [['#c8102e', 'Fähre #5']], 'opened');
    const { library } = await sheet.decode(bytes, countingIds());
    const spots = allSwatches(library).filter((s) => s.kind === 'spot');
    expect(spots.map((s) => s.name)).toContain('Fähre #5');
  });

  it('tells what is not as the drawing has it', async () => {
    const { warnings, plates } = await platesOf(
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 96 48"><defs><linearGradient id="g"><stop stop-color="#c8102e"/><stop offset="1" stop-color="#ffffff"/></linearGradient></defs>
<rect width="96" height="24" fill="url(#g)"/><text y="40" font-size="12" fill="#14304a">Night</text></svg>`,
      [['#c8102e', 'Fähre #5']],
      'warnings',
    );
    expect(warnings.join('\n')).toMatch(/pixels alone/);
    expect(warnings.join('\n')).toMatch(/outlines/);
    // the stop of the ink is on its plate
    expect(Object.keys(plates).sort()).toEqual(['Black', 'Cyan', 'F%C3%A4hre #5', 'Magenta', 'Yellow']);
  });
});

it('has a page in its own size for each colourway, lines for machines, and a sheet of all', async () => {
  const artwork = readArtwork(drawing);
  const making = (map: [string, string][]) =>
    assignColors(colorsOf(artwork), inks, { map, nearest: false, within: 0 }, services.condition).map((a) =>
      a.swatch?.kind === 'technical' ? { ...a, line: 2 } : a,
    );
  const { bytes } = await artworkPdf(
    [
      {
        artwork,
        makings: making([
          ['#c8102e', 'Fähre #5'],
          ['#14304a', 'Cutting'],
        ]),
        name: 'Tag',
      },
      { artwork, makings: making([['#c8102e', 'Sand']]), name: 'Nächte' },
    ],
    inks,
    'Plates',
    services,
    { sheet: true },
  );
  const path = join(folder, 'pages.pdf');
  writeFileSync(path, bytes);
  const boxes = execFileSync('mutool', ['pages', path])
    .toString()
    .match(/<TrimBox [^>]+>/g)!;
  expect(boxes).toHaveLength(3);
  expect(boxes[0]).toMatch(/r="283\.46\d*" t="170\.07\d*"/);
  expect(boxes[1]).toBe(boxes[0]);
  expect(boxes[2]).toMatch(/r="595\.2\d*" t="841\.8\d*"/);
  const text = execFileSync('mutool', ['draw', '-q', '-F', 'txt', path, '3']).toString();
  for (const words of ['Plates', 'Tag', 'Nächte', 'Fähre #5', 'Sand', 'Cutting'])
    expect(text).toContain(words);
  execFileSync('gs', [
    ...['-q', '-dNOPAUSE', '-dBATCH', '-dSAFER', '-sDEVICE=tiffsep', '-r25.4'],
    ...[`-sOutputFile=${join(folder, 'pages-%d.tif')}`, path],
  ]);
  const plates = readdirSync(folder).filter((f) => f.startsWith('pages-'));
  const plate = async (page: number, name: string) => {
    const file = plates.find((f) => f.startsWith(`pages-${page}(`) && f.includes(name));
    if (!file) return null;
    const { data, info } = await sharp(join(folder, file))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return (x: number, y: number) => 1 - data[y * info.width + x]! / 255;
  };
  // the box that was filled is a line of 2 mm now, with nothing in it
  const cut = (await plate(1, 'Cutting'))!;
  expect([cut(10, 45), cut(25, 45), cut(25, 40)]).toEqual([1, 0, 1]);
  expect(await plate(2, 'hre')).toBeNull();
  // the sheet is printed from the same inks
  expect(await plate(3, 'hre')).not.toBeNull();
});

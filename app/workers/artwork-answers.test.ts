import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { type ArtworkFacts, ordersOf, partAt, rowsIn } from '#core/artwork/index';
import { conditionIn, parseColor, toHex, USUAL_CONDITION } from '#core/color/index';
import { withLinks } from '#core/swatch/index';
import { coated, engine } from '#core/testing';
import type { Made } from '~/messages/artwork-messages';
import { artworkAnswers } from './artwork-answers';

const worker = () =>
  artworkAnswers({
    colors: { condition: async (setting) => conditionIn(engine, setting), bytesOf: async () => null },
    loadFont: async (name) =>
      readFileSync(
        name === 'mono'
          ? 'node_modules/@fontsource/spline-sans-mono/files/spline-sans-mono-latin-400-normal.woff'
          : `node_modules/@fontsource/hanken-grotesk/files/hanken-grotesk-latin-${name === 'semibold' ? 600 : 400}-normal.woff`,
      ),
    decode: async (file) => {
      const { data, info } = await sharp(Buffer.from(await file.arrayBuffer()))
        .ensureAlpha()
        .raw()
        .toBuffer({ resolveWithObject: true });
      const picture = { data: new Uint8ClampedArray(data), width: info.width, height: info.height };
      return { picture };
    },
    encode: async (data, width, height) =>
      new Blob(
        [
          new Uint8Array(
            await sharp(data, { raw: { width, height, channels: 4 } })
              .png()
              .toBuffer(),
          ),
        ],
        {
          type: 'image/png',
        },
      ),
  });
const context = { stage: () => undefined, breathe: async () => undefined };
const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><script>alert(1)</script><rect id="hull" width="40" height="20" fill="#14304a"/><circle id="buoy" cx="10" cy="10" r="5" fill="#c8102e"/></svg>`;
const red = { id: 'red', name: 'Rot & Weiß', kind: 'spot' as const, color: parseColor('Lab 40 60 30') };
const madeOf = (facts: ArtworkFacts, from: string): Made => {
  const colorway = withLinks({ refs: [], data: { artwork: 'a', links: {} } }, { [from]: { swatch: red } });
  return {
    orders: ordersOf(rowsIn(facts.colors, colorway, () => red, coated)),
    outlines: [],
    size: facts.size,
  };
};
const press = { condition: USUAL_CONDITION, inks: [red] };

describe('a drawing in the artwork worker', () => {
  it('is cleaned and told, and kept under the hash of what is left', async () => {
    const w = worker();
    const { hash, bytes, facts, warnings } = await w.read({ file: new Blob([svg]) }, context);
    const kept = Buffer.from(await bytes.arrayBuffer());
    expect(createHash('sha256').update(kept).digest('hex')).toBe(hash);
    expect(kept.toString()).not.toContain('script');
    expect(warnings.join()).toMatch(/scripts/);
    expect(facts.colors.map((c) => [c.hex, c.names])).toEqual([
      ['#14304a', ['hull']],
      ['#c8102e', ['buoy']],
    ]);
    // another worker that is given them finds the same
    expect((await worker().open({ hash, bytes }, context)).facts).toEqual(facts);
  });

  it('is painted, pointed at, separated and written in a colourway', async () => {
    const w = worker();
    const { hash, facts } = await w.read({ file: new Blob([svg]) }, context);
    const ask = { hash, made: madeOf(facts, '#c8102e') };
    expect(await (await w.paint(ask, context)).text()).toContain(`fill="${toHex(red.color, coated)}"`);
    expect(await (await w.map(ask, context)).text()).toContain('crispEdges');
    const plates = await w.plates({ ...ask, press }, context);
    expect(plates.map((p) => [p.name, p.kind])).toEqual([
      ...['Cyan', 'Magenta', 'Yellow', 'Black'].map((n) => [n, 'process']),
      ['Rot & Weiß', 'spot'],
    ]);
    const size = { ...facts.size, width: 40, height: 20, unit: 'mm' as const };
    const out = await w.svg({ hash, made: { ...ask.made, size }, links: 'classes' }, context);
    expect(await out.text()).toMatch(/width="40mm" height="20mm".*class="fill-rot-wei/s);
    const line = {
      of: [facts.colors[0]!.parts[0]!.key],
      offset: 1,
      width: 0.25,
      color: red.color,
      to: '#ff0000',
      swatch: red,
    };
    const { bytes } = await w.pdf(
      {
        hash,
        pages: [{ made: { ...ask.made, outlines: [line], size }, name: 'Night' }],
        title: 'Boat',
        press,
        sheet: true,
      },
      context,
    );
    expect(
      Buffer.from(await bytes.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
  });

  it('says what is wrong with it, and what is not there any more', async () => {
    const w = worker();
    await expect(w.read({ file: new Blob(['<svg><g>']) }, context)).rejects.toThrow(/line 1/);
    await expect(w.read({ file: new Blob([new Uint8Array(21 * 1024 * 1024)]) }, context)).rejects.toThrow(
      /20 MB/,
    );
    const { hash, facts } = await w.read({ file: new Blob([svg]) }, context);
    await w.shut({ hash }, context);
    await expect(w.paint({ hash, made: madeOf(facts, '#c8102e') }, context)).rejects.toThrow(
      /not open any more/,
    );
  });
});

it('a PDF is kept as it came, and recoloured, pointed at, separated and saved behind itself', async () => {
  const { PDFDocument, rgb } = await import('@cantoo/pdf-lib');
  const made = await PDFDocument.create();
  made.addPage([100, 100]);
  made.addPage([200, 100]).drawRectangle({ x: 0, y: 0, width: 50, height: 100, color: rgb(0.8, 0.1, 0.2) });
  const file = await made.save();
  const w = worker();
  const { hash, bytes, facts } = await w.read({ file: new Blob([new Uint8Array(file)]) }, context);
  expect(new Uint8Array(await bytes.arrayBuffer())).toEqual(new Uint8Array(file));
  expect([facts.form, facts.pages!.length, facts.parts]).toEqual(['pages', 2, 1]);
  expect((await worker().open({ hash, bytes }, context)).facts).toEqual(facts);
  const own = { ...madeOf(facts, facts.colors[0]!.hex), size: facts.pages![1]!, page: 1 };
  const ask = { hash, made: own };
  expect((await w.paint(ask, context)).type).toBe('application/pdf');
  const map = await sharp(Buffer.from(await (await w.map(ask, context)).arrayBuffer()))
    .raw()
    .toBuffer({ resolveWithObject: true });
  const at = (x: number) =>
    map.data.subarray((50 * map.info.width + x) * 4, (50 * map.info.width + x) * 4 + 3);
  expect(partAt(at(20).readUIntBE(0, 3), 1)).toBe(0);
  expect(map.data[(50 * map.info.width + 900) * 4 + 3]).toBe(0);
  const plates = await w.plates({ ...ask, press }, context);
  expect(plates.map((p) => p.name)).toEqual(['Rot & Weiß']);
  const saved = await w.pdf({ hash, pages: [{ made: own, name: '' }], title: '', press }, context);
  const out = new Uint8Array(await saved.bytes.arrayBuffer());
  expect(out.subarray(0, file.length)).toEqual(new Uint8Array(file));
  await expect(w.svg(ask, context)).rejects.toThrow(/a PDF stays one/);
});

it('a picture of flat colours is recoloured, pointed at and separated by its pixels', async () => {
  const png = await sharp(Buffer.from(svg.replace(/<script.*script>/, '')))
    .flatten({ background: '#ffffff' })
    .png()
    .toBuffer();
  const w = worker();
  const { hash, facts } = await w.read({ file: new Blob([new Uint8Array(png)]) }, context);
  expect([facts.form, facts.size.unit, facts.colors.map((c) => c.hex)]).toEqual([
    'picture',
    'px',
    ['#14304a', '#c8102e'],
  ]);
  const ask = { hash, made: madeOf(facts, '#c8102e') };
  const pixel = async (blob: Blob, x: number, y: number) => {
    const { data, info } = await sharp(Buffer.from(await blob.arrayBuffer()))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return `#${data.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3).toString('hex')}`;
  };
  const painted = await w.paint(ask, context);
  expect([await pixel(painted, 10, 10), await pixel(painted, 30, 10)]).toEqual([
    toHex(red.color, coated),
    '#14304a',
  ]);
  const plates = await w.plates({ ...ask, press }, context);
  const spot = plates.find((p) => p.kind === 'spot')!.picture;
  expect([await pixel(spot, 10, 10), await pixel(spot, 30, 10)]).toEqual(['#000000', '#ffffff']);
  const map = await w.map(ask, context);
  expect(await pixel(map, 10, 10)).not.toBe(await pixel(map, 30, 10));
  await expect(w.svg(ask, context)).rejects.toThrow(/take it as PNG/);
});

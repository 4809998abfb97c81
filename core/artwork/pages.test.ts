import { describe, expect, it } from 'vitest';
import { PdfArtwork } from '../pdf/artwork.ts';
import { operatorsOf } from '../pdf/content.ts';
import { byUs, inkWriters, plates, sameStart, shownBy, undamaged, writers } from '../pdf/testing.ts';
import { withLinks } from '../swatch/colorway.ts';
import type { Library, Swatch } from '../swatch/model.ts';
import { coated } from '../testing.ts';
import { type ColorFacts, ordersOf, rowsIn } from './colorway.ts';
import { madePdf, pageColors, pageLines, pagePlates, pagesFacts, shownPdf } from './pages.ts';

const number: Swatch = {
  ...{ id: 'n', name: 'Number 612', kind: 'spot' },
  color: { space: 'lab', components: [40, 60, 30] },
};
const cutting: Swatch = {
  ...{ id: 'c', name: 'Cutting', kind: 'technical' },
  color: { space: 'cmyk', components: [0, 1, 0, 0] },
};
const sand: Swatch = {
  ...{ id: 's', name: 'Sand', kind: 'process' },
  color: { space: 'cmyk', components: [0.1, 0.2, 0.5, 0.05] },
};
const library: Library = {
  ...{ id: 'l', name: 'Fleet' },
  groups: [{ id: 'g', name: '', swatches: [number, cutting, sand] }],
};
const byId = (id: string) => library.groups[0]!.swatches.find((s) => s.id === id);

const open = (bytes: Uint8Array) => PdfArtwork.open(bytes, coated);
/** Orders that make colours, or parts by their keys, something else. */
function orders(colors: readonly ColorFacts[], wishes: Record<string, { swatch: Swatch; line?: number }>) {
  const way = withLinks({ refs: [], data: { artwork: 'a', links: {} } }, wishes);
  return ordersOf(rowsIn(colors, way, byId, coated));
}

describe.each(writers)('a PDF by %s', (_, write) => {
  it('has its largest colour put on a plate of its own, to the pixel, and nothing else is touched', async () => {
    const old = await write();
    const pdf = await open(old);
    const colors = pageColors(pdf);
    const one = colors.find((c) => c.hex !== '#ffffff' && c.parts.every((p) => p.role !== 'stop'))!;
    const now = await madePdf(pdf, orders(colors, { [one.hex]: { swatch: number } }), library, coated);
    expect(sameStart(old, now)).toBe(0);
    undamaged(now);
    const [before, after] = [await plates(old), await plates(now)];
    const plate = after.get('Number 612')!;
    const seen = await shownBy(old);
    const at = (i: number) => seen.data.subarray(3 * i, 3 * i + 3).toString('hex');
    // what is full on the new plate was one colour, and all of that colour is on the plate
    const was = at(plate.indexOf(0));
    plate.forEach((v, i) => {
      if ((v === 0) !== (at(i) === was)) throw new Error(`pixel ${i} is ${v} on the plate and was ${at(i)}`);
    });
    // all other plates are as they were, where the new one has nothing
    for (const [name, pixels] of before)
      pixels.forEach((v, i) => {
        if (plate[i] === 255 && after.get(name)?.[i] !== v && v !== 255)
          throw new Error(`${name} differs at pixel ${i}`);
      });
  });

  it('with one part of a colour changed leaves the others, and the operators that are untouched', async () => {
    const pdf = await open(await write());
    const colors = pageColors(pdf);
    const one = colors.find((c) => c.parts.length > 1 && c.parts.every((p) => p.role !== 'stop'));
    const [first] = one?.parts ?? [];
    if (!one || !first) return;
    const now = await madePdf(pdf, orders(colors, { [first.key]: { swatch: number } }), library, coated);
    undamaged(now);
    const again = await open(now);
    expect(again.parts.filter((p) => p.name === 'Number 612')).toHaveLength(1);
    expect(again.parts.filter((p) => p.hex === one.hex)).toHaveLength(one.parts.length - 1);
    // without what was put in, the content is what it was, but for the operator that set the colour where it was of that part alone
    const { content } = pdf.places[first.id]![0]!;
    const rest = again.places[again.parts.find((p) => p.name === 'Number 612')!.id]![0]!.content.text;
    const operators = (text: string) => [...operatorsOf(text)].map(({ from, to }) => text.slice(from, to));
    const left = operators(rest);
    const gone = operators(content.text).filter((operator) => {
      const at = left.indexOf(operator);
      if (at >= 0) left.splice(at, 1);
      return at < 0;
    });
    expect(gone.length).toBeLessThan(2);
  });

  it('saved as a new file has nothing left of the old colour, and looks the same', async () => {
    const pdf = await open(await write());
    const colors = pageColors(pdf);
    const wishes = orders(colors, { [colors[0]!.hex]: { swatch: sand } });
    const [update, fresh] = [
      await madePdf(pdf, wishes, library, coated),
      await madePdf(pdf, wishes, library, coated, { fresh: true }),
    ];
    undamaged(fresh);
    expect(sameStart(await write(), fresh)).not.toBe(0);
    expect(Buffer.compare((await shownBy(update)).data, (await shownBy(fresh)).data)).toBe(0);
  });

  it('written in several colourways at once has each as if it were alone', async () => {
    const pdf = await open(await write());
    const colors = pageColors(pdf);
    const ways = [number, sand, cutting].map((swatch) => orders(colors, { [colors[0]!.hex]: { swatch } }));
    const alone: Uint8Array[] = [];
    for (const way of ways) alone.push(await madePdf(pdf, way, library, coated));
    const together = await Promise.all(ways.map((way) => madePdf(pdf, way, library, coated)));
    expect(together).toEqual(alone);
    // and where its parts are is asked of the file as it is
    const map = await pdf.mapOf(0, 120);
    const [during] = await Promise.all(
      [pdf.mapOf(0, 120), madePdf(pdf, ways[0]!, library, coated)].reverse(),
    ).then((r) => r.reverse());
    expect(during).toEqual(map);
  });

  it('is shown in colours of the screen, all of it, and is itself as it was', async () => {
    const bytes = await write();
    const pdf = await open(bytes);
    const shown = await open(await shownPdf(pdf, [], coated));
    const rgb = ({ hex }: { hex: string }) =>
      `RGB ${[1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16)).join(' ')}`;
    expect(shown.parts.map((p) => [p.space, p.hex])).toEqual(pdf.parts.map((p) => [rgb(p), p.hex]));
    const untouched = await open(bytes);
    expect(pdf.parts.map((p) => p.key)).toEqual(untouched.parts.map((p) => p.key));
    expect(await madePdf(pdf, [], library, coated)).toEqual(bytes);
  });
});

describe.each(inkWriters)('the inks of a PDF by %s', (_, write) => {
  it('are on the plates that Ghostscript makes of what is saved', async () => {
    const pdf = await open(await write());
    const colors = pageColors(pdf);
    const orange = colors.find((c) => c.names.includes('Orange 2'))!;
    const wishes = orders(colors, { [orange.hex]: { swatch: number } });
    const saved = await plates(await madePdf(pdf, wishes, library, coated));
    const own = await pagePlates(pdf, wishes, library, coated);
    expect(own.map((p) => p.name)).toEqual(expect.arrayContaining(['Number 612', 'Hull navy']));
    for (const { name, kind, pdf: plate } of own) {
      // process inks of our own sheet go through a profile
      if (kind === 'process') continue;
      const { data } = await shownBy(plate);
      const theirs = saved.get(name)!;
      const off = theirs.filter((v, i) => Math.abs(v - data[3 * i]!) > 1).length;
      // pictures are left out of ours
      expect(off / theirs.length, name).toBeLessThan(pdf.pictureOperators.length > 0 ? 0.08 : 0.001);
    }
  });
});

describe('pages as artwork', () => {
  it('have their size in mm, their colours with inks and shares, and say what stays as it is', async () => {
    const pdf = await open(await byUs());
    const { form, pages, size, colors, parts } = pagesFacts(pdf);
    expect([form, pages!.length, size.unit]).toEqual(['pages', 1, 'mm']);
    expect(colors.reduce((sum, c) => sum + c.share, 0)).toBeCloseTo(1, 6);
    expect(colors.find((c) => c.names.includes('Hull navy'))!.ink).toEqual({
      ...{ name: 'Hull navy', kind: 'spot', percent: 100 },
    });
    expect(colors.reduce((sum, c) => sum + c.parts.length, 0)).toBe(parts);
  });

  it('get a line around a shape, so far outside and so wide as was said, printed over', async () => {
    const { PDFDocument, rgb } = await import('@cantoo/pdf-lib');
    const made = await PDFDocument.create();
    made
      .addPage([200, 200])
      .drawRectangle({ x: 50, y: 60, width: 100, height: 80, color: rgb(0.1, 0.2, 0.3) });
    const pdf = await open(await made.save());
    const colors = pageColors(pdf);
    const { key } = colors[0]!.parts[0]!;
    const outline = { of: [key], offset: (10 / 72) * 25.4, width: (4 / 72) * 25.4 };
    const lines = await pageLines(pdf, [
      { ...outline, color: cutting.color, to: '#e6007d', swatch: cutting },
    ]);
    const now = await madePdf(pdf, orders(colors, {}), library, coated, { lines });
    undamaged(now);
    const found = await plates(now);
    const plate = found.get('Cutting')!;
    const on = [...plate.keys()].filter((i) => plate[i] === 0);
    const [xs, ys] = [on.map((i) => i % 200), on.map((i) => Math.floor(i / 200))];
    // from the middle of the line, 10 outside, 2 to either side
    expect([Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]).toEqual([
      // Ghostscript paints every pixel that is touched
      ...[38, 162, 48, 152],
    ]);
    expect(await open(now).then((p) => p.parts.length)).toBe(2);
  });

  it('of one shape become a line, and text does so too', async () => {
    const { PDFDocument, rgb } = await import('@cantoo/pdf-lib');
    const made = await PDFDocument.create();
    const page = made.addPage([200, 200]);
    page.drawRectangle({ x: 50, y: 60, width: 100, height: 80, color: rgb(0.1, 0.2, 0.3) });
    page.drawText('Hull', { x: 10, y: 10, size: 30, color: rgb(0.1, 0.2, 0.3) });
    const pdf = await open(await made.save());
    const colors = pageColors(pdf);
    const wish = { [colors[0]!.hex]: { swatch: cutting, line: (2 / 72) * 25.4 } };
    const now = await madePdf(pdf, orders(colors, wish), library, coated);
    undamaged(now);
    const plate = (await plates(now)).get('Cutting')!;
    expect(plate[100 * 200 + 100]).toBe(255);
    expect(plate[100 * 200 + 50]).toBe(0);
    expect([...plate].filter((v) => v === 0).length).toBeGreaterThan(2 * 2 * 180 - 20);
  });

  it('know where each part is seen, turned as they are shown', async () => {
    const { PDFDocument, rgb, degrees } = await import('@cantoo/pdf-lib');
    const made = await PDFDocument.create();
    const page = made.addPage([200, 100]);
    page.setRotation(degrees(90));
    page.drawRectangle({ x: 0, y: 0, width: 20, height: 10, color: rgb(1, 0, 0) });
    const pdf = await open(await made.save());
    const { ids, width, height } = await pdf.mapOf(0, 200);
    expect([width, height]).toEqual([100, 200]);
    // what is below on the left is above on the left once the page is turned clockwise
    expect([ids[0], ids[19 * 100 + 9], ids[21 * 100], ids[11]]).toEqual([0, 0, -1, -1]);
  });

  it('with a gradient between inks have each on its plate, going out as the other comes in', async () => {
    const { PDFDocument, PDFName } = await import('@cantoo/pdf-lib');
    const made = await PDFDocument.create();
    const page = made.addPage([300, 40]);
    const ramp = { FunctionType: 2, Domain: [0, 1], C0: [1, 0, 0, 0], C1: [0, 0, 1, 0], N: 1 };
    const shading = { ShadingType: 2, ColorSpace: 'DeviceCMYK', Coords: [0, 0, 300, 0], Function: ramp };
    const { context } = made;
    const resources = context.obj({ Shading: { S: context.register(context.obj(shading)) } });
    page.node.set(PDFName.of('Resources'), resources);
    page.node.set(PDFName.of('Contents'), context.register(context.stream('/S sh')));
    const pdf = await open(await made.save());
    const colors = pageColors(pdf);
    expect(colors.flatMap((c) => c.parts.map((p) => p.role))).toEqual(['stop', 'stop']);
    const now = await madePdf(
      pdf,
      orders(colors, { [colors[0]!.hex]: { swatch: number }, [colors[1]!.hex]: { swatch: cutting } }),
      library,
      coated,
    );
    undamaged(now);
    const found = await plates(now);
    const along = (name: string) => [1, 75, 150, 225, 298].map((x) => found.get(name)![20 * 300 + x]!);
    for (const [i, v] of along('Number 612').entries())
      expect(Math.abs(v - [0, 64, 128, 191, 255][i]!)).toBeLessThan(4);
    for (const [i, v] of along('Cutting').entries())
      expect(Math.abs(v - [255, 191, 128, 64, 0][i]!)).toBeLessThan(4);
    // and with one stop left in process inks those come in instead
    const one = await plates(
      await madePdf(pdf, orders(colors, { [colors[0]!.hex]: { swatch: number } }), library, coated),
    );
    expect(one.get('Yellow')![20 * 300 + 298]).toBeLessThan(4);
    expect(one.get('Number 612')![20 * 300 + 1]).toBeLessThan(4);
  });

  it('that are encrypted, or no PDF, are refused with a reason', async () => {
    await expect(open(new TextEncoder().encode('%PDF-1.7\nnothing'))).rejects.toThrow(/damaged/);
    const { PDFDocument } = await import('@cantoo/pdf-lib');
    const made = await PDFDocument.create();
    made.addPage([100, 100]);
    made.encrypt({ userPassword: '', ownerPassword: 'x' });
    await expect(made.save().then(open)).rejects.toThrow(/encrypted/);
  });
});

import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { deltaE00, type Lab } from '../color/index.ts';
import { coated, libraryOf } from '../testing.ts';
import { changedPdf } from './changes.ts';
import { PdfInks } from './inks.ts';
import { byUs, folder, has, inkWriters, plates, sameStart, undamaged } from './testing.ts';

const NOW = '2026-12-01T09:00:00Z';

describe.each(inkWriters)('a PDF by %s', (_, write) => {
  it('says its inks with what stands for them, and its page in mm', async () => {
    const pdf = await PdfInks.open(await write());
    const inks = pdf.inks(coated);
    const spots = inks.filter((i) => i.kind === 'spot');
    expect(spots.map((i) => i.name).sort()).toEqual(['Hull navy', 'Orange 2']);
    for (const ink of spots)
      expect([ink.lab !== null, ink.spectral, ink.places > 0]).toEqual([true, false, true]);
    const { pages } = pdf.facts();
    expect(pages[0]!.unit).toBe('mm');
    expect(pages[0]!.width).toBeGreaterThan(70);
  });

  it('says how much of its page each ink covers, as Ghostscript’s plates have it', async () => {
    const bytes = await write();
    const { pages } = await (await PdfInks.open(bytes)).coverage(coated);
    for (const [name, pixels] of await plates(bytes)) {
      const plate = pixels.reduce((sum, v) => sum + 255 - v, 0) / 255 / pixels.length;
      const spot = !['Cyan', 'Magenta', 'Yellow', 'Black'].includes(name);
      // text is estimated, and process inks of our own sheet go through a profile
      expect(Math.abs((pages[0]!.get(name) ?? 0) - plate)).toBeLessThan(spot ? 0.01 : 0.03);
    }
  });

  it('with an ink renamed has its plate under the new name, to the pixel, and nothing else is touched', async () => {
    const old = await write();
    const pdf = await PdfInks.open(old);
    pdf.rename('Orange 2', 'Lifebuoy orange');
    const now = await pdf.save();
    expect(sameStart(old, now)).toBe(0);
    undamaged(now);
    const [before, after] = [await plates(old), await plates(now)];
    expect([...after.keys()].sort()).toEqual(
      [...before.keys()].map((n) => (n === 'Orange 2' ? 'Lifebuoy orange' : n)).sort(),
    );
    for (const [name, pixels] of before)
      expect(Buffer.compare(pixels, after.get(name === 'Orange 2' ? 'Lifebuoy orange' : name)!)).toBe(0);
    // and it is found nowhere under its old name when the file is opened again
    const names = (await PdfInks.open(now)).inks(coated).map((i) => i.name);
    expect(names).toContain('Lifebuoy orange');
    expect(names).not.toContain('Orange 2');
  });

  it('with two inks merged has all on one plate', async () => {
    const old = await write();
    const pdf = await PdfInks.open(old);
    if (pdf.inks(coated).find((i) => i.name === 'Orange 2')!.places > 1) {
      // mixed with the other in one space, they cannot become one
      expect(() => pdf.merge('Orange 2', 'Hull navy')).toThrow(/mixed with each other in one colour space/);
      return;
    }
    pdf.merge('Orange 2', 'Hull navy');
    const now = await pdf.save();
    undamaged(now);
    const [before, after] = [await plates(old), await plates(now)];
    expect(after.has('Orange 2')).toBe(false);
    const both = after.get('Hull navy')!;
    before.get('Orange 2')!.forEach((v, i) => {
      if (both[i] !== Math.min(v, before.get('Hull navy')![i]!)) throw new Error(`pixel ${i} differs`);
    });
  });

  it('with an ink printed in process inks has no plate of it, and the others are as they were', async () => {
    const old = await write();
    const { pdf, warnings } = await changedPdf(old, [{ do: 'process', name: 'Orange 2' }], coated, NOW);
    const now = await pdf.save();
    expect([sameStart(old, now), warnings]).toEqual([0, []]);
    undamaged(now);
    expect((await PdfInks.open(now)).inks(coated).map((i) => i.name)).not.toContain('Orange 2');
    const [before, after] = [await plates(old), await plates(now)];
    expect(after.has('Orange 2')).toBe(false);
    expect(Buffer.compare(before.get('Hull navy')!, after.get('Hull navy')!)).toBe(0);
    const orange = before.get('Orange 2')!;
    const yellow = [before.get('Yellow')!, after.get('Yellow')!] as const;
    orange.forEach((v, i) => {
      // where the ink was not, nothing came; where all of it was, there is yellow now
      if (v === 255 && yellow[0][i] !== yellow[1][i]) throw new Error(`pixel ${i} came`);
      if (v === 0 && yellow[1][i]! > 128) throw new Error(`pixel ${i} is missing`);
    });
  });

  it('with two inks merged that are mixed with each other has both on one plate', async () => {
    const old = await write();
    const change = { do: 'merge', from: 'Orange 2', into: 'Hull navy' } as const;
    const { pdf } = await changedPdf(old, [change], coated, NOW);
    const now = await pdf.save();
    expect(sameStart(old, now)).toBe(0);
    undamaged(now);
    const [before, after] = [await plates(old), await plates(now)];
    expect(after.has('Orange 2')).toBe(false);
    const [a, b, both] = [before.get('Orange 2')!, before.get('Hull navy')!, after.get('Hull navy')!];
    both.forEach((v, i) => {
      const sum = Math.min(255, 255 - a[i]! + (255 - b[i]!));
      if (Math.abs(255 - v - sum) > 2) throw new Error(`pixel ${i} is ${255 - v} of ${sum}`);
    });
  });

  it('says what it is printed on, with the profile of that, and gives it back', async () => {
    const profile = new Uint8Array(readFileSync('profiles/uncoated-offset.icc'));
    const change = { do: 'intent', name: 'Uncoated (FOGRA29)', profile } as const;
    const { pdf, isChanged } = await changedPdf(await write(), [change], coated, NOW);
    expect(isChanged).toBe(true);
    const now = await pdf.save();
    undamaged(now);
    const again = await PdfInks.open(now);
    expect(again.facts().outputIntent).toEqual({ name: 'Uncoated (FOGRA29)', profile: true });
    expect(again.profile()).toEqual(profile);
    const fresh = await again.save(true);
    undamaged(fresh);
    expect((await PdfInks.open(fresh)).facts().outputIntent).toEqual(again.facts().outputIntent);
  });

  it('carries a measurement and a printing order, and gives them back', async () => {
    const pdf = await PdfInks.open(await write());
    const cxf = new TextEncoder().encode('<CxF>made up, ü</CxF>');
    pdf.embed('Hull navy', cxf);
    pdf.setOrder(['Hull navy', 'Black', 'Orange 2']);
    const now = await pdf.save();
    undamaged(now);
    const again = await PdfInks.open(now);
    expect(again.measurement('Hull navy')).toEqual(cxf);
    expect(again.measurement('Orange 2')).toBeNull();
    const inks = again.inks(coated);
    expect(inks.find((i) => i.name === 'Hull navy')!.spectral).toBe(true);
    const order = inks.map((i) => i.name);
    expect(order.indexOf('Hull navy')).toBeLessThan(order.indexOf('Orange 2'));
    // a rename takes both along
    again.rename('Hull navy', 'Fleet navy');
    const third = await PdfInks.open(await again.save());
    expect(third.measurement('Fleet navy')).toEqual(cxf);
    expect(third.measurement('Hull navy')).toBeNull();
    expect(third.inks(coated).map((i) => i.name)[0]).toBe('Fleet navy');
  });

  it('with an ink replaced by a swatch stands for that swatch’s colour', async () => {
    const pdf = await PdfInks.open(await write());
    const [swatch] = libraryOf('x', { A: [['Signal', '#118844']] }).groups[0]!.swatches;
    pdf.swap('Hull navy', { ...swatch!, color: { space: 'lab', components: [50, -40, 20] } }, coated);
    const now = await pdf.save();
    undamaged(now);
    const ink = (await PdfInks.open(now)).inks(coated).find((i) => i.name === 'Signal')!;
    expect(deltaE00(ink.lab as Lab, [50, -40, 20])).toBeLessThan(0.01);
  });
});

describe('inks', () => {
  it('may have names in any script', async () => {
    const pdf = await PdfInks.open(await byUs());
    pdf.rename('Orange 2', 'Rettungsring (Süd) #1 / 橙');
    const now = await pdf.save();
    undamaged(now);
    expect((await PdfInks.open(now)).inks(coated).map((i) => i.name)).toContain('Rettungsring (Süd) #1 / 橙');
  });

  it('that are not there, or names that are taken, are refused with what there is', async () => {
    const pdf = await PdfInks.open(await byUs());
    expect(() => pdf.rename('Orange', 'x')).toThrow(/no ink “Orange”\. Its inks are “Orange 2”, “Hull navy”/);
    expect(() => pdf.rename('Orange 2', 'Hull navy')).toThrow(/there is an ink “Hull navy” already/);
    expect(() => pdf.rename('Orange 2', 'Cyan')).toThrow(/already/);
    expect(() => pdf.rename('Orange 2', 'All')).toThrow(/cannot be the name/);
    expect(() => pdf.rename('Black', 'x')).toThrow(/process ink/);
    expect(() => pdf.setOrder(['Orange 2', 'Orange 2'])).toThrow(/twice/);
    expect(pdf.isChanged).toBe(false);
    expect(await pdf.save()).toEqual(await byUs());
  });

  it('of a file that is damaged or locked are not guessed', async () => {
    await expect(PdfInks.open(new TextEncoder().encode('%PDF-1.7\nnothing'))).rejects.toThrow(/damaged/);
    if (!has('qpdf', '--version')) return;
    const [plain, locked] = [join(folder, 'plain.pdf'), join(folder, 'locked.pdf')];
    writeFileSync(plain, await byUs());
    execFileSync('qpdf', ['--encrypt', 'secret', 'owner', '256', '--', plain, locked]);
    await expect(PdfInks.open(new Uint8Array(readFileSync(locked)))).rejects.toThrow(/password/);
    // without a user password it opens, and is not changed
    execFileSync('qpdf', ['--encrypt', '', 'owner', '256', '--', plain, locked]);
    const open = await PdfInks.open(new Uint8Array(readFileSync(locked)));
    expect(open.inks(coated).map((i) => i.name)).toContain('Orange 2');
    open.rename('Orange 2', 'Orange');
    await expect(open.save()).rejects.toThrow(/encrypted/);
  });

  it('with an ink printed over leaves what lies below it', async () => {
    const { PDFDocument, PDFName, PDFOperator, cmyk } = await import('@cantoo/pdf-lib');
    const made = await PDFDocument.create();
    const page = made.addPage([60, 20]);
    page.drawRectangle({ x: 0, y: 0, width: 40, height: 20, color: cmyk(0, 0, 1, 0) });
    const tint = { FunctionType: 2, Domain: [0, 1], C0: [0, 0, 0, 0], C1: [0, 0.6, 0.9, 0], N: 1 };
    const orange = made.context.obj(['Separation', 'Orange 2', 'DeviceCMYK', tint] as never);
    page.node
      .Resources()!
      .set(PDFName.of('ColorSpace'), made.context.obj({ O: made.context.register(orange) }));
    page.pushOperators(PDFOperator.of('/O cs 1 scn 20 0 40 20 re f' as never));
    const old = await made.save();
    const { pdf } = await changedPdf(old, [{ do: 'over', name: 'Orange 2' }], coated, NOW);
    const now = await pdf.save();
    undamaged(now);
    const at = async (bytes: Uint8Array) => (await plates(bytes)).get('Yellow')![10 * 60 + 30];
    expect([await at(old), await at(now)]).toEqual([255, 0]);
  });

  it('of forms that hold themselves, and of forms in forms in forms, are counted in a moment', async () => {
    const { PDFDocument, PDFName } = await import('@cantoo/pdf-lib');
    const made = await PDFDocument.create();
    const page = made.addPage([200, 200]);
    const { context } = made;
    const formOf = (content: string, inner: unknown) =>
      context.register(
        context.stream(content, {
          ...{ Type: 'XObject', Subtype: 'Form', BBox: [0, 0, 200, 200] },
          Resources: { XObject: { F: inner } },
        } as never),
      );
    const own = context.nextRef();
    context.assign(
      own,
      context.stream('0 1 0 0 k 0 0 20 20 re f /F Do /F Do', {
        ...{ Type: 'XObject', Subtype: 'Form', BBox: [0, 0, 200, 200], Resources: { XObject: { F: own } } },
      } as never),
    );
    let inner = own;
    for (let i = 0; i < 8; i++) inner = formOf('/F Do '.repeat(30), inner);
    page.node.set(PDFName.of('Resources'), context.obj({ XObject: { F: inner } } as never));
    page.node.set(PDFName.of('Contents'), context.register(context.stream('/F Do')));
    const pdf = await PdfInks.open(await made.save());
    const { pages, passed } = await pdf.coverage(coated);
    expect(pages[0]!.get('Magenta')).toBeCloseTo(0.01, 4);
    expect(passed.join()).toMatch(/complex pages/);
  });

  it('of a file that would start something say so, and nothing is followed', async () => {
    const lib = await import('@cantoo/pdf-lib');
    const document = await lib.PDFDocument.load(await byUs());
    document.addJavaScript('x', 'app.alert(1)');
    const pdf = await PdfInks.open(await document.save({ useObjectStreams: true }));
    expect(pdf.facts().warnings.join()).toMatch(/scripts, which Papillon does not follow/);
    // with objects in streams it is changed all the same
    pdf.rename('Orange 2', 'Orange');
    const now = await pdf.save();
    undamaged(now);
    expect((await plates(now)).has('Orange')).toBe(true);
  });
});

import { readFileSync } from 'node:fs';
import { PDFDict, PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { pdf as sheet } from '../formats/pdf/pdf.ts';
import { countingIds } from '../swatch/model.ts';
import { coated, libraryOf } from '../testing.ts';
import { PdfInks } from './inks.ts';
import { plates, undamaged } from './testing.ts';

const services = await localServices();
const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);

function fleet() {
  const library = libraryOf('Fleet <2027>', {
    Inks: [
      ['Hull navy', '#14304a'],
      ['Sand', '#d9c7a0'],
    ],
  });
  const [navy] = library.groups[0]!.swatches;
  navy!.kind = 'spot';
  navy!.spectrum = { start: 380, step: 10, values: nms.map((nm) => 0.02 + (nm % 70) / 1000) };
  return library;
}

describe('a sheet as PDF/X-4', () => {
  it('says so, with the profile of its condition, boxes, dates and an identity', async () => {
    const made = await sheet.encode(fleet(), services, { x4: true });
    undamaged(made);
    const facts = (await PdfInks.open(made)).facts();
    expect([facts.version, facts.conformance, facts.missingFonts]).toEqual(['1.6', 'PDF/X-4', []]);
    expect(facts.outputIntent).toEqual({ name: 'FOGRA39', profile: true });
    const profile = (await PdfInks.open(made)).profile();
    expect(profile).toEqual(new Uint8Array(readFileSync('profiles/coated-offset.icc')));
    const document = await PDFDocument.load(made, { updateMetadata: false });
    const info = document.context.lookup(document.context.trailerInfo.Info, PDFDict);
    expect(String(info.get(PDFName.of('Trapped')))).toBe('/False');
    expect(document.context.trailerInfo.ID).toBeDefined();
    expect(document.getTitle()).toBe('Fleet <2027>');
    expect(document.getModificationDate()!.toISOString().slice(0, 10)).toBe(services.now!.slice(0, 10));
    for (const page of document.getPages()) {
      expect(page.node.has(PDFName.of('TrimBox'))).toBe(true);
      expect(page.getBleedBox()).toEqual(page.getMediaBox());
    }
    const xmp = new TextDecoder().decode(made);
    expect(xmp).toMatch(/<rdf:li xml:lang="x-default">Fleet &lt;2027&gt;<\/rdf:li>/);
  });

  it('carries the spectra of its inks, every band, and has the plates it has without', async () => {
    const library = fleet();
    const made = await sheet.encode(library, services, { x4: true });
    const cxf = new TextDecoder().decode((await PdfInks.open(made)).measurement('Hull navy')!);
    const values = />([\d. eE+-]{100,})</.exec(cxf)![1]!.trim().split(/\s+/).map(Number);
    library.groups[0]!.swatches[0]!.spectrum!.values.forEach((v, i) => {
      expect(Math.abs(v - values[i]!)).toBeLessThan(1e-6);
    });
    const [before, after] = [await plates(await sheet.encode(library, services)), await plates(made)];
    expect([...after.keys()].sort()).toEqual([...before.keys()].sort());
    for (const [name, pixels] of before) expect(Buffer.compare(pixels, after.get(name)!)).toBe(0);
  });

  it('opens as the sheet it is', async () => {
    const library = fleet();
    delete library.groups[0]!.swatches[0]!.spectrum;
    const { library: again } = await sheet.decode(
      await sheet.encode(library, services, { x4: true }),
      countingIds(),
    );
    expect(again.groups[0]!.swatches.map((s) => [s.name, s.kind])).toEqual([
      ['Hull navy', 'spot'],
      ['Sand', 'process'],
    ]);
  });

  it('needs the profile of its condition', async () => {
    const poor = { ...services, condition: coated, profile: async () => null };
    await expect((async () => sheet.encode(fleet(), poor, { x4: true }))()).rejects.toThrow(
      /profile .* is not here/,
    );
  });
});

import { writeCxf } from '../reading/cxf.ts';
import type { Services } from '../services.ts';
import type { Swatch } from '../swatch/model.ts';
import { FormatError } from '../text/error.ts';
import { PdfInks } from './inks.ts';
import type { PdfLib } from './objects.ts';
import { WHOLE } from './save.ts';

// PDF/X-4 (ISO 15930-7): what a press needs to know travels in the file. From memory of the standard, and not checked by a preflight.

/** What the file says of itself in XMP (ISO 16684-1), by the package that knows its namespaces. */
function metadata(lib: PdfLib, title: string, date: Date, id: string): string {
  const packet = lib.buildPDFAMetadata({
    ...{ conformance: { part: 3, level: 'B' }, title, producer: 'Papillon', creator: 'Papillon' },
    ...{ creationDate: date, modificationDate: date },
  });
  const namespace = (prefix: string) => new RegExp(`xmlns:${prefix}="([^"]+)"`).exec(packet)?.[1] ?? '';
  // the block of another standard gives way to that of this one; media management goes on from the basic namespace
  return packet.replace(
    /<rdf:Description[^>]*xmlns:pdfaid[\s\S]*?<\/rdf:Description>/,
    `<rdf:Description rdf:about="" xmlns:xmpMM="${namespace('xmp')}mm/" xmlns:pdf="${namespace('pdf')}" xmlns:pdfxid="http://www.npes.org/pdfx/ns/id/"><xmpMM:DocumentID>uuid:${id}</xmpMM:DocumentID><xmpMM:VersionID>1</xmpMM:VersionID><xmpMM:RenditionClass>default</xmpMM:RenditionClass><pdf:Trapped>False</pdf:Trapped><pdfxid:GTS_PDFXVersion>PDF/X-4</pdfxid:GTS_PDFXVersion></rdf:Description>`,
  );
}

/**
 * A PDF of ours as PDF/X-4: the profile of its print condition, boxes, what it says of itself, and the spectra of its inks where they are
 * known.
 *
 * @param swatches whose spectra travel along
 * @throws FormatError where the profile of the condition is not available
 */
export async function asX4(
  bytes: Uint8Array,
  title: string,
  swatches: readonly Swatch[],
  { condition, profile, now = '1970-01-01T00:00:00Z' }: Pick<Services, 'condition' | 'profile' | 'now'>,
): Promise<Uint8Array<ArrayBuffer>> {
  const icc = await profile?.(condition.setting.profile);
  if (!icc)
    throw new FormatError(
      `the profile “${condition.name}” is not here, and PDF/X-4 has it in the file. Add it again.`,
    );
  const lib: PdfLib = await import('@cantoo/pdf-lib');
  const { PDFArray, PDFDict, PDFDocument, PDFHeader, PDFHexString, PDFName, PDFString } = await import(
    '@cantoo/pdf-lib'
  );
  const document = await PDFDocument.load(bytes, { updateMetadata: false });
  const { context, catalog } = document;
  context.header = PDFHeader.forVersion(1, 6);
  const date = new Date(now);
  document.setTitle(title);
  document.setCreationDate(date);
  document.setModificationDate(date);
  context.lookup(context.trailerInfo.Info, PDFDict).set(PDFName.of('Trapped'), PDFName.of('False'));
  for (const page of document.getPages()) {
    const { x, y, width, height } = page.getMediaBox();
    if (!page.node.has(PDFName.of('TrimBox'))) page.setTrimBox(x, y, width, height);
    if (!page.node.has(PDFName.of('BleedBox'))) page.setBleedBox(x, y, width, height);
  }
  const intent = context.obj({ Type: 'OutputIntent', S: 'GTS_PDFX' });
  // its registered name is kept, where it has one
  const old = catalog.lookupMaybe(PDFName.of('OutputIntents'), PDFArray)?.lookupMaybe(0, PDFDict);
  for (const [key, value] of old?.entries() ?? []) intent.set(key, value);
  if (!intent.has(PDFName.of('OutputConditionIdentifier')))
    intent.set(PDFName.of('OutputConditionIdentifier'), PDFString.of('Custom'));
  intent.set(PDFName.of('Info'), PDFHexString.fromText(condition.name));
  intent.set(PDFName.of('DestOutputProfile'), context.register(context.flateStream(icc, { N: 4 })));
  catalog.set(PDFName.of('OutputIntents'), context.obj([context.register(intent)]));
  const id = await idOf(bytes);
  const uuid = id.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12}).*$/, '$1-$2-$3-$4-$5');
  const xmp = new TextEncoder().encode(metadata(lib, title, date, uuid));
  catalog.set(
    PDFName.of('Metadata'),
    context.register(context.stream(xmp, { Type: 'Metadata', Subtype: 'XML' })),
  );
  const hex = PDFHexString.of(id);
  context.trailerInfo.ID = context.obj([hex, hex]);
  // plain objects, so that our own sheets are known as ours
  const whole = { ...WHOLE, useObjectStreams: false };
  const made = (await document.save(whole)) as Uint8Array<ArrayBuffer>;
  const measured = swatches.filter((s) => s.kind !== 'process' && s.spectrum);
  if (measured.length === 0) return made;
  const pdf = await PdfInks.open(made);
  const inks = new Set(pdf.inks(condition).map((i) => i.name));
  for (const { name, spectrum } of measured) {
    if (!inks.has(name) || !spectrum) continue;
    const steps = [{ percent: 100, backing: 'white' as const, name, spectrum }];
    pdf.embed(name, writeCxf([{ ink: { name, conditions: {}, steps }, facts: {} }], now));
  }
  return pdf.save(true);
}

/** 16 bytes that are unlike those of any other file, as hexadecimal digits. */
async function idOf(bytes: Uint8Array): Promise<string> {
  const { sha256 } = await import('@noble/hashes/sha2');
  return [...sha256(bytes).subarray(0, 16)].map((v) => v.toString(16).padStart(2, '0')).join('');
}

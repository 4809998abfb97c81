import type { Lab } from '../../core/color/index.ts';
import { FormatError } from '../../core/formats/index.ts';
import { PdfArtwork } from '../../core/pdf/artwork.ts';
import { PdfInks } from '../../core/pdf/inks.ts';
import { repainted } from '../../core/pdf/recolor.ts';
import { coated } from '../../core/testing.ts';
import { mutate, NASTY } from './mutate.ts';

/** Objects of a small page with spot inks alone, mixed, in a picture, in a form and as a table; and an output intent. */
const CONTENT = `q 0.5 0 0 0.5 0 0 cm /S cs 1 scn 10 10 100 80 re f /Mix cs 0.4 0.8 scn 20 20 m 90 20 l 50 90 l h f*
/I cs 1 scn 5 5 20 20 re W n 0 0 60 60 re f /G gs 0.2 0.1 0 0.6 K 3 w 10 100 m 20 120 40 120 60 100 c S
/F Do /P Do BI /W 2 /H 2 /BPC 8 /CS /S ID \x00\x7f\xff\x20 EI BT /T 12 Tf (Hull) Tj [(a) 20 (b)] TJ ET Q
q 0 0 90 20 re W n /Sh sh Q /Pattern cs /Tile scn 100 0 20 20 re f /Shaded scn 100 30 20 20 re f`;
const OBJECTS = [
  '<< /Type /Catalog /Pages 2 0 R /OutputIntents [ 12 0 R ] >>',
  '<< /Type /Pages /Kids [ 3 0 R ] /Count 1 >>',
  '<< /Type /Page /Parent 2 0 R /MediaBox [ 0 0 200 120 ] /Contents 4 0 R /Annots [ << /Type /Annot /Subtype /Square /Rect [ 10 10 60 60 ] /AP << /N 7 0 R >> >> ] /Resources << /ColorSpace << /S 5 0 R /Mix 6 0 R /I [ /Indexed 5 0 R 1 <00FF> ] >> /Shading << /Sh 14 0 R >> /Pattern << /Tile 15 0 R /Shaded << /PatternType 2 /Shading 14 0 R >> >> /Font << /T 16 0 R >> /XObject << /F 7 0 R /P 8 0 R >> /ExtGState << /G << /OP true /op true /OPM 1 /ca 0.5 >> >> >> >>',
  null,
  '[ /Separation /Orange#202 /DeviceCMYK 9 0 R ]',
  '[ /DeviceN [ /Orange#202 /Hull#20navy ] /DeviceCMYK 10 0 R << /Colorants << /Orange#202 5 0 R >> /MixingHints << /Solidities << /Orange#202 0.8 >> /PrintingOrder [ /Hull#20navy /Orange#202 ] >> >> ]',
  null,
  null,
  '<< /FunctionType 2 /Domain [ 0 1 ] /C0 [ 0 0 0 0 ] /C1 [ 0 0.6 0.9 0 ] /N 1 >>',
  null,
  '<< /Title (Livery) >>',
  '<< /Type /OutputIntent /S /GTS_PDFX /OutputConditionIdentifier (FOGRA39) /SpectralData << /Orange#202 13 0 R >> >>',
  null,
  '<< /ShadingType 2 /ColorSpace 5 0 R /Coords [ 0 0 90 0 ] /Function << /FunctionType 3 /Domain [ 0 1 ] /Bounds [ 0.4 ] /Encode [ 0 1 0 1 ] /Functions [ << /FunctionType 2 /Domain [ 0 1 ] /C0 [ 0 ] /C1 [ 1 ] /N 1 >> << /FunctionType 2 /Domain [ 0 1 ] /C0 [ 1 ] /C1 [ 0.2 ] /N 1 >> ] >> >>',
  null,
  '<< /Type /Font /Subtype /Type0 /BaseFont /Made /DescendantFonts [ << /Type /Font /Subtype /CIDFontType2 /DW 700 /W [ 10 [ 400 500 ] 60 90 650 ] >> ] >>',
] as const;
const STREAMS: Record<number, [dict: string, data: string]> = {
  4: ['', CONTENT],
  7: [
    '/Type /XObject /Subtype /Form /BBox [ 0 0 50 50 ] /Matrix [ 1 0 0 1 10 10 ]',
    '/S cs 0.5 scn 0 0 40 40 re f /F Do',
  ],
  8: [
    '/Type /XObject /Subtype /Image /Width 2 /Height 1 /BitsPerComponent 8 /ColorSpace 6 0 R',
    '\xff\x00\x00\xff',
  ],
  10: ['/FunctionType 4 /Domain [ 0 1 0 1 ] /Range [ 0 1 0 1 0 1 0 1 ]', '{ 0.7 mul exch 0.6 mul 0 0 }'],
  13: ['', '<CxF>made up</CxF>'],
  15: [
    '/PatternType 1 /PaintType 1 /TilingType 1 /BBox [ 0 0 5 5 ] /XStep 5 /YStep 5',
    '/S cs 1 scn 0 0 2 2 re f',
  ],
};

const latin = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

function written(): Uint8Array {
  let text = '%PDF-1.7\n';
  const offsets: number[] = [];
  OBJECTS.forEach((object, i) => {
    offsets.push(text.length);
    const [dict, data] = STREAMS[i + 1] ?? ['', ''];
    text += `${i + 1} 0 obj\n${object ?? `<< ${dict} /Length ${data.length} >>\nstream\n${data}\nendstream`}\nendobj\n`;
  });
  const start = text.length;
  text += `xref\n0 ${OBJECTS.length + 1}\n0000000000 65535 f \n${offsets.map((o) => `${String(o).padStart(10, '0')} 00000 n \n`).join('')}`;
  text += `trailer\n<< /Size ${OBJECTS.length + 1} /Root 1 0 R /Info 11 0 R >>\nstartxref\n${start}\n%%EOF\n`;
  return latin(text);
}

/** Small PDFs: one as a table of objects, one with its objects in streams. */
export async function pdfs(): Promise<Uint8Array[]> {
  const { PDFDocument } = await import('@cantoo/pdf-lib');
  const table = written();
  const streams = await (await PDFDocument.load(table)).save({ useObjectStreams: true });
  return [table, table, table, streams];
}

/** Reads all there is to read of a PDF, and changes it where that goes; null when it is refused with a reason. */
export async function readPdfInks(bytes: Uint8Array): Promise<number | null> {
  try {
    const pdf = await PdfInks.open(bytes);
    pdf.facts();
    const inks = pdf.inks(coated);
    await pdf.coverage(coated);
    const spot = inks.find((i) => i.kind !== 'process');
    if (spot) {
      pdf.measurement(spot.name);
      pdf.rename(spot.name, 'Renamed');
      pdf.setOrder(['Renamed']);
      await pdf.save();
    }
    await recolour(bytes);
    return inks.length + 1;
  } catch (error) {
    if (error instanceof FormatError) return null;
    throw error;
  }
}

/** Looks through all parts, and paints every other one with something else. */
async function recolour(bytes: Uint8Array): Promise<void> {
  const artwork = await PdfArtwork.open(bytes, coated);
  if (artwork.pages.length > 0) await artwork.mapOf(0, 200);
  const red = { plate: 'Red', tint: 1, lab: [40, 60, 30] } as const;
  const changes = artwork.parts
    .filter((_, i) => i % 2 === 0)
    .map((p) => [p.id, { color: { ...red, lab: [...red.lab] as Lab } }] as const);
  await repainted(artwork, new Map(changes), { condition: coated });
}

/** Other names and numbers where a PDF has some: its words are what it breaks by. */
export function mutatePdf(bytes: Uint8Array, other: Uint8Array, next: () => number): Uint8Array {
  if (next() < 0.4) return mutate(bytes, other, next);
  let text = new TextDecoder('latin1').decode(bytes);
  const words = [...text.matchAll(/\/[A-Z]\w*|\b\d+\b/g)];
  for (let rounds = 1 + Math.floor(next() * 4); rounds > 0 && words.length > 0; rounds--) {
    const word = words[Math.floor(next() * words.length)]!;
    const from = words[Math.floor(next() * words.length)]!;
    const nasty = String(NASTY[Math.floor(next() * NASTY.length)]);
    const by = next() < 0.3 ? nasty : from[0];
    // at a place that is about the same: earlier changes have moved it
    text = text.slice(0, word.index) + by + text.slice(word.index + word[0].length);
  }
  return latin(text);
}

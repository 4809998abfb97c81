import type { Condition } from '../color/index.ts';
import { PdfArtwork } from '../pdf/artwork.ts';
import type { Services } from '../services.ts';
import { type ArtworkItem, artworksOf, type Colorway, colorwaysOf } from '../swatch/colorway.ts';
import { allSwatches, type Library, type Swatch } from '../swatch/model.ts';
import { FormatError } from '../text/error.ts';
import { baseName, fileName } from '../text/names.ts';
import { plural, writeText } from '../text/text.ts';
import { type ColorFacts, factsOf, linesAround, ordersOf, type Row, rowsIn } from './colorway.ts';
import { madeOf, madeSvg } from './made.ts';
import { withOutlines } from './outline.ts';
import { madePdf, pageColors, pageLines } from './pages.ts';
import { readArtwork } from './parts.ts';
import { artworkPdf } from './pdf.ts';
import { trueSize } from './size.ts';
import { artworkText } from './source.ts';

const FOLDER = 'Artwork';

/** A file of a kit. */
export interface ArtworkFile {
  path: string;
  bytes: Uint8Array;
  format?: string;
}

/**
 * The artwork of a library as files: of each drawing an SVG for every colourway, one PDF with a page for each and a sheet of all, of each PDF
 * one for every colourway, and a note that says what became what, under which condition.
 *
 * @param read the bytes of a work by their SHA-256; null when they are not available
 * @param free makes paths that no other file has
 */
export async function artworkFiles(
  library: Library,
  read: (hash: string) => Promise<Uint8Array | null>,
  services: Services,
  free: (path: string) => string,
  step: (path: string) => unknown = () => undefined,
): Promise<ArtworkFile[]> {
  const { condition } = services;
  const files: ArtworkFile[] = [];
  const swatches = new Map(allSwatches(library).map((s) => [s.id, s]));
  const swatchOf = (id: string) => swatches.get(id);
  const lines = [`${library.name}: artwork`, '', `Inks for ${condition.name}. ΔE00 is between old and new.`];
  for (const item of artworksOf(library)) {
    const name = baseName(item.name) || 'Artwork';
    const folder = `${FOLDER}/${fileName(name, '').replace(/\.$/, '')}`;
    const say = (text: string) => lines.push('', item.name, `  ${text}`);
    await step(item.name);
    if (item.data.form === 'picture') {
      say('It is a picture, and goes out as PNG from Apply; it is not in this kit.');
      continue;
    }
    const bytes = await read(item.data.asset);
    if (!bytes) {
      say('Its drawing is not on the server any more; it is not in this kit.');
      continue;
    }
    const ways = colorwaysOf(library, item.id);
    const pages = ways.length > 0 ? ways : [null];
    /** What a colourway makes of the colours, noted. */
    const rowsOf = (colors: readonly ColorFacts[], way: Colorway | null) => {
      const rows = rowsIn(colors, way, swatchOf, condition);
      const called = way ? way.name || 'Colourway without a name' : 'As drawn';
      lines.push(`  ${called}`, ...became(rows));
      return { rows, called };
    };
    const put = (called: string, format: string, bytes: Uint8Array) =>
      files.push({ path: free(`${folder}/${fileName(called, format)}`), bytes, format });
    try {
      if (item.data.form === 'pages') {
        const pdf = await PdfArtwork.open(bytes, (await services.usual?.()) ?? condition);
        const colors = pageColors(pdf);
        const lined = await pageLines(pdf, linesAround(item, swatchOf, condition));
        lines.push('', item.name);
        for (const way of pages) {
          const { rows, called } = rowsOf(colors, way);
          put(called, 'pdf', await madePdf(pdf, ordersOf(rows), library, condition, { lines: lined }));
        }
        continue;
      }
      const own = readArtwork(artworkText(bytes));
      const size = trueSize(own.size, item.data.worth);
      const around = linesAround(item, swatchOf, condition);
      const { artwork, keys } = await withOutlines({ ...own, size }, around);
      const { colors } = factsOf(own);
      lines.push('', item.name);
      const drawn = pages.map((way) => {
        const { rows, called } = rowsOf(colors, way);
        const outlines = keys.map((key, i) => ({ ...around[i]!, key }));
        const made = madeOf(artwork, ordersOf(rows), outlines);
        put(called, 'svg', writeText(madeSvg(made, { size })));
        return { ...made, name: called };
      });
      const pdf = await artworkPdf(drawn, library, name, services, { sheet: ways.length > 0 });
      put(name, 'pdf', pdf.bytes);
      for (const text of pdf.warnings) lines.push(`  Note: ${text}`);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      say(`Not in this kit: ${error.message}`);
    }
  }
  lines.push('', '');
  files.push({ path: `${FOLDER}/READ ME.txt`, bytes: writeText(lines.join('\r\n')) });
  return files;
}

/** What became what, a line each. */
function became(rows: readonly Row[]): string[] {
  const stay = rows.filter((r) => r.state === 'drawn').length;
  const said = rows.flatMap((row) => {
    if (row.state === 'drawn') return [];
    const { swatch, followsName, lighter, line, from, to, names, parts, deltaE00 } = row;
    const now = [
      swatch ? [swatch.code, swatch.name].filter(Boolean).join(' ') : '',
      followsName ? `as ${followsName}${lighter ? `, ${lighter > 0 ? '+' : ''}${lighter} L*` : ''}` : '',
      line ? `a line of ${line} mm` : '',
    ].filter(Boolean);
    return `    ${from.hex} -> ${to}${now.length > 0 ? ` (${now.join('; ')})` : ''}, ${names[0] ? `${names[0]}, ` : ''}${plural(parts.length, 'part')}, ΔE00 ${deltaE00.toFixed(1)}`;
  });
  return [...said, ...(stay > 0 ? [`    ${plural(stay, 'colour')} as drawn`] : [])];
}

/**
 * A work in a colourway as it is printed: a PDF, and which page of it.
 * @throws FormatError for a picture of pixels, which goes out as PNG, and where the work cannot be read
 */
export async function printedWork(
  library: Library,
  item: ArtworkItem,
  way: Colorway | null,
  bytes: Uint8Array,
  services: Services,
): Promise<{ bytes: Uint8Array<ArrayBuffer>; page: number }> {
  const { condition } = services;
  const swatches = new Map(allSwatches(library).map((s) => [s.id, s]));
  const swatchOf = (id: string) => swatches.get(id);
  const around = linesAround(item, swatchOf, condition);
  if (item.data.form === 'picture') throw new FormatError('it is a picture, and goes out as PNG from Apply.');
  if (item.data.form === 'pages') {
    const pdf = await PdfArtwork.open(bytes, (await services.usual?.()) ?? condition);
    const orders = ordersOf(rowsIn(pageColors(pdf), way, swatchOf, condition));
    const lines = await pageLines(pdf, around);
    return { bytes: await madePdf(pdf, orders, library, condition, { lines, fresh: true }), page: 0 };
  }
  const drawn = { ...(await drawnIn(item, way, bytes, swatchOf, condition)).made, name: item.name };
  return { bytes: (await artworkPdf([drawn], library, item.name, services)).bytes, page: 0 };
}

/** A drawing as a colourway makes it, and its size. */
async function drawnIn(
  item: ArtworkItem,
  way: Colorway | null,
  bytes: Uint8Array,
  swatchOf: (id: string) => Swatch | undefined,
  condition: Condition,
) {
  const own = readArtwork(artworkText(bytes));
  const size = trueSize(own.size, item.data.worth);
  const around = linesAround(item, swatchOf, condition);
  const { artwork, keys } = await withOutlines({ ...own, size }, around);
  const orders = ordersOf(rowsIn(factsOf(own).colors, way, swatchOf, condition));
  const outlines = keys.map((key, i) => ({ ...around[i]!, key }));
  return { made: madeOf(artwork, orders, outlines), size };
}

/**
 * A work in a colourway as SVG; null for pages of a PDF and pictures of pixels.
 * @throws FormatError where it cannot be read
 */
export async function shownWork(
  library: Library,
  item: ArtworkItem,
  way: Colorway | null,
  bytes: Uint8Array,
  condition: Condition,
): Promise<string | null> {
  if (item.data.form === 'picture' || item.data.form === 'pages') return null;
  const swatches = new Map(allSwatches(library).map((s) => [s.id, s]));
  const { made, size } = await drawnIn(item, way, bytes, (id) => swatches.get(id), condition);
  return madeSvg(made, { size });
}

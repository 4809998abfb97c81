import { type Command, InvalidArgumentError } from 'commander';
import {
  type ArtworkSize,
  type Assignment,
  artworkPdf,
  artworkText,
  assignColors,
  changesOf,
  colorsOf,
  type FlatPicture,
  linksOf,
  madePdf,
  type PaintedColor,
  pageColors,
  pagesFacts,
  readArtwork,
  readFlat,
  recolored,
  recoloredPixels,
} from '../../core/artwork/index.ts';
import { baseName } from '../../core/formats/index.ts';
import { isPdf } from '../../core/pdf/sniff.ts';
import { inSrgb, pictureType, warningOf } from '../../core/picture/index.ts';
import { asNumber, oneOf, wrongUsage } from '../args.ts';
import { pictureOf } from '../drawing.ts';
import { conditionHere, localServices } from '../engine.ts';
import { named, openedPdf, readInput, STREAM, write } from '../files.ts';
import { libraryNamed } from '../libraries.ts';
import type { Shell } from '../shell.ts';

const ENDINGS = ['svg', 'png', 'pdf'] as const;

function asPair(text: string, before: [string, string][]): [string, string][] {
  const at = text.indexOf('=');
  const [from, to] = [text.slice(0, at).trim(), text.slice(at + 1).trim()];
  if (at < 1 || from === '' || to === '') throw new InvalidArgumentError('Use OLD=NEW, such as #c8102e=612.');
  return [...before, [from, to]];
}

/** `apply`: a drawing in the colours of a library. */
export function addApply(program: Command, { streams, report }: Shell): void {
  program
    .command('apply')
    .description('a drawing in the colours of a library; everything else in it stays to the letter')
    .argument('<artwork>', 'an SVG, a PDF, or a picture of few flat colours')
    .argument('<out>', 'an SVG, a PNG, or a PDF with separations, by its ending; a picture or PDF stays one')
    .requiredOption('--with <file-or-book>', 'a swatch file, or a book by its name')
    .option(
      '--map <old=new>',
      'a colour of the drawing, or the name of an ink, and what it becomes: a name, a code, a number or a colour (repeatable)',
      asPair,
      [],
    )
    .option('--nearest', 'every other colour becomes the nearest of the library')
    .option(
      '--within <dE>',
      'with --nearest: what is further away than this ΔE00 stays',
      asNumber({ min: 0, max: 200 }),
    )
    .option('--dpi <n>', 'of a PNG, pixels an inch', asNumber({ min: 10, max: 2400 }), 300)
    .option(
      '--links <how>',
      'an SVG says which swatch parts have: by classes, or by variables',
      oneOf(['classes', 'variables']),
    )
    .option('--fresh', 'of a PDF: a new file without the old colours, not an update behind the old one')
    .option('--json', 'one JSON value')
    .action(async (file, out, { with: place, map, nearest, within, dpi, links, fresh, json }) => {
      const ending =
        ENDINGS.find((e) => out.toLowerCase().endsWith(`.${e}`)) ?? (out === STREAM ? 'svg' : null);
      if (!ending) throw wrongUsage(`the ending of ${out} is none of .svg, .png and .pdf`);
      if (map.length === 0 && !nearest)
        throw wrongUsage('say what becomes of the colours: --map OLD=NEW, or --nearest');
      if (within !== undefined && !nearest) throw wrongUsage('--within goes with --nearest');
      const library = await libraryNamed(place);
      const on = await conditionHere(library);
      const { name: called, bytes } = await readInput(file, streams);
      const assign = <From extends PaintedColor>(colors: readonly From[]) =>
        named(called, () =>
          assignColors(
            colors,
            library,
            { map, nearest: !!nearest, within: within ?? Number.POSITIVE_INFINITY },
            on,
            drawnUnder,
          ),
        );
      const warnings: string[] = [];
      // one for all PDFs, so that a colour is called the same wherever it is opened
      const drawnUnder = isPdf(bytes) ? await conditionHere() : on;
      let assignments: Assignment<PaintedColor>[];
      let size: Pick<ArtworkSize, 'width' | 'height' | 'unit'>;
      if (pictureType(bytes)) {
        if (ending !== 'png') throw wrongUsage('a picture stays one: the ending must be .png');
        const { decodePicture } = await import('../picture.ts');
        const picture = await decodePicture(called, bytes);
        const converted = inSrgb(picture);
        warnings.push(...(picture.note ? [picture.note] : []), ...warningOf(converted));
        const flat = named(called, () => readFlat(converted.picture));
        assignments = assign([...flat.colors].sort((a, b) => b.share - a.share));
        await write(out, await pngOf(recoloredPixels(flat, changesOf(assignments)), flat), streams);
        size = { width: picture.width, height: picture.height, unit: 'px' };
      } else if (isPdf(bytes)) {
        if (ending !== 'pdf') throw wrongUsage('a PDF stays one: the ending must be .pdf');
        if (links) throw wrongUsage('--links is for an SVG');
        const pdf = await openedPdf(called, bytes);
        assignments = assign(pageColors(pdf));
        const orders = assignments.map(({ from, ...order }) => ({ ...order, from: from.hex, parts: null }));
        await write(out, await madePdf(pdf, orders, library, on, { fresh: !!fresh }), streams);
        ({ size } = pagesFacts(pdf));
        warnings.push(...pdf.warnings);
      } else {
        const artwork = named(called, () => readArtwork(artworkText(bytes)));
        const own = assign(colorsOf(artwork));
        assignments = own;
        ({ size } = artwork);
        warnings.push(...artwork.warnings);
        if (ending === 'pdf') {
          const name = baseName(file === STREAM ? '' : file);
          const made = await artworkPdf([{ artwork, makings: own, name }], library, name, {
            ...(await localServices(library)),
            condition: on,
          });
          warnings.push(...made.warnings);
          await write(out, made.bytes, streams);
        } else {
          const after = recolored(
            artwork,
            changesOf(own),
            links && ending === 'svg' ? { links: { as: links, of: linksOf(own) } } : {},
          );
          await write(
            out,
            ending === 'svg' ? new TextEncoder().encode(after) : await pictureOf(after, artwork.size, dpi),
            streams,
          );
        }
      }
      const { width, height, unit } = size;
      const found = {
        colors: assignments.map(({ from, to, swatch, deltaE00 }) => ({
          from: from.hex,
          to,
          ...(swatch ? { swatch: swatch.name || swatch.code } : {}),
          parts: from.parts.length,
          deltaE00: Math.round(deltaE00 * 1000) / 1000,
        })),
        size: { width, height, unit },
        ...(warnings.length > 0 ? { notes: warnings } : {}),
      };
      const lines = found.colors.map(
        (c) =>
          `${c.from} ${c.from === c.to ? 'stays    ' : `→ ${c.to}`}  ΔE00 ${c.deltaE00.toFixed(1).padStart(4)}  ${c.parts} ${c.parts === 1 ? 'part ' : 'parts'}${c.swatch ? `  ${c.swatch}` : ''}`,
      );
      const said = [...lines, ...warnings.map((t) => `Note: ${t}`), ''].join('\n');
      report(out, json, found, said);
    });
}

/** Pixels as PNG. */
async function pngOf(data: Uint8Array, { width, height, channels }: FlatPicture): Promise<Uint8Array> {
  const { default: sharp } = await import('sharp');
  return sharp(data, { raw: { width, height, channels } }).png().toBuffer();
}

import type { Command } from 'commander';
import {
  artworkPalette,
  artworkText,
  type ColorOrder,
  colorsOf,
  type PaintedColor,
  pageColors,
  readArtwork,
} from '../../core/artwork/index.ts';
import { screenOnly, toHex } from '../../core/color/index.ts';
import { baseName, FormatError, formatById } from '../../core/formats/index.ts';
import { isPdf } from '../../core/pdf/sniff.ts';
import {
  histogram,
  lookAlikes,
  MAX_PALETTE_COLORS,
  MIN_PALETTE_COLORS,
  meanDeltaE00,
  merged,
  ofPicture,
  type PaletteColor,
  paletteOf,
  plainRecipe,
  prepare,
  type Recipe,
} from '../../core/picture/index.ts';
import { countingIds, type Library } from '../../core/swatch/model.ts';
import { asDifference, asNumber, asWritable, byEnding, oneOf, wrongUsage } from '../args.ts';
import { conditionHere, localServices } from '../engine.ts';
import { named, openedPdf, readInput, STREAM, write } from '../files.ts';
import type { Shell } from '../shell.ts';

const ORDERS: readonly ColorOrder[] = ['area', 'position', 'appearance'];

/** `extract`: a palette from a picture, or the colours of a drawing. */
export function addExtract(program: Command, { streams, report }: Shell): void {
  program
    .command('extract')
    .description('a palette from a picture, or the colours of a drawing')
    .argument('<picture>', 'a picture, an SVG or a PDF, - for standard input')
    .argument('[out]', 'a swatch file to write; its ending says the format; - for standard output, with --to')
    .option('--to <id>', 'write this format instead of going by the ending', asWritable)
    .option(
      '--count <n>',
      `how many colours, ${MIN_PALETTE_COLORS}–${MAX_PALETTE_COLORS}`,
      asNumber({ min: MIN_PALETTE_COLORS, max: MAX_PALETTE_COLORS, whole: true }),
    )
    .option(
      '--accent <a>',
      '0 for the least error, towards 1 for small colours that stand out',
      asNumber({ min: 0, max: 1 }),
    )
    .option('--exact', 'every distinct colour, in reading order')
    .option('--chart', 'the chips of a printed or photographed chart, row by row')
    .option('--merge <dE>', 'merge colours within this ΔE00', asDifference)
    .option('--order <how>', `of a drawing or PDF: ${ORDERS.join(', ')}`, oneOf(ORDERS))
    .option('--json', 'one JSON value')
    .action(async (file, to, { to: asked, count, accent, exact, chart, merge, order, json }) => {
      if (to === STREAM && !asked) throw wrongUsage('- needs --to with the format to write');
      if (asked && to === undefined) throw wrongUsage('--to needs a file to write, or - for standard output');
      if ([exact, chart, count ?? accent !== undefined].filter(Boolean).length > 1)
        throw wrongUsage('--exact, --chart and --count with --accent cannot be combined');
      const format = asked ?? (to && byEnding(to));
      const { name, bytes } = await readInput(file, streams);
      if (isPdf(bytes) || formatById('svg').recognise(bytes) > 0) {
        if (exact || chart || count !== undefined || accent !== undefined || merge !== undefined)
          throw wrongUsage('only --order applies to drawings');
        const start = performance.now();
        const found: PaintedColor[] = isPdf(bytes)
          ? pageColors(await openedPdf(name, bytes), order)
          : colorsOf(
              named(name, () => readArtwork(artworkText(bytes))),
              order,
            );
        const elapsedMs = performance.now() - start;
        const library = artworkPalette(found, titleOf(file), countingIds(), await conditionHere());
        if (format) await write(to, await format.encode(library, await localServices()), streams);
        const names = library.groups[0]!.swatches.map((s) => s.name);
        const swatches = found.map((c, i) => ({
          hex: c.hex,
          coverage: c.share,
          name: names[i]!,
          parts: c.parts.length,
        }));
        const lines = swatches.map(
          (s) =>
            `${s.hex}  ${(s.coverage * 100).toFixed(1).padStart(5)} %  ${s.parts} ${s.parts === 1 ? 'part ' : 'parts'}  ${s.name}`,
        );
        report(
          to,
          json,
          { count: found.length, elapsedMs, meanDeltaE00: 0, swatches },
          `${lines.join('\n')}\n${found.length} colours\n`,
        );
        return;
      }
      if (order) throw wrongUsage('--order is for drawings');
      const { decodePicture } = await import('../picture.ts');
      const picture = await decodePicture(name, bytes);
      const start = performance.now();
      const recipe: Recipe = {
        ...plainRecipe,
        method: exact ? 'exact' : chart ? 'chart' : 'reduce',
        count: count ?? plainRecipe.count,
        accent: accent ?? plainRecipe.accent,
        order: exact || chart ? 'appearance' : 'share',
      };
      // counted once, for the palette and for how close it comes
      const counted = histogram(picture);
      const palette = paletteOf({ ...ofPicture(picture), prepared: () => prepare(counted) }, recipe);
      let { colors } = palette;
      if (chart && !palette.chart)
        throw new FormatError(
          `${name}: no chart found. Crop the picture to the chart, or take a palette with --count.`,
        );
      if (palette.exact && palette.exact.distinct > MAX_PALETTE_COLORS && !json)
        streams.err(
          `The picture has ${palette.exact.distinct} colours; the first ${MAX_PALETTE_COLORS} were taken.\n`,
        );
      if (merge !== undefined) colors = merged(colors, lookAlikes(colors, merge));
      const elapsedMs = performance.now() - start;
      if (format)
        await write(
          to,
          await format.encode(asLibrary(titleOf(file), colors), await localServices()),
          streams,
        );
      const result = {
        count: colors.length,
        elapsedMs,
        meanDeltaE00: meanDeltaE00(
          counted,
          colors.map((c) => c.color),
        ),
        swatches: colors.map((c) => ({ hex: toHex(c.color, screenOnly), coverage: c.share })),
        ...(picture.note ? { notes: [picture.note] } : {}),
      };
      const lines = result.swatches.map((s) => `${s.hex}  ${(s.coverage * 100).toFixed(1).padStart(5)} %`);
      if (picture.note) lines.push(`Note: ${picture.note}`);
      lines.push(`${result.count} colours, mean ΔE00 ${result.meanDeltaE00.toFixed(2)}`);
      report(to, json, result, `${lines.join('\n')}\n`);
    });
}

/** What is made of a file is called as it is; what comes in has no name. */
const titleOf = (file: string) => (file === STREAM ? '' : baseName(file));

function asLibrary(name: string, colors: PaletteColor[]): Library {
  const newId = countingIds();
  const swatches = colors.map((c) => ({
    id: newId(),
    name: '',
    kind: 'process' as const,
    color: c.color,
  }));
  return { id: newId(), name, groups: [{ id: newId(), name: '', swatches }] };
}

import { stat } from 'node:fs/promises';
import { Command, CommanderError, InvalidArgumentError, type Option } from 'commander';
import {
  artworkPalette,
  artworkText,
  type ColorOrder,
  colorsOf,
  type PaintedColor,
  pageColors,
  readArtwork,
} from '../core/artwork/index.ts';
import { processingSteps } from '../core/books/index.ts';
import { checkById, checks, type Finding, runCheck } from '../core/check/index.ts';
import {
  type Color,
  type ColorEngine,
  conditionOf,
  DE00,
  deltaE00,
  METRICS,
  type Metric,
  NotationError,
  ProfileError,
  type ProfileInfo,
  parseColor,
  SHIPPED,
  screenOnly,
  toHex,
  toLab,
  usualInkLimit,
} from '../core/color/index.ts';
import { baseName, FormatError, formatById, formats, inspection } from '../core/formats/index.ts';
import { type Entry, Matcher, NO_LIMITS, type Source } from '../core/match/index.ts';
import { isPdf } from '../core/pdf/sniff.ts';
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
} from '../core/picture/index.ts';
import { allSwatches, countingIds, countSwatches, type Library } from '../core/swatch/model.ts';
import { version } from '../package.json';
import { addApply } from './apply.ts';
import { addBoardCommand } from './board.ts';
import { addCompletion } from './completion.ts';
import { addConvert, asWritable, byEnding, wrongUsage } from './convert.ts';
import { colorEngine, conditionHere, localServices } from './engine.ts';
import { named, open, openedPdf, readWhole, STREAM, type Streams, write } from './files.ts';
import { addHarmony } from './harmony.ts';
import { addInks } from './inks.ts';
import { addReading } from './reading.ts';
import { addTune } from './tune.ts';

const ORDERS: readonly ColorOrder[] = ['area', 'position', 'appearance'];
function asOrder(text: string): ColorOrder {
  const order = ORDERS.find((o) => o === text);
  if (!order) throw new InvalidArgumentError(`It is one of ${ORDERS.join(', ')}.`);
  return order;
}

/** What an option does, and what it is when nobody says; things without a word of their own are not spelt out. */
function describeOption({ description, defaultValue }: Option): string {
  const id = (defaultValue as { id?: unknown } | undefined)?.id;
  const usual = typeof defaultValue === 'object' ? id : defaultValue;
  return usual === undefined || usual === false ? description : `${description} (default: ${usual})`;
}

/** Runs a command. Returns the exit code: 0 done, 1 bad input, 2 wrong usage. */
export async function main(args: string[], streams: Streams): Promise<number> {
  const { out, err } = streams;
  const program = new Command('papillon')
    .description('Swatch files and palettes from the shell.')
    .version(version, '-V, --version', 'the version')
    .exitOverride()
    .configureHelp({ optionDescription: describeOption })
    .configureOutput({ writeOut: out, writeErr: err });

  const print = (json: boolean | undefined, value: unknown, text: string) =>
    out(json ? `${JSON.stringify(value)}\n` : text);

  program
    .command('formats')
    .description('every format with its traits')
    .option('--json', 'one JSON value')
    .action(({ json }) => {
      const list = formats.map(({ id, name, about, endings, traits }) => ({
        id,
        name,
        about,
        endings,
        ...traits,
      }));
      const rows = list.map(
        (f) =>
          `${f.id.padEnd(11)}${f.about}\n           .${f.endings.join(' .')}; ${[f.read && 'read', f.write && 'write'].filter(Boolean).join(' and ')}; ${f.spaces.join(' ')}; ${f.bits} bits${f.most ? `; at most ${f.most}` : ''}\n`,
      );
      print(json, list, rows.join(''));
    });

  program
    .command('inspect')
    .description('what is in a swatch file')
    .argument('<file>', 'a swatch file, - for standard input')
    .option('--text', 'take the colours of text in drawings too')
    .option('--json', 'one JSON value')
    .action(async (file, { text, json }) => {
      const { library, format, warnings } = await open(file, undefined, text, streams);
      const found = inspection(library, format, warnings, await conditionHere(library));
      const lines = [`${format.name} · ${library.name} · ${countSwatches(library)} swatches`];
      for (const group of found.groups) {
        lines.push(group.name === null ? '(no group)' : group.name);
        for (const s of group.swatches)
          lines.push(
            `  ${s.hex}  ${s.space.padEnd(5)}${s.kind.padEnd(8)}${s.name}${s.role ? ` (${s.role})` : ''}`,
          );
      }
      print(json, found, [...lines, ...warnings.map((w) => `Note: ${w}`), ''].join('\n'));
    });

  addConvert(program, print, streams);

  program
    .command('extract')
    .description('a palette from a picture, or the colours of a drawing')
    .argument('<picture>', 'a picture, an SVG or a PDF')
    .argument('[out]', 'a swatch file to write; its ending says the format; - for standard output, with --to')
    .option('--to <id>', 'write this format instead of going by the ending', asWritable)
    .option('--count <n>', `how many colours, ${MIN_PALETTE_COLORS}–${MAX_PALETTE_COLORS}`, asCount)
    .option('--accent <a>', '0 for the least error, towards 1 for small colours that stand out', asAccent)
    .option('--exact', 'every distinct colour, in reading order')
    .option('--chart', 'the chips of a printed or photographed chart, row by row')
    .option('--merge <dE>', 'merge colours within this ΔE00', asDifference)
    .option('--order <how>', `of a drawing or PDF: ${ORDERS.join(', ')}`, asOrder)
    .option('--json', 'one JSON value')
    .action(async (file, to, { to: asked, count, accent, exact, chart, merge, order, json }) => {
      const toStream = to === STREAM;
      if (toStream && !asked) throw wrongUsage('- needs --to with the format to write');
      if (asked && to === undefined) throw wrongUsage('--to needs a file to write, or - for standard output');
      /** What is reported goes beside the file, not into it. */
      const report = (value: unknown, text: string) =>
        toStream ? err(json ? `${JSON.stringify(value)}\n` : text) : print(json, value, text);
      if ([exact, chart, count ?? accent !== undefined].filter(Boolean).length > 1)
        throw wrongUsage('--exact, --chart and --count with --accent cannot be combined');
      const format = asked ?? (to && byEnding(to));
      const bytes = await readWhole(file);
      if (isPdf(bytes) || formatById('svg').recognise(bytes) > 0) {
        if (exact || chart || count !== undefined || accent !== undefined || merge !== undefined)
          throw wrongUsage('only --order applies to drawings');
        const start = performance.now();
        const found: PaintedColor[] = isPdf(bytes)
          ? pageColors(await openedPdf(file, bytes), order)
          : colorsOf(
              named(file, () => readArtwork(artworkText(bytes))),
              order,
            );
        const elapsedMs = performance.now() - start;
        const library = artworkPalette(found, baseName(file), countingIds(), await conditionHere());
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
          { count: found.length, elapsedMs, meanDeltaE00: 0, swatches },
          `${lines.join('\n')}\n${found.length} colours\n`,
        );
        return;
      }
      if (order) throw wrongUsage('--order is for drawings');
      const { decodePicture } = await import('./picture.ts');
      const picture = await decodePicture(file, bytes);
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
          `${file}: no chart found. Crop the picture to the chart, or take a palette with --count.`,
        );
      if (palette.exact && palette.exact.distinct > MAX_PALETTE_COLORS && !json)
        err(
          `The picture has ${palette.exact.distinct} colours; the first ${MAX_PALETTE_COLORS} were taken.\n`,
        );
      if (merge !== undefined) colors = merged(colors, lookAlikes(colors, merge));
      const elapsedMs = performance.now() - start;
      if (format)
        await write(
          to,
          await format.encode(asLibrary(baseName(file), colors), await localServices()),
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
      report(result, `${lines.join('\n')}\n`);
    });

  program
    .command('check')
    .description('runs the checks; exits with 1 if any fails')
    .argument('<file>', 'a swatch file, - for standard input')
    .option('--profile <file>', 'the ICC profile of the press; coated offset when none is given')
    .option('--ink <percent>', 'the most ink, all four together, 100–400', asInk)
    .option(
      '--only <id>',
      'only this check (repeatable)',
      (id: string, all: string[]) => [...all, asCheck(id)],
      [],
    )
    .option('--against <file>', 'compare with this file, too')
    .option('--json', 'one JSON value')
    .action(async (file, { profile, ink, only, against: other, json }) => {
      const { library } = await open(file, undefined, false, streams);
      const engine = await colorEngine();
      const asked = { ...conditionOf(library), ...(ink === undefined ? {} : { inkLimit: ink }) };
      if (profile !== undefined) {
        const info = addProfile(engine, profile, await readWhole(profile));
        asked.profile = info.hash;
        if (ink === undefined) asked.inkLimit = usualInkLimit(info.hash);
      }
      const condition = await conditionHere({ condition: asked });
      const theirs = other === undefined ? null : (await open(other)).library;
      const findings: { check: string; swatches: string[]; measure: number; says: string }[] = [];
      const lines = [`${file}, on ${condition.name}, at most ${asked.inkLimit} % of ink`];
      let total = 0;
      for (const check of checks) {
        if (only.length > 0 ? !only.includes(check.id) : check.needs && !theirs) continue;
        const found = await runCheck(check, library, {}, { condition, against: theirs });
        total += found.total;
        lines.push(`${check.title}: ${found.title}`);
        for (const f of found.findings) {
          findings.push({
            check: check.id,
            swatches: namesOf(library, f),
            measure: Math.round(f.measure * 1000) / 1000,
            says: f.says,
          });
          lines.push(`  ${f.name}: ${f.says}`);
        }
        if (found.total > found.findings.length)
          lines.push(`  and ${found.total - found.findings.length} more, not as bad`);
      }
      print(json, { profile: condition.name, findings }, `${lines.join('\n')}\n`);
      if (total > 0)
        throw new FallsShort(`${total === 1 ? 'One thing does' : `${total} things do`} not hold.`);
    });

  program
    .command('match')
    .description('the nearest swatches in a book or file')
    .argument('<colors...>', 'colours as they are typed: #8a1c24, "Lab 40 57 33", "C 10 M 90 Y 80 K 0"')
    .requiredOption(
      '--in <book-or-file>',
      'a swatch file, or a book by its name (repeatable)',
      (name: string, all: string[] = []) => [...all, name],
    )
    .option('--top <n>', 'how many of each, 1–100', asTop, 5)
    .option('--metric <id>', `one of ${METRICS.map((m) => m.id).join(', ')}`, asMetric, DE00)
    .option('--within <difference>', 'none that differ by more', asDifference)
    .option('--json', 'one JSON value')
    .action(async (texts: string[], { in: places, top, metric, within, json }) => {
      const condition = await conditionHere();
      const sources: Source[] = [];
      for (const place of places as string[]) sources.push(await sourceOf(place));
      const matcher = new Matcher(sources, metric, { ...NO_LIMITS, within: within ?? null });
      const matches = texts.map((query) => {
        const lab = toLab(asColor(query), condition);
        return {
          query,
          found: matcher.nearest(lab, top).map(({ source, entry, difference }) => ({
            name: entry.name,
            ...(entry.code === undefined ? {} : { code: entry.code }),
            hex: entry.hex,
            lab: entry.lab,
            deltaE00: metric === DE00 ? difference : deltaE00(lab, entry.lab),
            ...(metric === DE00 ? {} : { [metric.id]: difference }),
            ...(sources.length > 1 ? { in: source.name } : {}),
          })),
        };
      });
      const lines = matches.flatMap(({ query, found }) => [
        query,
        ...(found.length > 0
          ? found.map(
              (f) =>
                `  ${f.hex}  ΔE00 ${f.deltaE00.toFixed(1).padStart(4)}  ${f.name}${f.in ? ` (${f.in})` : ''}`,
            )
          : ['  none within the tolerance']),
      ]);
      print(json, { matches }, `${lines.join('\n')}\n`);
    });

  addApply(program, { streams, print, libraryNamed, condition: conditionHere });

  addTune(program, {
    streams,
    print,
    color: asColor,
    condition: conditionHere,
    refuse: (message) => {
      throw new FormatError(message);
    },
  });

  addReading(program, {
    streams,
    print,
    refuse: (message) => {
      throw new FormatError(message);
    },
  });

  addInks(program, { streams, print });

  addBoardCommand(program, { streams, print, libraryNamed, condition: conditionHere });

  addCompletion(program, out);

  addHarmony(program, {
    color: asColor,
    condition: () => conditionHere(),
    print,
    refuse: (message) => {
      throw new FormatError(message);
    },
  });

  try {
    if (args.length === 0) {
      err(program.helpInformation());
      return 2;
    }
    await program.parseAsync(args, { from: 'user' });
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) {
      if (error.code === 'usage') err(`${error.message}\n`);
      return error.exitCode === 0 ? 0 : 2;
    }
    if (error instanceof FormatError || error instanceof FallsShort) {
      err(`${error.message}\n`);
      return 1;
    }
    throw error;
  }
}

/** A swatch file, or a book by its name. @throws FormatError when it is neither */
async function libraryNamed(place: string): Promise<Library> {
  return (await stat(place).catch(() => null)) ? (await open(place)).library : bookNamed(place);
}

async function sourceOf(place: string): Promise<Source> {
  const library = await libraryNamed(place);
  const condition = await conditionHere(library);
  return {
    id: place,
    name: library.name,
    book: library.book !== undefined,
    entries: allSwatches(library).map(
      (s): Entry => ({
        id: s.id,
        name: s.name,
        ...(s.code === undefined ? {} : { code: s.code }),
        kind: s.kind,
        lab: toLab(s.color, condition),
        hex: toHex(s.color, condition),
        ...(s.special ? { special: s.special } : {}),
      }),
    ),
  };
}

/** One of the books that come with Papillon; words of its name are enough, where they fit one alone. */
async function bookNamed(name: string): Promise<Library> {
  const { sampleBooks } = await import('../demo/books/index.ts');
  const on = (profile: string) => conditionHere({ condition: { ...conditionOf({}), profile } });
  const books = [
    ...sampleBooks({ coated: await on(SHIPPED.coated), uncoated: await on(SHIPPED.uncoated) }),
    processingSteps(),
  ];
  const words = (text: string) => text.toLocaleLowerCase('en').split(/\s+/).filter(Boolean);
  const exact = books.find((b) => words(b.name).join(' ') === words(name).join(' '));
  const fitting = books.filter((b) => words(name).every((w) => words(b.name).includes(w)));
  const [found] = exact ? [exact] : fitting;
  if (found && (exact || fitting.length === 1)) return found;
  throw new FormatError(
    `${name}: the file does not exist${fitting.length > 1 ? ', and several books have these words in their names' : ' and no book of this name'}. Books: ${(fitting.length > 1 ? fitting : books).map((b) => `“${b.name}”`).join(', ')}.`,
  );
}

/** @throws FormatError naming the text */
function asColor(text: string): Color {
  try {
    return parseColor(text);
  } catch (error) {
    if (!(error instanceof NotationError)) throw error;
    throw new FormatError(`“${text}”: ${error.message}`);
  }
}

function asMetric(id: string): Metric {
  const metric = METRICS.find((m) => m.id === id);
  if (!metric)
    throw new InvalidArgumentError(`Unknown metric. Choose one of ${METRICS.map((m) => m.id).join(', ')}.`);
  return metric;
}

function asTop(text: string): number {
  const n = Number(text);
  if (!Number.isInteger(n) || n < 1 || n > 100)
    throw new InvalidArgumentError('Use a whole number from 1 to 100.');
  return n;
}

/** What was checked does not hold: nothing is wrong with the input, and a build is to stop all the same. */
class FallsShort extends Error {}

function asCheck(id: string): string {
  if (!checkById(id))
    throw new InvalidArgumentError(`Unknown check. Choose one of ${checks.map((c) => c.id).join(', ')}.`);
  return id;
}

function asInk(text: string): number {
  const n = Number(text);
  if (text.trim() === '' || !(n >= 100 && n <= 400))
    throw new InvalidArgumentError('Use a percentage from 100 to 400.');
  return n;
}

/** Opens a profile that something is to be printed under. @throws FormatError naming the file */
function addProfile(engine: ColorEngine, file: string, bytes: Uint8Array): ProfileInfo {
  try {
    const info = engine.add(new Uint8Array(bytes));
    if (info.space !== 'cmyk' || !engine.canPrint(info.hash))
      throw new ProfileError(
        `it is for ${info.space === 'cmyk' ? 'reading alone' : info.space.toUpperCase()}. Choose a profile that prints CMYK.`,
      );
    return info;
  } catch (error) {
    if (!(error instanceof ProfileError)) throw error;
    throw new FormatError(`${file}: ${error.message}`);
  }
}

const namesOf = (library: Library, { swatches }: Finding): string[] => {
  const ids = new Set(swatches);
  return library.groups.flatMap((g) => g.swatches.flatMap((s) => (ids.has(s.id) ? [s.name] : [])));
};

function asCount(text: string): number {
  const n = Number(text);
  if (!Number.isInteger(n) || n < MIN_PALETTE_COLORS || n > MAX_PALETTE_COLORS)
    throw new InvalidArgumentError(`Use a whole number from ${MIN_PALETTE_COLORS} to ${MAX_PALETTE_COLORS}.`);
  return n;
}

function asAccent(text: string): number {
  const accent = Number(text);
  if (!(accent >= 0 && accent <= 1)) throw new InvalidArgumentError('Use a number from 0 to 1.');
  return accent;
}

function asDifference(text: string): number {
  const n = Number(text);
  if (text.trim() === '' || !(n >= 0 && n <= 100))
    throw new InvalidArgumentError('Use a ΔE00 from 0 to 100.');
  return n;
}

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

import { readFile, stat, writeFile } from 'node:fs/promises';
import { extname } from 'node:path';
import { Command, CommanderError, InvalidArgumentError } from 'commander';
import { fromRgb8, toHex } from '../core/color/index.ts';
import {
  baseName,
  changes,
  describeChange,
  type Format,
  FormatError,
  formatById,
  formats,
  inspection,
  openSwatchFile,
  summarize,
} from '../core/formats/index.ts';
import { LARGEST_SWATCH_FILE, tooLarge } from '../core/formats/registry.ts';
import {
  exactColors,
  FEWEST,
  histogram,
  lookAlikes,
  MOST,
  meanDeltaE00,
  merged,
  type PaletteColor,
  prepare,
  reduce,
} from '../core/picture/index.ts';
import { countingIds, countSwatches, type Library } from '../core/swatch/model.ts';
import { decodePicture } from './picture.ts';

interface Streams {
  out(text: string): void;
  err(text: string): void;
}

/** Runs a command. Returns the exit code: 0 done, 1 bad input, 2 wrong usage. */
export async function main(args: string[], { out, err }: Streams): Promise<number> {
  const program = new Command('papillon')
    .description('Swatch files and palettes from the shell.')
    .exitOverride()
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
          `${f.id.padEnd(6)}${f.about}\n      .${f.endings.join(' .')}; ${f.spaces.join(' ')}; ${f.bits} bits${f.most ? `; at most ${f.most}` : ''}\n`,
      );
      print(json, list, rows.join(''));
    });

  program
    .command('inspect')
    .description('what is in a swatch file')
    .argument('<file>')
    .option('--json', 'one JSON value')
    .action(async (file, { json }) => {
      const { library, format, warnings } = await open(file);
      const found = inspection(library, format, warnings);
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

  program
    .command('convert')
    .description('convert a swatch file, and tell what changed on the way')
    .argument('<in>')
    .argument('<out>')
    .option('--from <id>', 'read as this format instead of recognising it', asFormat)
    .option('--to <id>', 'write this format instead of going by the ending', asFormat)
    .option('--json', 'one JSON value')
    .action(async (from, to, options) => {
      const format: Format = options.to ?? byEnding(to);
      const opened = await open(from, options.from);
      const report = changes(opened.library, format);
      await write(to, format.encode(opened.library));
      const { title, detail } = summarize(report);
      const result = {
        from: opened.format.id,
        to: format.id,
        swatches: countSwatches(opened.library),
        changes: report.changes.map(({ id: _, ...change }) => change),
      };
      const lines = report.changes.map((c) => `  ${c.swatch || '(no name)'}: ${describeChange(c)}`);
      print(options.json, result, [`${title}. ${detail}`, ...lines, ''].join('\n'));
      for (const w of opened.warnings) if (!options.json) err(`Note: ${w}\n`);
    });

  program
    .command('extract')
    .description('a palette from a picture')
    .argument('<picture>')
    .argument('[out]', 'a swatch file to write; its ending says the format')
    .option('--count <n>', `how many colours, ${FEWEST}–${MOST}`, asCount)
    .option('--exact', 'every distinct colour, in reading order')
    .option('--merge <dE>', 'merge colours within this ΔE00', asDifference)
    .option('--json', 'one JSON value')
    .action(async (file, to, { count, exact, merge, json }) => {
      if (exact && count)
        throw new CommanderError(2, 'usage', 'error: --exact and --count exclude each other');
      const format = to && byEnding(to);
      const picture = await decodePicture(file, await readWhole(file));
      const start = performance.now();
      const counted = histogram(picture);
      let colors: PaletteColor[];
      if (exact) {
        const found = exactColors(picture);
        colors = found.colors;
        if (found.distinct > MOST && !json)
          err(`The picture has ${found.distinct} colours; the first ${MOST} were taken.\n`);
      } else colors = reduce(prepare(counted), count ?? 10);
      if (merge !== undefined) colors = merged(colors, lookAlikes(colors, merge));
      const elapsedMs = performance.now() - start;
      if (format) await write(to, format.encode(asLibrary(baseName(file), colors)));
      const result = {
        count: colors.length,
        elapsedMs,
        meanDeltaE00: meanDeltaE00(
          counted,
          colors.map((c) => c.rgb),
        ),
        swatches: colors.map((c) => ({ hex: toHex(fromRgb8(...c.rgb)), coverage: c.share })),
      };
      const lines = result.swatches.map((s) => `${s.hex}  ${(s.coverage * 100).toFixed(1).padStart(5)} %`);
      lines.push(`${result.count} colours, mean ΔE00 ${result.meanDeltaE00.toFixed(2)}`);
      print(json, result, `${lines.join('\n')}\n`);
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
    if (error instanceof FormatError) {
      err(`${error.message}\n`);
      return 1;
    }
    throw error;
  }
}

function asFormat(id: string): Format {
  try {
    return formatById(id);
  } catch (error) {
    throw new InvalidArgumentError((error as Error).message);
  }
}

function asCount(text: string): number {
  const n = Number(text);
  if (!Number.isInteger(n) || n < FEWEST || n > MOST)
    throw new InvalidArgumentError(`A whole number from ${FEWEST} to ${MOST} is wanted.`);
  return n;
}

function asDifference(text: string): number {
  const n = Number(text);
  if (text.trim() === '' || !(n >= 0 && n <= 100))
    throw new InvalidArgumentError('A ΔE00 from 0 to 100 is wanted.');
  return n;
}

function byEnding(file: string): Format {
  const ending = extname(file).slice(1).toLowerCase();
  const format = formats.find((f) => f.endings.includes(ending));
  if (!format)
    throw new CommanderError(
      2,
      'usage',
      `error: the ending of ${file} names no format; add --to with one of ${formats.map((f) => f.id).join(', ')}`,
    );
  return format;
}

async function readWhole(file: string): Promise<Uint8Array> {
  try {
    return await readFile(file);
  } catch (error) {
    throw new FormatError(
      `${file}: it cannot be read (${(error as NodeJS.ErrnoException).code}). Check the path.`,
    );
  }
}

async function open(file: string, as?: Format) {
  const size = await stat(file).then(
    (s) => s.size,
    () => 0,
  );
  if (size > LARGEST_SWATCH_FILE) throw new FormatError(`${file}: ${tooLarge(size)}`);
  return openSwatchFile(await readWhole(file), file, countingIds(), as);
}

async function write(file: string, bytes: Uint8Array): Promise<void> {
  try {
    await writeFile(file, bytes);
  } catch (error) {
    throw new FormatError(
      `${file}: it cannot be written (${(error as NodeJS.ErrnoException).code}). Check the path.`,
    );
  }
}

function asLibrary(name: string, colors: PaletteColor[]): Library {
  const newId = countingIds();
  const swatches = colors.map((c) => ({
    id: newId(),
    name: '',
    kind: 'process' as const,
    color: fromRgb8(...c.rgb),
  }));
  return { id: newId(), name, groups: [{ id: newId(), name: '', swatches }] };
}

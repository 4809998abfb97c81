import { type FSWatcher, watch as watchPath } from 'node:fs';
import { realpath, stat } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { type Command, CommanderError, InvalidArgumentError } from 'commander';
import {
  baseName,
  choicesFor,
  compareWritten,
  type Format,
  FormatError,
  fileName,
  formatByEnding,
  formatById,
  freePaths,
  linesOfReport,
  type Opened,
  type Options,
  openSwatchFile,
  partsOf,
  summarize,
  takeIn,
  writable,
  writeAs,
} from '../core/formats/index.ts';
import { countingIds, countSwatches } from '../core/swatch/model.ts';
import { bring, localServices } from './engine.ts';
import { everyFile, makeFolder, open, readChecked, replace, STREAM, type Streams, write } from './files.ts';
import { asLink, followLinks } from './link.ts';

/** How files are read and written. */
interface How {
  to?: Format;
  from?: Format;
  out?: string;
  set: Options;
  text?: boolean;
  perGroup?: boolean;
  force?: boolean;
  json?: boolean;
}

export const wrongUsage = (message: string) => new CommanderError(2, 'usage', `error: ${message}`);

export function asFormat(id: string): Format {
  try {
    return formatById(id);
  } catch (error) {
    throw new InvalidArgumentError((error as Error).message);
  }
}

export function asWritable(id: string): Format {
  const format = asFormat(id);
  if (!format.traits.write)
    throw new InvalidArgumentError(
      `${format.name} is only read. Written are ${writable.map((f) => f.id).join(', ')}.`,
    );
  return format;
}

function asOption(text: string, before: Options): Options {
  const [, name, value] = /^([\w-]+)=(.*)$/.exec(text) ?? [];
  if (!name || value === undefined)
    throw new InvalidArgumentError('Use NAME=VALUE, such as columns=6 or names=yes.');
  const plain = /^(?:true|yes)$/.test(value) ? true : /^(?:false|no)$/.test(value) ? false : value;
  return { ...before, [name]: /^-?\d+(?:\.\d+)?$/.test(value) ? Number(value) : plain };
}

function checkOptions(format: Format, set: Options): void {
  const declared = choicesFor(format);
  for (const [name, value] of Object.entries(set)) {
    const known = declared.find((o) => o.id === name);
    if (!known)
      throw wrongUsage(
        `${format.name} has no option “${name}”; it has ${declared.map((o) => o.id).join(', ') || 'none'}`,
      );
    if (known.type === 'choice') {
      if (!known.values.some(([v]) => v === String(value)))
        throw wrongUsage(
          `the option “${name}” is one of ${known.values.map(([v]) => v || '(nothing)').join(', ')}`,
        );
      continue;
    }
    if (known.type === 'text') continue;
    if (typeof value !== known.type)
      throw wrongUsage(`the option “${name}” wants ${known.type === 'number' ? 'a number' : 'yes or no'}`);
    if (known.type === 'number' && (Number(value) < known.min || Number(value) > known.max))
      throw wrongUsage(`the option “${name}” goes from ${known.min} to ${known.max}`);
  }
}

export function byEnding(file: string): Format {
  const format = formatByEnding(file);
  if (!format)
    throw wrongUsage(
      `the ending of ${file} names no format; add --to with one of ${writable.map((f) => f.id).join(', ')}`,
    );
  return format;
}

/** What becomes of a library in a format: the bytes, and what changed as the one JSON value and as text. */
export async function converted(
  { library, format: from, profiles, warnings }: Opened,
  to: Format,
  options: Options,
) {
  await bring(profiles);
  const services = await localServices(library);
  const bytes = await writeAs(to, library, services, options);
  const report = await compareWritten(library, bytes, to, services.condition);
  const { title, detail } = summarize(report);
  return {
    bytes,
    json: {
      from: from.id,
      to: to.id,
      swatches: countSwatches(library),
      changes: report.changes.map(({ id: _, ...change }) => change),
      library: [
        ...(report.groupsLost ? ['its groups'] : []),
        ...report.groupChanges,
        ...report.libraryLosses,
      ],
      warnings,
    },
    text: [`${title}. ${detail}`, ...linesOfReport(report).map((l) => `  ${l}`), ''].join('\n'),
  };
}

/** @throws FormatError when a file is written over what it was read from, with something lost, and nobody said to */
export async function refuseOverSource(
  from: string,
  to: string,
  { json: { changes, library, to: id } }: Awaited<ReturnType<typeof converted>>,
  force: boolean | undefined,
): Promise<void> {
  if (force || from === STREAM || to === STREAM || changes.length + library.length === 0) return;
  const [a, b] = await Promise.all([from, to].map((path) => realpath(path).catch(() => null)));
  if (a !== null && a === b)
    throw new FormatError(
      `${to} would be written over what it is read from, and ${formatById(id).name} does not keep all of it. Give another name, or add --force.`,
    );
}

/** Reads whatever a file holds, and converts each library in it. @param put takes what is written under a name for it */
async function convertAll(
  path: string,
  bytes: Uint8Array,
  { to, from, set, text, perGroup }: How & { to: Format },
  put: (name: string, result: Awaited<ReturnType<typeof converted>>) => Promise<string>,
) {
  const done: { text: string; json: object; warnings: string[] }[] = [];
  const skipped: { in: string; why: string }[] = [];
  const problems: string[] = [];
  const found = from
    ? [
        {
          kind: 'swatches' as const,
          path,
          opened: await openSwatchFile(bytes, path, countingIds(), from, { text: !!text }),
        },
      ]
    : takeIn(bytes, path, countingIds(), () => ({ text: !!text }));
  for await (const one of found) {
    if (one.kind === 'problem') problems.push(one.message);
    else if (one.kind !== 'swatches')
      skipped.push({
        in: one.path,
        why:
          one.kind === 'picture'
            ? 'a picture; see extract'
            : one.kind === 'drawing'
              ? 'artwork of the kit'
              : one.message,
      });
    else {
      const whole = { ...one.opened.library, name: one.opened.library.name || baseName(one.path) };
      const parts = perGroup ? partsOf(whole, to, true) : [one.opened.library];
      for (const library of parts) {
        const result = await converted({ ...one.opened, library }, to, set);
        const name = fileName(perGroup ? library.name : baseName(one.path), to.endings[0]);
        const out = await put(name, result);
        done.push({
          json: { in: one.path, out, ...result.json },
          text: `${one.path} → ${out}\n${result.text}`,
          warnings: one.opened.warnings.map((w) => `${one.path}: ${w}`),
        });
      }
    }
  }
  return { done, skipped, problems };
}

/** The commands that write files from others: `convert` and `watch`. */
export function addConvert(
  program: Command,
  print: (json: boolean | undefined, value: unknown, text: string) => void,
  streams: Streams,
): void {
  const { err } = streams;

  program
    .command('convert')
    .description('convert swatch files, and tell what changed on the way')
    .usage('[options] IN OUT  |  IN… --to ID --out DIR')
    .argument(
      '<files...>',
      'a file and the file to write, - for a stream; with --out, files, folders and zips to read',
    )
    .option('--from <id>', 'read as this format instead of recognising it', asFormat)
    .option('--to <id>', 'write this format instead of going by the ending', asWritable)
    .option('--out <dir>', 'write a file for each that is read into this folder')
    .option('--per-group', 'a file for each group, named after library and group (with --out)')
    .option('--text', 'take the colours of text in drawings too')
    .option('--set <name=value>', 'an option of the format, such as columns=6 (repeatable)', asOption, {})
    .option('--force', 'write over what is read, also where the format keeps less')
    .option('--json', 'one JSON value')
    .action(async (files: string[], options: How) => {
      if (options.out !== undefined) return convertMany(files, options, options.out);
      if (files.length !== 2)
        throw wrongUsage(
          `give one file to read and one to write, not ${files.length}; for several files add --to ID --out DIR`,
        );
      if (options.perGroup) throw wrongUsage('--per-group needs --out with the folder to write into');
      const [from, to] = files as [string, string];
      const toStream = to === STREAM;
      if (toStream && !options.to) throw wrongUsage('- needs --to with the format to write');
      if (toStream && options.json)
        throw wrongUsage('--json and a file on standard output cannot be combined');
      const format: Format = options.to ?? byEnding(to);
      checkOptions(format, options.set);
      const opened = await open(from, options.from, options.text, streams);
      const result = await converted(opened, format, options.set);
      await refuseOverSource(from, to, result, options.force);
      await write(to, result.bytes, streams);
      // what changed goes beside the file, not into it
      if (toStream) err(result.text);
      else print(options.json, result.json, result.text);
      for (const w of opened.warnings) if (!options.json) err(`Note: ${w}\n`);
    });

  /** Converts all that can be; what cannot is reported, and the exit code says so. */
  async function convertMany(inputs: string[], how: How, folder: string) {
    const { to, set, json } = how;
    if (!to) throw wrongUsage('--out needs --to with the format to write');
    checkOptions(to, set);
    await makeFolder(folder);
    const free = freePaths();
    const done: object[] = [];
    const skipped: { in: string; why: string }[] = [];
    const texts: string[] = [];
    let failed = 0;
    const fail = (message: string) => {
      failed++;
      err(`${message}\n`);
    };
    for (const path of await everyFile(inputs)) {
      try {
        const bytes = path === STREAM && streams.input ? await streams.input() : await readChecked(path);
        const result = await convertAll(path, bytes, { ...how, to }, async (name, written) => {
          const target = join(folder, free(name));
          await refuseOverSource(path, target, written, how.force);
          await replace(target, written.bytes);
          return target;
        });
        result.problems.forEach(fail);
        skipped.push(...result.skipped);
        for (const one of result.done) {
          done.push(one.json);
          texts.push(one.text);
          if (!json) for (const w of one.warnings) err(`${w}\n`);
        }
      } catch (error) {
        if (!(error instanceof FormatError)) throw error;
        fail(error.message);
      }
    }
    for (const { in: path, why } of skipped) texts.push(`${path}: passed over, ${why}\n`);
    if (failed === 0 && done.length === 0) fail('no swatch files found.');
    print(json, { files: done, skipped }, texts.join(''));
    if (failed > 0) throw new FormatError(`${failed} of the files could not be converted.`);
  }

  program
    .command('watch')
    .description('keep converted files in step while someone edits, or the files of links')
    .argument('[files...]', 'files, folders and zips to read, now and after every change')
    .option('--to <id>', 'the format to write', asWritable)
    .requiredOption('--out <dir>', 'the folder to write into')
    .option('--url <link>', 'a file link of a library (repeatable), in place of files', asUrl, [])
    .option('--every <seconds>', 'how often links are asked', asSeconds, 5)
    .option('--once', 'fetch the files of links once, and end')
    .option('--from <id>', 'read as this format instead of recognising it', asFormat)
    .option('--per-group', 'a file for each group')
    .option('--text', 'take the colours of text in drawings too')
    .option('--set <name=value>', 'an option of the format (repeatable)', asOption, {})
    .option('--json', 'a line of JSON for each file that is written')
    .action(async (inputs: string[], how: Watching) => {
      const { to, out, url: urls } = how;
      if (urls.length > 0) {
        if (inputs.length > 0 || to)
          throw wrongUsage('links give files as they were made: use --url without files and without --to');
        const wrote = (file: string, url: string) => print(how.json, { file, url }, `${file}: as it is now`);
        if (!(await followLinks(urls, out, how.once ? null : how.every, wrote, streams)))
          throw new FormatError(
            how.once ? 'not every link gave its file.' : 'no link opens anything any more.',
          );
        return;
      }
      if (inputs.length === 0) throw wrongUsage('name files to watch, or links with --url');
      if (!to) throw wrongUsage("required option '--to <id>' not specified");
      checkOptions(to, how.set);
      await makeFolder(out);
      await keepInStep(inputs, { ...how, to, out }, print, streams);
    });
}

/** What `watch` is asked for. */
interface Watching extends How {
  out: string;
  url: string[];
  every: number;
  once?: boolean;
}

function asUrl(text: string, before: string[]): string[] {
  try {
    return [...before, asLink(text)];
  } catch (error) {
    throw new InvalidArgumentError((error as Error).message);
  }
}

function asSeconds(text: string): number {
  const seconds = Number(text);
  if (!(seconds >= 1 && seconds <= 86_400)) throw new InvalidArgumentError('Use 1 to 86400 seconds.');
  return seconds;
}

/** Editors write in several steps: so long nothing must have changed, ms. */
const SETTLED = 120;
/** Whether its folders are still there is looked at so often, ms. */
const LOOK_MS = 500;

/** Converts what is there, and again whatever changes, until it is stopped. A file that is not sound leaves what was written of it. */
async function keepInStep(
  inputs: string[],
  how: How & { to: Format; out: string },
  print: (json: boolean | undefined, value: unknown, text: string) => void,
  { err, stop }: Streams,
): Promise<void> {
  const free = freePaths();
  /** Where each library of each file goes, the same place every time. */
  const places = new Map<string, string>();
  const seen = new Map<string, string>();
  const outside = resolve(how.out);

  async function convertOne(path: string) {
    const about = await stat(path).catch(() => null);
    if (!about?.isFile()) {
      if (seen.delete(path)) err(`${path}: it is gone; what was written of it stays.\n`);
      return;
    }
    const state = `${about.mtimeMs} ${about.size}`;
    if (seen.get(path) === state) return;
    seen.set(path, state);
    try {
      let n = 0;
      const { done, problems } = await convertAll(
        path,
        await readChecked(path),
        how,
        async (name, { bytes }) => {
          const key = `${path}\n${name}\n${n++}`;
          const target = places.get(key) ?? join(how.out, free(name));
          places.set(key, target);
          await makeFolder(how.out);
          await replace(target, bytes);
          return target;
        },
      );
      for (const one of done) {
        print(how.json, one.json, one.text);
        for (const w of one.warnings) err(`${w}\n`);
      }
      for (const problem of problems) err(`${problem}\n`);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      err(`${error.message}\n`);
    }
  }

  let running = false;
  let again = false;
  async function convertChanged() {
    if (running) {
      again = true;
      return;
    }
    running = true;
    try {
      do {
        again = false;
        const now = (await everyFile(inputs)).filter((p) => !resolve(p).startsWith(`${outside}/`));
        for (const path of new Set([...now, ...seen.keys()])) await convertOne(path);
      } while (again && !stop?.aborted);
    } catch (error) {
      // what disappears meanwhile is reported at the next check
      err(`${(error as Error).message}\n`);
    } finally {
      running = false;
    }
  }

  let timer: NodeJS.Timeout | undefined;
  const changed = () => {
    clearTimeout(timer);
    timer = setTimeout(() => void convertChanged(), SETTLED);
  };
  // a file that is saved is often another of the same name: its folder knows
  const folders = new Map<string, FSWatcher | null>();
  for (const input of inputs) {
    const about = await stat(input).catch(() => null);
    if (!about) throw new FormatError(`${input}: it cannot be read (ENOENT). Check the path.`);
    folders.set(about.isDirectory() ? input : dirname(input), null);
  }
  const watchFolder = (folder: string) => {
    const watcher = watchPath(folder, { recursive: true }, changed);
    // whatever it is, the next look tells whether the folder is there
    watcher.on('error', () => loseFolder(folder));
    folders.set(folder, watcher);
  };
  const loseFolder = (folder: string) => {
    folders.get(folder)?.close();
    folders.set(folder, null);
  };
  /** A folder may go and come back, as that of a drive or a branch does. */
  const look = async () => {
    for (const [folder, watcher] of folders) {
      const there = (await stat(folder).catch(() => null))?.isDirectory() ?? false;
      if (!there && watcher) {
        loseFolder(folder);
        err(`${folder}: the folder is gone. Watching goes on when it is back.\n`);
        changed();
      } else if (there && !watcher) {
        watchFolder(folder);
        err(`${folder}: the folder is back.\n`);
        changed();
      }
    }
  };
  for (const folder of folders.keys()) watchFolder(folder);
  // it also keeps the command going when nothing else does
  const looking = setInterval(() => void look(), LOOK_MS);
  try {
    await convertChanged();
    err(`Watching ${inputs.join(', ')}. Ctrl-C ends it.\n`);
    await new Promise<void>((end) => {
      if (stop?.aborted) end();
      stop?.addEventListener('abort', () => end(), { once: true });
    });
  } finally {
    clearTimeout(timer);
    clearInterval(looking);
    for (const watcher of folders.values()) watcher?.close();
  }
}

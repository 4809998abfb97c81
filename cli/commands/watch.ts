import { type FSWatcher, watch as watchPath } from 'node:fs';
import { stat } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { type Command, InvalidArgumentError } from 'commander';
import { type Format, FormatError, freePaths } from '../../core/formats/index.ts';
import { asFormat, asNumber, asWritable, repeated, wrongUsage } from '../args.ts';
import { asOption, checkOptions, convertAll, type How } from '../conversion.ts';
import { everyFile, makeFolder, readChecked, replace } from '../files.ts';
import { asLink, followLinks } from '../link.ts';
import type { Shell } from '../shell.ts';

/** `watch`: converted files that stay in step. */
export function addWatch(program: Command, shell: Shell): void {
  program
    .command('watch')
    .description('keep converted files in step while someone edits, or the files of links')
    .argument('[files...]', 'files, folders and zips to read, now and after every change')
    .option('--to <id>', 'the format to write', asWritable)
    .requiredOption('--out <dir>', 'the folder to write into')
    .option('--url <link>', 'a file link of a library (repeatable), in place of files', repeated(asUrl), [])
    .option('--every <seconds>', 'how often links are asked', asNumber({ min: 1, max: 86_400 }), 5)
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
        const wrote = (file: string, url: string) =>
          shell.print(how.json, { file, url }, `${file}: as it is now`);
        if (!(await followLinks(urls, out, how.once ? null : how.every, wrote, shell.streams)))
          throw new FormatError(
            how.once ? 'not every link gave its file.' : 'no link opens anything any more.',
          );
        return;
      }
      if (inputs.length === 0) throw wrongUsage('name files to watch, or links with --url');
      if (!to) throw wrongUsage("required option '--to <id>' not specified");
      checkOptions(to, how.set);
      await makeFolder(out);
      await keepInStep(inputs, { ...how, to, out }, shell);
    });
}

/** What `watch` is asked for. */
interface Watching extends How {
  out: string;
  url: string[];
  every: number;
  once?: boolean;
}

function asUrl(text: string): string {
  try {
    return asLink(text);
  } catch (error) {
    throw new InvalidArgumentError((error as Error).message);
  }
}

/** Editors write in several steps: so long nothing must have changed, ms. */
const SETTLED = 120;
/** Whether its folders are still there is looked at so often, ms. */
const LOOK_MS = 500;

/** Converts what is there, and again whatever changes, until it is stopped. A file that is not sound leaves what was written of it. */
async function keepInStep(
  inputs: string[],
  how: How & { to: Format; out: string },
  { print, streams: { err, stop } }: Shell,
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

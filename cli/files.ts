import {
  lstat,
  mkdir,
  open as openFile,
  readdir,
  readFile,
  rename,
  rm,
  stat,
  writeFile,
} from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import {
  type Format,
  FormatError,
  isZip,
  type Opened,
  openSwatchFile,
  recognise,
  tooLarge,
} from '../core/formats/index.ts';
import type { PdfArtwork } from '../core/pdf/artwork.ts';
import { pictureType } from '../core/picture/index.ts';
import { countingIds } from '../core/swatch/model.ts';
import { bring, conditionHere } from './engine.ts';

/** What a command reads from and writes to, beside files. */
export interface Streams {
  out(text: string): void;
  err(text: string): void;
  /** Everything that comes in on standard input. */
  input?(): Promise<Uint8Array>;
  /** Bytes to standard output. */
  bytes?(data: Uint8Array): void;
  /** Ends what would go on for ever. */
  stop?: AbortSignal;
}

/** Stands for standard input, or output. */
export const STREAM = '-';

const codeOf = (error: unknown) => (error as NodeJS.ErrnoException).code;

export async function readWhole(file: string): Promise<Uint8Array> {
  try {
    return await readFile(file);
  } catch (error) {
    throw new FormatError(`${file}: it cannot be read (${codeOf(error)}). Check the path.`);
  }
}

/** Reads a file that should hold swatches; one that is far too large is not read into memory. */
export async function readChecked(file: string): Promise<Uint8Array> {
  const handle = await openFile(file).catch((error) => {
    throw new FormatError(`${file}: it cannot be read (${codeOf(error)}). Check the path.`);
  });
  try {
    const { size } = await handle.stat();
    const { buffer, bytesRead } = await handle.read(new Uint8Array(200), 0, 200, 0);
    const large = tooLarge(buffer.subarray(0, bytesRead), size);
    if (large) throw new FormatError(`${file}: ${large}`);
  } catch (error) {
    // a folder, or what has no size
    if (error instanceof FormatError) throw error;
  } finally {
    await handle.close();
  }
  return readWhole(file);
}

/**
 * The files named, and those in the folders named, in order; hidden ones are left alone. A folder is read once, whatever links
 * lead to it.
 */
export async function everyFile(paths: string[], read = new Set<string>()): Promise<string[]> {
  const found: string[] = [];
  for (const path of paths) {
    const kind = await stat(path).catch(() => null);
    if (!kind?.isDirectory()) {
      found.push(path);
      continue;
    }
    const folder = `${kind.dev} ${kind.ino}`;
    if (read.has(folder)) continue;
    read.add(folder);
    const names = (await readdir(path)).filter((n) => !basename(n).startsWith('.')).sort();
    found.push(
      ...(await everyFile(
        names.map((n) => join(path, n)),
        read,
      )),
    );
  }
  return found;
}

/** Reads something of a file; what is wrong with it is reported with the file's name. */
export function named<T>(file: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof FormatError) throw new FormatError(`${file}: ${error.message}`);
    throw error;
  }
}

/** The same of something that takes a while. */
export async function namedLater<T>(file: string, work: () => T | Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    throw error instanceof FormatError ? new FormatError(`${file}: ${error.message}`) : error;
  }
}

/** A PDF as artwork. Its inks look as on the usual paper, so that a colour is called the same wherever it is opened. */
export const openedPdf = (file: string, bytes: Uint8Array): Promise<PdfArtwork> =>
  namedLater(file, async () => {
    const { PdfArtwork } = await import('../core/pdf/artwork.ts');
    return PdfArtwork.open(bytes, await conditionHere());
  });

/** What a file holds, or standard input for `-`, and what to call it. */
export async function readInput(
  file: string,
  streams: Streams | undefined,
  read = readWhole,
): Promise<{ name: string; bytes: Uint8Array }> {
  if (file !== STREAM) return { name: file, bytes: await read(file) };
  if (!streams?.input) throw new FormatError('standard input is not available.');
  return { name: 'standard input', bytes: await streams.input() };
}

/** Opens a swatch file, `-` standard input. */
export async function open(file: string, as?: Format, text = false, streams?: Streams): Promise<Opened> {
  const { name, bytes } = await readInput(file, streams, readChecked);
  if (!as && pictureType(bytes))
    throw new FormatError(`${name}: it is a picture. “papillon extract” takes a palette from it.`);
  if (!as && isZip(bytes) && !recognise(bytes))
    throw new FormatError(
      `${name}: it is an archive. “papillon convert ${file} --to ID --out DIR” converts what is in it.`,
    );
  const opened = await openSwatchFile(bytes, name, countingIds(), as, { text });
  await bring(opened.profiles);
  return opened;
}

const notWritten = (file: string, error: unknown) =>
  new FormatError(`${file}: it cannot be written (${codeOf(error)}). Check the path.`);

/** Writes a file, `-` to standard output. */
export async function write(file: string, bytes: Uint8Array, streams?: Streams): Promise<void> {
  if (file === STREAM) {
    if (!streams?.bytes) throw new FormatError('standard output is not available.');
    streams.bytes(bytes);
    return;
  }
  try {
    await writeFile(file, bytes);
  } catch (error) {
    throw notWritten(file, error);
  }
}

/** Writes a file in one move, so that nobody reads half of it; what a link leads to is not written. */
export async function replace(file: string, bytes: Uint8Array): Promise<void> {
  if ((await lstat(file).catch(() => null))?.isSymbolicLink())
    throw new FormatError(
      `${file}: it is a symbolic link, and is not written through. Delete the link, or choose another folder.`,
    );
  const beside = join(dirname(file), `.${basename(file)}.${process.pid}`);
  try {
    await rm(beside, { force: true });
    await writeFile(beside, bytes, { flag: 'wx' });
    await rename(beside, file);
  } catch (error) {
    await rm(beside, { force: true }).catch(() => undefined);
    throw notWritten(file, error);
  }
}

export const makeFolder = (folder: string) =>
  mkdir(folder, { recursive: true }).catch((error) => {
    throw new FormatError(`${folder}: the folder cannot be made (${codeOf(error)}). Check the path.`);
  });

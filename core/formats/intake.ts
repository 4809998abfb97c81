import type { Options } from '../options.ts';
import { pictureType } from '../picture/sniff.ts';
import type { NewId } from '../swatch/model.ts';
import { FormatError } from '../text/error.ts';
import { type Entry, isZip, type Unpacked, unpack } from './archive.ts';
import { PartlyRead } from './format.ts';
import { type KitContent, kitIn } from './overlap.ts';
import { type Opened, openSwatchFile, recognise } from './registry.ts';

/** A zip in a zip in a zip is looked into; a fourth is not. */
const MAX_DEPTH = 3;

/** What became of one file that came in, alone or out of an archive. */
export type Intake =
  | { kind: 'swatches'; path: string; opened: Opened }
  | { kind: 'picture'; path: string; bytes: Uint8Array }
  /** A drawing that belongs to the library it came with. */
  | { kind: 'drawing'; path: string; bytes: Uint8Array }
  /** Recognised but not sound, or not readable; `sound` is what could be read before the damage. */
  | { kind: 'problem'; path: string; message: string; sound?: Opened }
  /** No swatch file, such as a letter in an archive; of no interest, but told. */
  | { kind: 'skipped'; path: string; message: string };

/**
 * Opens whatever a file is: a swatch file, a picture, or an archive of them, which is looked through. Never throws
 * for a bad file.
 * @param path the file's name, with its folders if it has any; for messages and the library's name only
 * @param optionsOf what to read each file with, by its path
 * @param unpacked counts what archives hold, over all files of one drop
 */
export async function* takeIn(
  bytes: Uint8Array,
  path: string,
  newId: NewId,
  optionsOf?: (path: string) => Options,
  unpacked: Unpacked = { entries: 0, bytes: 0 },
  depth = 0,
): AsyncGenerator<Intake> {
  if (pictureType(bytes)) {
    yield { kind: 'picture', path, bytes };
    return;
  }
  if (isZip(bytes) && !recognise(bytes)) {
    if (depth >= MAX_DEPTH) {
      yield {
        kind: 'skipped',
        path,
        message: `archives lie more than ${MAX_DEPTH} deep; unpack it and drop what is in it.`,
      };
      return;
    }
    try {
      const entries = unpack(bytes, undefined, unpacked);
      if (entries.length === 0) yield { kind: 'problem', path, message: `${path}: the archive is empty.` };
      const kit = kitIn(entries);
      if (kit) yield* takeInKit(kit, entries, path, newId, optionsOf);
      else
        for (const entry of entries)
          yield* takeIn(entry.bytes, `${path}/${entry.path}`, newId, optionsOf, unpacked, depth + 1);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      yield { kind: 'problem', path, message: `${path}: ${error.message}` };
    }
    return;
  }
  // what lies about in an archive is not an error
  if (depth > 0 && (bytes.length === 0 || !recognise(bytes))) {
    yield {
      kind: 'skipped',
      path,
      message: bytes.length === 0 ? 'empty (0 bytes)' : 'no swatch file and no picture',
    };
    return;
  }
  try {
    yield {
      kind: 'swatches',
      path,
      opened: await openSwatchFile(bytes, path, newId, undefined, optionsOf?.(path)),
    };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    yield {
      kind: 'problem',
      path,
      message: error.message,
      ...(error instanceof PartlyRead ? { sound: error.sound as Opened } : {}),
    };
  }
}

/** Opens a kit: its library once, and its drawings. */
async function* takeInKit(
  { library, name, drawings }: KitContent,
  entries: readonly Entry[],
  path: string,
  newId: NewId,
  optionsOf?: (path: string) => Options,
): AsyncGenerator<Intake> {
  const best = `${path}/${library.path}`;
  const opened = await openSwatchFile(library.bytes, best, newId, undefined, optionsOf?.(best));
  yield { kind: 'swatches', path: best, opened: { ...opened, library: { ...opened.library, name } } };
  for (const { path: own, bytes } of drawings) yield { kind: 'drawing', path: `${path}/${own}`, bytes };
  for (const entry of entries)
    if (entry !== library && !drawings.includes(entry))
      yield {
        kind: 'skipped',
        path: `${path}/${entry.path}`,
        message: `part of the same kit; ${library.path} carries its library.`,
      };
}

import { unzipSync, type Zippable, zipSync } from 'fflate';
import { FormatError } from './format.ts';

/** What an archive may hold at most, so that a small file cannot fill the memory. */
export const ARCHIVE_LIMITS = {
  entries: 5000,
  /** All entries together, unpacked, those of archives inside included. */
  bytes: 512 * 1024 * 1024,
  /** How many times larger than packed a large entry may become. */
  ratio: 300,
  /** From this size an entry is large; a short list of equal lines packs very well. */
  large: 8 * 1024 * 1024,
};

/** Deflate cannot make more of a byte than this; a header that says so would only have us set memory aside. */
const MOST_DEFLATED = 1032;

/** What has been unpacked so far, counted over an archive and all that are in it. */
export interface Unpacked {
  entries: number;
  bytes: number;
}

export interface Entry {
  path: string;
  bytes: Uint8Array;
}

export const isZip = (bytes: Uint8Array) =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5) && bytes[3] === bytes[2] + 1;

/**
 * The files of a zip, in its order; folders, hidden files and the systems' own remarks are left out. Paths are
 * only names here: nothing is written anywhere, and `..` and leading slashes are taken out of them.
 * @throws FormatError when it is damaged or over a limit
 */
export function unpack(
  bytes: Uint8Array,
  wanted: (path: string) => boolean = () => true,
  sofar: Unpacked = { entries: 0, bytes: 0 },
): Entry[] {
  let refused = '';
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter({ name, originalSize, size }) {
        if (refused || name.endsWith('/') || /(^|\/)(\.(?!\.?\/)|__MACOSX\/)/.test(name) || !wanted(name))
          return false;
        sofar.entries++;
        sofar.bytes += originalSize;
        if (sofar.entries > ARCHIVE_LIMITS.entries)
          refused = `it holds more than ${ARCHIVE_LIMITS.entries} files. Unpack it and drop the files that matter`;
        else if (sofar.bytes > ARCHIVE_LIMITS.bytes)
          refused = `unpacked it would be larger than ${ARCHIVE_LIMITS.bytes / 1024 / 1024} MB. Unpack it and drop the files that matter`;
        else if (originalSize > size * MOST_DEFLATED + 1000)
          refused = `its entry “${cleanPath(name)}” claims a size it cannot have. The archive is damaged; get it again from where it was made`;
        else if (originalSize > ARCHIVE_LIMITS.large && originalSize > size * ARCHIVE_LIMITS.ratio)
          refused = `its entry “${cleanPath(name)}” would grow ${Math.round(originalSize / Math.max(1, size))} times on unpacking; no swatch file does that`;
        return !refused;
      },
    });
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new FormatError(`the zip archive is damaged (${why}). Get it again from where it was made.`);
  }
  if (refused) throw new FormatError(`${refused}.`);
  return Object.entries(files).map(([path, content]) => ({ path: cleanPath(path), bytes: content }));
}

const cleanPath = (path: string) =>
  path
    .split(/[/\\]+/)
    .filter((part) => part !== '' && part !== '.' && part !== '..')
    .join('/')
    .replace(/[\0-\x1f]/g, '-');

/**
 * Gives each path once: of two files with one path the second gets a number. File systems that do not tell capitals
 * apart would write one over the other, so they count as the same.
 */
export function freePaths(): (path: string) => string {
  const taken = new Set<string>();
  return (path) => {
    let free = path;
    for (let n = 2; taken.has(free.toLowerCase()); n++) free = path.replace(/(\.[^./]+)?$/, ` ${n}$1`);
    taken.add(free.toLowerCase());
    return free;
  };
}

/** Packs files under free paths; the same files always give the same bytes. */
export function pack(entries: Entry[]): Uint8Array<ArrayBuffer> {
  const free = freePaths();
  const tree: Zippable = {};
  for (const { path, bytes } of entries) tree[free(path)] = bytes;
  // zip counts time from 1980; a fixed time makes equal content equal files
  return zipSync(tree, { mtime: new Date(Date.UTC(1980, 0, 2)), level: 6 }) as Uint8Array<ArrayBuffer>;
}

import CRC32 from 'crc-32';
import { inflateSync, type Zippable, zipSync } from 'fflate';
import { inflateUpTo } from '../inflate.ts';
import { FormatError } from '../text/error.ts';
import { freePaths } from '../text/names.ts';

/** What an archive may hold at most, so that a small file cannot fill the memory. */
export const ARCHIVE_LIMITS = {
  entries: 5000,
  /** All entries together, unpacked, those of archives inside included. */
  bytes: 512 * 1024 * 1024,
  /** So much may come of any archive, and of a large one this many times its own size, so that none takes long. */
  always: 32 * 1024 * 1024,
  growth: 20,
  /** How many times larger than packed a large entry may become. */
  ratio: 300,
  /** From this size an entry is large; a short list of equal lines packs very well. */
  large: 8 * 1024 * 1024,
};

/** Deflate cannot make more of a byte than this; a header that says so would only have us set memory aside. */
const MAX_DEFLATE_RATIO = 1032;

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

/** Whether bytes are a zip with a file of such a path in it, by its directory alone. */
export function holds(bytes: Uint8Array, wanted: (path: string) => boolean): boolean {
  try {
    if (isZip(bytes))
      for (const { name } of directoryOf(bytes)) if (counts(name) && wanted(name)) return true;
    return false;
  } catch {
    return false;
  }
}

/** An entry of a zip's directory. */
interface Listed {
  name: string;
  method: number;
  crc: number;
  packed: number;
  size: number;
  /** Where its own header begins. */
  at: number;
}

const [DIRECTORY_END, DIRECTORY_ENTRY, LOCAL_HEADER] = [0x06054b50, 0x02014b50, 0x04034b50];
const [STORED, DEFLATED] = [0, 8];
const UTF8_NAME = 0x800;
const ENCRYPTED = 1;

/** Folders, hidden files and the systems' own remarks are of no interest. */
const counts = (name: string) => !name.endsWith('/') && !/(^|\/)(\.(?!\.?\/)|__MACOSX\/)/.test(name);

const damaged = (why: string) =>
  new FormatError(`the zip archive is damaged (${why}). Export or download it again.`);

/** The directory at the end of a zip. Source: APPNOTE.TXT 6.3, sections 4.3.12 and 4.3.16. @throws FormatError */
function* directoryOf(bytes: Uint8Array): Generator<Listed> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let end = bytes.length - 22;
  // a remark of up to 64 KB may follow it
  const least = Math.max(0, end - 0xffff);
  while (end >= least && view.getUint32(end, true) !== DIRECTORY_END) end--;
  if (end < least) throw damaged('its directory is missing');
  const count = view.getUint16(end + 10, true);
  let at = view.getUint32(end + 16, true);
  if (count === 0xffff || at === 0xffffffff)
    throw new FormatError('the zip archive is larger than 4 GB. Unpack it and drop the files that matter.');
  for (let n = 1; n <= count; n++) {
    if (at + 46 > end || view.getUint32(at, true) !== DIRECTORY_ENTRY)
      throw damaged(`entry ${n} of ${count} is not where its directory ought to be`);
    const u16 = (offset: number) => view.getUint16(at + offset, true);
    const u32 = (offset: number) => view.getUint32(at + offset, true);
    const name = bytes.subarray(at + 46, at + 46 + u16(28));
    if (u16(8) & ENCRYPTED)
      throw new FormatError('the zip archive asks for a password. Unpack it and drop the files that matter.');
    yield {
      name: new TextDecoder(u16(8) & UTF8_NAME ? 'utf-8' : 'latin1').decode(name),
      method: u16(10),
      crc: u32(16),
      packed: u32(20),
      size: u32(24),
      at: u32(42),
    };
    at += 46 + u16(28) + u16(30) + u16(32);
  }
}

/** Memory for such an entry is set aside at once; setting up for a larger one takes longer than reading many of them. */
const SMALL = 1 << 20;

/** The content of an entry, held against its size and its checksum. @throws FormatError */
function contentOf(bytes: Uint8Array, { name, method, crc, packed, size, at }: Listed): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const called = `“${cleanPath(name)}”`;
  if (at + 30 > bytes.length || view.getUint32(at, true) !== LOCAL_HEADER)
    throw damaged(`${called} is not where its directory says`);
  const from = at + 30 + view.getUint16(at + 26, true) + view.getUint16(at + 28, true);
  if (from + packed > bytes.length) throw damaged(`${called} is cut short`);
  const data = bytes.subarray(from, from + packed);
  if (method !== STORED && method !== DEFLATED)
    throw new FormatError(
      `${called} in the zip archive is packed in a way that is not read (${method}). Unpack it and drop the files that matter.`,
    );
  let content: Uint8Array;
  try {
    content =
      method === STORED
        ? data
        : size <= SMALL
          ? // what goes beyond its size is not written, and the checksum then tells
            inflateSync(data, { out: new Uint8Array(size) })
          : inflateUpTo(data, size, 'refuse', 'bare');
  } catch {
    throw damaged(`${called} does not unpack`);
  }
  if (content.length !== size) throw damaged(`${called} has ${content.length} bytes and should have ${size}`);
  if (CRC32.buf(content) >>> 0 !== crc)
    throw damaged(`${called} is not as it was packed: its checksum does not fit`);
  return content;
}

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
  const chosen: Listed[] = [];
  const most = Math.min(ARCHIVE_LIMITS.bytes, ARCHIVE_LIMITS.always + ARCHIVE_LIMITS.growth * bytes.length);
  let own = 0;
  for (const listed of directoryOf(bytes)) {
    const { name, size, packed } = listed;
    if (!counts(name) || !wanted(name)) continue;
    sofar.entries++;
    sofar.bytes += size;
    own += size;
    if (sofar.entries > ARCHIVE_LIMITS.entries)
      throw new FormatError(
        `it holds more than ${ARCHIVE_LIMITS.entries} files. Unpack it and drop the files that matter.`,
      );
    const over = own > most ? most : sofar.bytes > ARCHIVE_LIMITS.bytes ? ARCHIVE_LIMITS.bytes : 0;
    if (over > 0)
      throw new FormatError(
        `unpacked it would be larger than ${Math.round(over / 1024 / 1024)} MB. Unpack it and drop the files that matter.`,
      );
    if (size > packed * MAX_DEFLATE_RATIO + 1000)
      throw new FormatError(
        `its entry “${cleanPath(name)}” claims a size it cannot have. The archive is damaged; get it again from where it was made.`,
      );
    if (size > ARCHIVE_LIMITS.large && size > packed * ARCHIVE_LIMITS.ratio)
      throw new FormatError(
        `its entry “${cleanPath(name)}” would grow ${Math.round(size / Math.max(1, packed))} times on unpacking; more than a swatch file needs.`,
      );
    chosen.push(listed);
  }
  return chosen.map((listed) => ({ path: cleanPath(listed.name), bytes: contentOf(bytes, listed) }));
}

const cleanPath = (path: string) =>
  path
    .split(/[/\\]+/)
    .filter((part) => part !== '' && part !== '.' && part !== '..')
    .join('/')
    .replace(/[\0-\x1f]/g, '-');

/** Packs files under free paths; the same files always give the same bytes. */
export function pack(entries: Entry[]): Uint8Array<ArrayBuffer> {
  const free = freePaths();
  const tree: Zippable = {};
  for (const { path, bytes } of entries) tree[free(path)] = bytes;
  // zip counts time from 1980; a fixed time makes equal content equal files
  return zipSync(tree, { mtime: new Date(Date.UTC(1980, 0, 2)), level: 6 }) as Uint8Array<ArrayBuffer>;
}

import fc from 'fast-check';
import { lentHere } from '../../cli/engine.ts';
import {
  type Format,
  FormatError,
  formats,
  isZip,
  openSwatchFile,
  pack,
  takeIn,
  writable,
} from '../../core/formats/index.ts';
import { joined } from '../../core/join.ts';
import { countingIds, countSwatches } from '../../core/swatch/model.ts';
import { anyLibrary } from '../../core/testing.ts';
import { pictureShapes, pictures, readPicture } from './pictures.ts';
import { shapes } from './shapes.ts';

const lent = await lentHere();

/** A small repeatable generator (mulberry32), so that any failure can be run again from its seed. */
export function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Values that lengths and counts go wrong on. */
const NASTY = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0x8000, 0xffff, 0x7fffffff, 0xffffffff];

const NUMBERS = ['1e999', '-1e999', 'NaN', '-0', '99999999999999999999', '1e-400', '0x10', '∞', ''];

/** Of larger ones only a few are damaged: what is done to most of their bytes tells nothing. */
const SMALL = 6000;

/** A damaged copy: bytes flipped, cut, doubled, overwritten with extreme values, numbers made absurd, or mixed with another file. */
export function mutate(bytes: Uint8Array, other: Uint8Array, next: () => number): Uint8Array {
  let out = bytes.slice();
  const at = () => Math.floor(next() * out.length);
  for (let rounds = 1 + Math.floor(next() * 6); rounds > 0 && out.length > 0; rounds--) {
    switch (Math.floor(next() * 7)) {
      case 0:
        out[at()] = Math.floor(next() * 256);
        break;
      case 1:
        out = out.slice(0, at());
        break;
      case 2: {
        const [from, to] = [at(), at()].sort((a, b) => a - b);
        out = joined([out.subarray(0, to), out.subarray(from)]);
        break;
      }
      case 3: {
        const view = new DataView(out.buffer, out.byteOffset, out.length);
        const value = NASTY[Math.floor(next() * NASTY.length)];
        const place = at();
        if (place + 4 <= out.length && next() < 0.5) view.setUint32(place, value);
        else if (place + 2 <= out.length) view.setUint16(place, value & 0xffff);
        break;
      }
      case 4: {
        const from = Math.floor(next() * other.length);
        out = joined([out.subarray(0, at()), other.subarray(from)]);
        break;
      }
      case 5: {
        // a number in a text becomes one that numbers go wrong on
        const from = at();
        const start = out.subarray(from).findIndex((b) => b >= 0x30 && b <= 0x39);
        if (start < 0) break;
        const word = new TextEncoder().encode(NUMBERS[Math.floor(next() * NUMBERS.length)]);
        out = joined([out.subarray(0, from + start), word, out.subarray(from + start + 1)]);
        break;
      }
      default:
        out.fill(Math.floor(next() * 256), at(), at());
    }
  }
  return out;
}

export interface FuzzReport {
  files: number;
  /** Swatch files that opened, and pictures that were read. */
  opened: number;
  refused: number;
  slowestMs: number;
  slowest: string;
  /** What took longer than it ought to. */
  slow: string[];
  largestSwatches: number;
}

/** What this process has worked since, ms: other programs of a busy machine do not count. */
function worked(since: NodeJS.CpuUsage): number {
  const { user, system } = process.cpuUsage(since);
  return (user + system) / 1000;
}

const newReport = (): FuzzReport => ({
  files: 0,
  opened: 0,
  refused: 0,
  slowestMs: 0,
  slowest: '',
  slow: [],
  largestSwatches: 0,
});

/** The longest that anything of up to 10 MB may take. */
const LONGEST_MS = 2000;

function note(report: FuzzReport, took: number, what: string): void {
  if (took > report.slowestMs) [report.slowestMs, report.slowest] = [took, what];
  if (took > LONGEST_MS) report.slow.push(`${what}: ${Math.round(took)} ms`);
}

/** Opens a file as the application does, archives looked through; a reason given counts as refused. */
async function countTaken(bytes: Uint8Array): Promise<number> {
  let swatches = 0;
  let refused = '';
  for await (const found of takeIn(bytes, 'fuzzed', countingIds())) {
    if (found.kind === 'swatches') swatches += countSwatches(found.opened.library);
    else if (found.kind === 'problem') refused = found.message;
  }
  if (swatches === 0 && refused) throw new FormatError(refused);
  return swatches;
}

/** Files of every format that is written, archives of them, and archives in archives. */
async function swatchFiles(seed: number): Promise<Uint8Array[]> {
  const written = fc.sample(anyLibrary(), { numRuns: 40, seed }).flatMap((library, n) =>
    // of sheets with their fonts a few are enough
    writable.filter((f) => f.id !== 'pdf' || n < 2).map((format) => format.encode(library, lent)),
  );
  const corpus: Uint8Array[] = (await Promise.all(written)).filter((bytes) => bytes.length > 0);
  for (let i = 0; i < 40; i++) {
    const inner = pack([{ path: 'a', bytes: corpus[i] }]);
    corpus.push(
      pack([
        { path: 'x/b', bytes: corpus[i + 40] },
        { path: 'c.zip', bytes: inner },
      ]),
    );
  }
  let large = 0;
  return corpus.filter((file) => file.length <= SMALL || large++ % 20 === 0);
}

/** Opens one file with a decoder, or as the application does. Gives the swatches; null when refused with a reason. */
async function open(bytes: Uint8Array, as?: Format): Promise<number | null> {
  try {
    const swatches = as
      ? countSwatches((await openSwatchFile(bytes, 'fuzzed', countingIds(), as)).library)
      : await countTaken(bytes);
    // only an archive may hold more than it seems
    if (!isZip(bytes) && swatches > bytes.length)
      throw new Error(`${swatches} swatches from ${bytes.length} bytes`);
    return swatches;
  } catch (error) {
    if (error instanceof FormatError) return null;
    throw error;
  }
}

/**
 * Opens so many damaged files of every format, and reads damaged pictures of every kind; every fifth is a picture. Anything but
 * a result or a reason is thrown on, with the seed and number that made it.
 *
 * @param begin is told what is about to be opened, so that whoever watches knows what hangs
 */
export async function fuzz(
  files: number,
  seed: number,
  begin: (what: string) => void = () => undefined,
): Promise<FuzzReport> {
  const next = random(seed);
  const [swatches, photos] = [await swatchFiles(seed), await pictures()];
  const report = newReport();
  for (let i = 0; i < files; i++) {
    const corpus = i % 5 === 4 ? photos : swatches;
    const pick = () => corpus[Math.floor(next() * corpus.length)];
    const bytes = mutate(pick(), pick(), next) as Uint8Array<ArrayBuffer>;
    const what = `seed ${seed}, file ${i}`;
    begin(what);
    const start = process.cpuUsage();
    try {
      let opened: boolean;
      if (corpus === photos) opened = (await readPicture(bytes)) !== 'refused';
      else {
        // each decoder meets the file too, recognised or not
        const as = i % 3 === 0 ? formats[Math.floor(next() * formats.length)] : undefined;
        const found = await open(bytes, as);
        opened = found !== null;
        report.largestSwatches = Math.max(report.largestSwatches, found ?? 0);
      }
      report.files++;
      if (opened) report.opened++;
      else report.refused++;
    } catch (error) {
      throw new Error(`${what}: ${error instanceof Error ? error.stack : error}`);
    }
    const took = worked(start);
    note(report, took, what);
  }
  return report;
}

/** Gives every file that is made to take for ever to every recogniser and decoder, and every such picture to its reader. */
export async function fuzzShapes(
  size: number,
  begin: (what: string) => void = () => undefined,
): Promise<FuzzReport> {
  const report = newReport();
  const timed = async (what: string, run: () => unknown) => {
    begin(what);
    const start = process.cpuUsage();
    const result = await run();
    const took = worked(start);
    note(report, took, what);
    report.files++;
    if (result === null || result === 'refused') report.refused++;
    else report.opened++;
  };
  for (const { name, bytes } of shapes(size)) {
    await timed(`${name}, as it is`, () => open(bytes));
    for (const format of formats) {
      await timed(`${name}, recognised as ${format.id}`, () => format.recognise(bytes));
      await timed(`${name}, decoded as ${format.id}`, () => open(bytes, format));
    }
  }
  for (const { name, bytes } of pictureShapes()) await timed(name, () => readPicture(bytes));
  return report;
}

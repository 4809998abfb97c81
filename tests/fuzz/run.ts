import { readFileSync, writeFileSync } from 'node:fs';
import fc from 'fast-check';
import { localServices } from '../../cli/engine.ts';
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
import { pictureType } from '../../core/picture/index.ts';
import { countingIds, countSwatches } from '../../core/swatch/model.ts';
import { anyLibrary } from '../../core/testing.ts';
import { mutate, NASTY, random } from './mutate.ts';
import { mutatePdf, pdfs, readPdfInks } from './pdfs.ts';
import { decodePicture, pictureShapes, pictures, readPicture } from './pictures.ts';
import { mutateProfile, profileReader, profiles } from './profiles.ts';
import { shapes } from './shapes.ts';

const services = await localServices();

/** Of larger ones only a few are damaged: what is done to most of their bytes tells nothing. */
const SMALL = 6000;

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
  /** The most memory that one file took. */
  largestMB: number;
}

/** What this process has worked since, ms: other programs of a busy machine do not count. */
function worked(since: NodeJS.CpuUsage): number {
  const { user, system } = process.cpuUsage(since);
  return (user + system) / 1000;
}

/** With so much more in use what earlier files have left is cleared away. */
const GARBAGE_BYTES = 200e6;

/** Begins to measure the memory that what follows takes; gives what tells the most of it, MB, or 0 where this cannot be known. */
function memoryTaken(): () => number {
  try {
    // Linux: from now on the highest amount is that from now on
    writeFileSync('/proc/self/clear_refs', '5');
  } catch {
    return () => 0;
  }
  const before = process.memoryUsage.rss() / 1e6;
  return () => {
    const [, kilobytes] = /VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8')) ?? [];
    return Math.max(0, (Number(kilobytes) * 1024) / 1e6 - before);
  };
}

const newReport = (): FuzzReport => ({
  files: 0,
  opened: 0,
  refused: 0,
  slowestMs: 0,
  slowest: '',
  slow: [],
  largestSwatches: 0,
  largestMB: 0,
});

/** The longest that anything of up to 10 MB may take. */
const MAX_FILE_MS = 2000;

function note(report: FuzzReport, took: number, what: string): void {
  if (took > report.slowestMs) [report.slowestMs, report.slowest] = [took, what];
  if (took > MAX_FILE_MS) report.slow.push(`${what}: ${Math.round(took)} ms`);
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

/** Formats that are only read have no files of ours to damage. */
const ONLY_READ = [
  'scale:\n  900: "#111111"\n  50: &light \'#eeeeee\'\npaper: *light\nink: { cmyk: [0, 10, 20, 90] }\n',
  'paper = "#ffffff" # white\n[scale]\n900 = "#111111"\nsea.deep = "#14304a"\n[[swatches]]\nhex = "#c8a064"\n',
  '%!PS\n%%CMYKCustomColor: 0 0.9 0.8 0.05 (Hull red)\n/k { setcmykcolor } bind def\n0 0.5 1 0 k fill\n[/Separation (Signal) /DeviceCMYK { dup 0.3 mul exch 0 exch 0 exch pop 0 }] setcolorspace 1 setcolor\n',
  '$deep = #14304a // hull\nsigns = {\n  stop: #b3262b\n  more: { soft: #abc }\n}\n',
  '[WIF]\nVersion=1.1\n[COLOR PALETTE]\nRange=0,999\n[COLOR TABLE]\n1=999,999,999\n2=0,0,999\n',
];

/** Files of every format that is written, archives of them, and archives in archives. */
async function swatchFiles(seed: number): Promise<Uint8Array[]> {
  const written = fc.sample(anyLibrary(), { numRuns: 40, seed }).flatMap((library, n) =>
    // of sheets with their fonts a few are enough
    writable.filter((f) => f.id !== 'pdf' || n < 2).map((format) => format.encode(library, services)),
  );
  const corpus: Uint8Array[] = (await Promise.all(written)).filter((bytes) => bytes.length > 0);
  for (const text of ONLY_READ) for (let i = 0; i < 40; i++) corpus.push(new TextEncoder().encode(text));
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
 * Opens this many damaged files of every format, and reads damaged pictures of every kind; every fifth is a picture. Anything but
 * a result or a reason is thrown on, with the seed and number that made it.
 *
 * @param begin is reported what is about to be opened, so that whoever watches knows what hangs
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

export const KINDS = [
  'profile',
  'PNG',
  'JPEG',
  'TIFF',
  'GIF',
  'WebP',
  'AVIF',
  'BMP',
  'QOI',
  'PSD',
  'HEIC',
  'JPEG XL',
  'PDF',
] as const;
/** After so many damaged files one that is sound is opened. */
const SOUND_EVERY = 20;
export type Kind = (typeof KINDS)[number];

/** What is damaged of a kind, how, and what reads it. */
async function workOf(kind: Kind): Promise<{
  corpus: Uint8Array[];
  read: (bytes: Uint8Array) => unknown;
  damage: (bytes: Uint8Array, other: Uint8Array, next: () => number) => Uint8Array;
}> {
  if (kind === 'profile') return { corpus: await profiles(), read: profileReader(), damage: mutateProfile };
  if (kind === 'PDF') return { corpus: await pdfs(), read: readPdfInks, damage: mutatePdf };
  const corpus = (await pictures()).filter((bytes) => pictureType(bytes) === kind);
  return { corpus, read: (bytes) => decodePicture(bytes as Uint8Array<ArrayBuffer>), damage: mutatePicture };
}

/** Opens damaged files of one kind: profiles as a server that is to keep them does, pictures as far as pixels. */
export async function fuzzKind(
  kind: Kind,
  files: number,
  seed: number,
  begin: (what: string) => void = () => undefined,
): Promise<FuzzReport> {
  const next = random(seed);
  const { corpus, read, damage } = await workOf(kind);
  const report = newReport();
  const pick = () => corpus[Math.floor(next() * corpus.length)];
  let bound = process.memoryUsage.rss() + GARBAGE_BYTES;
  for (let i = 0; i < files; i++) {
    const bytes = damage(pick(), pick(), next);
    const what = `${kind}, seed ${seed}, file ${i}`;
    begin(what);
    const taken = memoryTaken();
    const start = process.cpuUsage();
    try {
      const opened = await read(bytes);
      report.files++;
      if (opened) report.opened++;
      else report.refused++;
    } catch (error) {
      throw new Error(`${what}: ${error instanceof Error ? error.stack : error}`);
    }
    note(report, worked(start), what);
    // a decoder that a damaged file broke must still read the next one
    if (i % SOUND_EVERY === 0 && !(await read(corpus[0]!)))
      throw new Error(`${what}: what is sound does not open any more`);
    report.largestMB = Math.max(report.largestMB, Math.round(taken()));
    // what the largest one needs is asked here, not how much of the earlier ones is still lying about
    if (process.memoryUsage.rss() > bound) {
      gc?.();
      await new Promise((done) => setImmediate(done));
      bound = process.memoryUsage.rss() + GARBAGE_BYTES;
    }
  }
  return report;
}

/** Damages anything, and half of the time what a header says of all that follows. */
function mutatePicture(bytes: Uint8Array, other: Uint8Array, next: () => number): Uint8Array<ArrayBuffer> {
  if (next() < 0.5) return mutate(bytes, other, next) as Uint8Array<ArrayBuffer>;
  const out = bytes.slice() as Uint8Array<ArrayBuffer>;
  const view = new DataView(out.buffer);
  for (let rounds = 1 + Math.floor(next() * 3); rounds > 0; rounds--) {
    const at = Math.floor(next() * Math.min(120, out.length - 4));
    const value = NASTY[Math.floor(next() * NASTY.length)]!;
    if (next() < 0.5) view.setUint32(at, value, next() < 0.5);
    else view.setUint16(at, value & 0xffff, next() < 0.5);
  }
  return out;
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

import fc from 'fast-check';
import { loadFont } from '../../cli/typesetting.ts';
import {
  FormatError,
  formats,
  isZip,
  openSwatchFile,
  pack,
  prepareFormats,
  takeIn,
} from '../../core/formats/index.ts';
import { countingIds, countSwatches } from '../../core/swatch/model.ts';
import { anyLibrary } from '../../core/testing.ts';

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
        out = Uint8Array.from([...out.slice(0, to), ...out.slice(from)]);
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
        out = Uint8Array.from([...out.slice(0, at()), ...other.slice(from)]);
        break;
      }
      case 5: {
        // a number in a text becomes one that numbers go wrong on
        const from = at();
        const start = out.subarray(from).findIndex((b) => b >= 0x30 && b <= 0x39);
        if (start < 0) break;
        const word = new TextEncoder().encode(NUMBERS[Math.floor(next() * NUMBERS.length)]);
        out = Uint8Array.from([...out.slice(0, from + start), ...word, ...out.slice(from + start + 1)]);
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
  opened: number;
  refused: number;
  slowestMs: number;
  largestSwatches: number;
}

/** Opens a file as the application does, archives looked through; a reason given counts as refused. */
function countTaken(bytes: Uint8Array): number {
  let swatches = 0;
  let refused = '';
  for (const found of takeIn(bytes, 'fuzzed', countingIds())) {
    if (found.kind === 'swatches') swatches += countSwatches(found.opened.library);
    else if (found.kind === 'problem') refused = found.message;
  }
  if (swatches === 0 && refused) throw new FormatError(refused);
  return swatches;
}

/**
 * Opens so many damaged files of every format. Anything but a result or a {@link FormatError} is thrown on,
 * with the seed and round that made it.
 */
export async function fuzz(files: number, seed: number): Promise<FuzzReport> {
  await prepareFormats(loadFont);
  const next = random(seed);
  const corpus = fc
    .sample(anyLibrary(), { numRuns: 40, seed })
    .flatMap((library) => formats.map((format) => format.encode(library)))
    .filter((bytes) => bytes.length > 0);
  // archives too, and archives in archives
  for (let i = 0; i < 40; i++) {
    const inner = pack([{ path: 'a', bytes: corpus[i] }]);
    corpus.push(
      pack([
        { path: 'x/b', bytes: corpus[i + 40] },
        { path: 'c.zip', bytes: inner },
      ]),
    );
  }
  const report: FuzzReport = { files, opened: 0, refused: 0, slowestMs: 0, largestSwatches: 0 };
  for (let i = 0; i < files; i++) {
    const pick = () => corpus[Math.floor(next() * corpus.length)];
    const bytes = mutate(pick(), pick(), next);
    const start = performance.now();
    try {
      // each decoder meets the file too, recognised or not
      const as = i % 3 === 0 ? formats[Math.floor(next() * formats.length)] : undefined;
      const swatches = as
        ? countSwatches(openSwatchFile(bytes, 'fuzzed', countingIds(), as).library)
        : countTaken(bytes);
      // only an archive may hold more than it seems
      if (!isZip(bytes) && swatches > bytes.length)
        throw new Error(`${swatches} swatches from ${bytes.length} bytes`);
      report.opened++;
      report.largestSwatches = Math.max(report.largestSwatches, swatches);
    } catch (error) {
      if (!(error instanceof FormatError)) {
        throw new Error(`seed ${seed}, file ${i}: ${error instanceof Error ? error.stack : error}`);
      }
      report.refused++;
    }
    report.slowestMs = Math.max(report.slowestMs, performance.now() - start);
  }
  return report;
}

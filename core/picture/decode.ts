import { getDecoder } from 'geotiff';
import { type ColorEngine, inkPixels, screenOnly, toRgb } from '../color/index.ts';
import { readBmp } from './bmp.ts';
import { embeddedProfile, spaceOf } from './embedded.ts';
import { readHeic } from './heic.ts';
import type { Picture } from './histogram.ts';
import { Directory, ORIENTATION } from './ifd.ts';
import { frameOf, segmentsOf } from './jpeg.ts';
import { readJxl } from './jxl.ts';
import { checkPixels } from './limits.ts';
import { type Composite, readPsd } from './psd.ts';
import { readQoi } from './qoi.ts';
import { sizeOf } from './sniff.ts';
import { linearToSrgb, SRGB } from './space.ts';
import {
  alphaOf,
  BLACK_IS_ZERO,
  colorMapOf,
  PALETTE,
  RGB,
  readTiff,
  type Samples,
  SEPARATED,
  WHITE_IS_ZERO,
  YCBCR,
} from './tiff.ts';

/** JPEG as a Compression of TIFF (technical note 2). */
const JPEG = 7;

/** What some pictures need, asked for only when one comes. */
export interface Decoders {
  /** For pictures in CMYK. */
  engine(): Promise<ColorEngine>;
  /** The WebAssembly of a decoder that is a package. */
  wasm(of: 'heic' | 'jxl'): Promise<ArrayBuffer>;
}

/**
 * Decodes the pictures that not everything here reads, or each in its own way: TIFF, BMP, QOI, HEIC, JPEG XL, PSD, and JPEG in
 * CMYK. The same here as everywhere, so that browser, server and shell see the same pixels. Of all kinds, those with too
 * many pixels are refused before anyone decodes them.
 *
 * @returns null when the picture is of another kind; the caller has a decoder for those
 * @throws PictureRefusedError for one that is too large; else whatever the decoders throw at a damaged file
 */
export async function decodeHere(
  bytes: Uint8Array<ArrayBuffer>,
  type: string | null,
  { engine, wasm }: Decoders,
): Promise<Picture | null> {
  if (type === 'BMP') return { ...readBmp(bytes), space: spaceOf(bytes, type).space ?? SRGB };
  if (type === 'QOI') return decodeQoi(bytes);
  if (type === 'HEIC')
    return { ...(await readHeic(bytes, () => wasm('heic'))), space: spaceOf(bytes, type).space ?? SRGB };
  if (type === 'JPEG XL') return { ...(await readJxl(bytes, () => wasm('jxl'))), space: SRGB };
  if (type === 'PSD') return decodePsd(bytes, engine);
  if (type === 'TIFF') return decodeTiff(await readTiff(bytes), bytes, engine);
  const size = sizeOf(bytes, type);
  if (size) checkPixels(size.width, size.height);
  const ink = type === 'JPEG' ? inkJpeg(bytes) : null;
  if (!ink) return null;
  const { width, height } = ink;
  // a block of 8 × 8 has at least a bit (T.81): what has less is cut short, whatever size it claims
  if (width * height > 512 * bytes.length) throw new Error('its pixels are not all there');
  // of what a decoder needs to know, only that nothing is to be done to the values afterwards
  const decoder = await getDecoder(JPEG, { predictor: 1 } as never);
  const values = new Uint8Array((await decoder.decode(bytes.slice().buffer)) as ArrayBuffer);
  if (values.length !== 4 * width * height) throw new Error('its pixels are not all there');
  const rgb = inkPixels(await engine(), inkValues(values, ink), embeddedProfile(bytes, type));
  return turned({ width, height, data: opaque(rgb), space: SRGB }, ink.orientation);
}

function decodeQoi(bytes: Uint8Array): Picture {
  const { isLinear, data, ...size } = readQoi(bytes);
  if (isLinear)
    for (let i = 0; i < data.length; i++)
      if (i % 4 < 3) data[i] = Math.round(255 * linearToSrgb(data[i]! / 255));
  return { ...size, data, space: SRGB };
}

async function decodePsd(
  bytes: Uint8Array<ArrayBuffer>,
  engine: () => Promise<ColorEngine>,
): Promise<Picture> {
  const { width, height, kind, channels, alpha, note } = readPsd(bytes, linearToSrgb);
  const data = await composed(bytes, kind, channels, width * height, engine);
  if (alpha)
    for (let i = 0; i < alpha.length; i++) {
      const a = alpha[i]!;
      data[4 * i + 3] = a;
      // the composite lies on white
      if (a > 0)
        for (let c = 0; c < 3; c++) data[4 * i + c] = Math.round(((data[4 * i + c]! - (255 - a)) * 255) / a);
    }
  const inOwnSpace = kind === 'rgb' || kind === 'grey';
  const space = (inOwnSpace && spaceOf(bytes, 'PSD').space) || SRGB;
  return { width, height, data, space, ...(note ? { note } : {}) };
}

/** The pixels of channels that lie one behind the other. */
async function composed(
  bytes: Uint8Array<ArrayBuffer>,
  kind: Composite['kind'],
  channels: readonly Uint8Array[],
  pixels: number,
  engine: () => Promise<ColorEngine>,
): Promise<Uint8ClampedArray<ArrayBuffer>> {
  const interleaved = new Uint8Array(channels.length * pixels);
  for (const [c, plane] of channels.entries())
    for (let i = 0; i < pixels; i++) interleaved[channels.length * i + c] = plane[i]!;
  if (kind === 'cmyk') return opaque(inkPixels(await engine(), interleaved, embeddedProfile(bytes, 'PSD')));
  if (kind === 'rgb') return opaque(interleaved);
  if (kind === 'lab') return opaque(labPixels(interleaved));
  const data = new Uint8ClampedArray(4 * pixels).fill(255);
  for (let i = 0; i < pixels; i++) data.fill(channels[0]![i]!, 4 * i, 4 * i + 3);
  return data;
}

/** Lab of eight bits (TIFF 6.0 and its likes: L from 0 to 100, a and b from −128) as sRGB, clipped. */
function labPixels(lab: Uint8Array): Uint8Array {
  const known = new Map<number, number[]>();
  const rgb = new Uint8Array(lab.length);
  for (let i = 0; i < lab.length; i += 3) {
    const [l, a, b] = [lab[i]!, lab[i + 1]!, lab[i + 2]!];
    const key = (l << 16) | (a << 8) | b;
    let found = known.get(key);
    if (!found) {
      const components = [(l * 100) / 255, a - 128, b - 128];
      found = toRgb({ space: 'lab', components }, screenOnly).map((v) =>
        Math.round(255 * Math.min(1, Math.max(0, v))),
      );
      known.set(key, found);
    }
    rgb.set(found, i);
  }
  return rgb;
}

async function decodeTiff(
  read: Samples,
  bytes: Uint8Array<ArrayBuffer>,
  engine: () => Promise<ColorEngine>,
): Promise<Picture> {
  const { directory, width, height, samples, photometric, data: values } = read;
  const profiled = embeddedProfile(bytes, 'TIFF') !== null;
  const orientation = directory.number(ORIENTATION);
  const pixels = width * height;
  const eight = toEightBits(read);
  const isLight = read.float && !profiled;
  const sample = (i: number, c: number) => eight(values[i * samples + c]);
  // floating-point samples are linear light where no profile says otherwise: as libvips has them, and common practice
  const colorSample = isLight
    ? (i: number, c: number) => eight(linearToSrgb(values[i * samples + c]))
    : sample;
  if (photometric === SEPARATED && samples >= 4) {
    const cmyk = new Uint8Array(4 * pixels);
    for (let i = 0; i < pixels; i++) for (let c = 0; c < 4; c++) cmyk[4 * i + c] = sample(i, c);
    const data = opaque(inkPixels(await engine(), cmyk, embeddedProfile(bytes, 'TIFF')));
    if (samples === 5) for (let i = 0; i < pixels; i++) data[4 * i + 3] = sample(i, 4);
    return turned({ width, height, data, space: SRGB }, orientation);
  }
  const data = new Uint8ClampedArray(4 * pixels).fill(255);
  const inColor = photometric === RGB || photometric === YCBCR;
  if (inColor ? samples < 3 : ![WHITE_IS_ZERO, BLACK_IS_ZERO, PALETTE].includes(photometric))
    throw new Error(`its colours (${photometric}, ${samples} samples) are not read`);
  if (inColor) {
    for (let i = 0; i < pixels; i++) for (let c = 0; c < 3; c++) data[4 * i + c] = colorSample(i, c);
    if (photometric === YCBCR) fromYcc(data, 4);
  } else if (photometric === PALETTE) {
    const map = colorMapOf(read);
    for (let i = 0; i < pixels; i++)
      for (let c = 0; c < 3; c++) data[4 * i + c] = map[3 * values[i * samples] + c];
  } else
    for (let i = 0; i < pixels; i++) {
      const grey = photometric === WHITE_IS_ZERO ? 255 - colorSample(i, 0) : colorSample(i, 0);
      data.fill(grey, 4 * i, 4 * i + 3);
    }
  const colors = inColor ? 3 : 1;
  const alpha = samples > colors ? alphaOf(read) : 'none';
  if (alpha !== 'none')
    for (let i = 0; i < pixels; i++) {
      const a = sample(i, colors);
      data[4 * i + 3] = a;
      if (alpha === 'multiplied' && a > 0)
        for (let c = 0; c < 3; c++) data[4 * i + c] = (data[4 * i + c] * 255) / a;
    }
  const note = isLight
    ? `Its pixels are linear light as floating-point numbers, and were read so.${aboveWhite(values)}`
    : '';
  const space = spaceOf(bytes, 'TIFF').space ?? SRGB;
  return { ...turned({ width, height, data, space }, orientation), ...(note ? { note } : {}) };
}

/** Brings samples of 1 to 32 bits to 8; those of 16 and more lose their lower bits, as elsewhere. */
function toEightBits({ bits, float }: Samples): (value: number) => number {
  if (float) return (v) => Math.round(255 * Math.min(1, Math.max(0, v)));
  if (bits === 8) return (v) => v;
  if (bits > 8) return (v) => Math.floor(v / 2 ** (bits - 8));
  return (v) => (v * 255) / (2 ** bits - 1);
}

/** A warning about light beyond white; empty when there is none. */
function aboveWhite(values: ArrayLike<number>): string {
  let most = 1;
  for (let i = 0; i < values.length; i++) if (values[i]! > most) most = values[i]!;
  return most > 1.002
    ? ` What is brighter than white (up to ${Number(most.toPrecision(3))} times) became white.`
    : '';
}

/** ITU-T T.871: full range, in place. */
function fromYcc(data: Uint8ClampedArray, step: number): void {
  for (let i = 0; i < data.length; i += step) {
    const [y, cb, cr] = [data[i], data[i + 1] - 128, data[i + 2] - 128];
    data[i] = y + 1.402 * cr;
    data[i + 1] = y - 0.344136 * cb - 0.714136 * cr;
    data[i + 2] = y + 1.772 * cb;
  }
}

function opaque(rgb: Uint8Array): Uint8ClampedArray<ArrayBuffer> {
  const data = new Uint8ClampedArray((4 * rgb.length) / 3).fill(255);
  for (let i = 0; i < data.length / 4; i++) for (let c = 0; c < 3; c++) data[4 * i + c] = rgb[3 * i + c];
  return data;
}

/** Programs that write this application segment count paper where others count ink (common practice, no source). */
const APP14 = 0xee;
const APP1 = 0xe1;
/** The segment's last byte: the inks went through the transform of T.871, but for black. */
const YCCK = 2;

/** What there is to know of a JPEG in CMYK. */
export interface InkJpeg {
  width: number;
  height: number;
  /** Its values count paper, not ink. */
  paper: boolean;
  ycck: boolean;
  orientation?: number;
}

/** Whether a JPEG is in CMYK, and how to read it; null when it is not. */
export function inkJpeg(bytes: Uint8Array): InkJpeg | null {
  const frame = frameOf(bytes);
  if (frame?.components !== 4) return null;
  const found: InkJpeg = { width: frame.width, height: frame.height, paper: false, ycck: false };
  for (const { marker, at, length } of segmentsOf(bytes)) {
    if (marker === APP14) {
      found.paper = true;
      found.ycck = bytes[at + 11] === YCCK;
    }
    if (marker === APP1 && String.fromCharCode(...bytes.subarray(at, at + 4)) === 'Exif')
      found.orientation = exifTurn(bytes.subarray(at + 6, at + length)) ?? 1;
  }
  return found;
}

/** The inks, 0 none and 255 full, from the values of a JPEG. */
function inkValues(values: Uint8Array, { paper, ycck }: InkJpeg): Uint8Array {
  if (ycck) {
    const clamped = new Uint8ClampedArray(values.buffer);
    // what comes of it is ink, since paper had been turned round before the transform
    fromYcc(clamped, 4);
    for (let i = 3; i < values.length; i += 4) values[i] = 255 - values[i];
    return values;
  }
  if (paper) for (let i = 0; i < values.length; i++) values[i] = 255 - values[i];
  return values;
}

function exifTurn(exif: Uint8Array): number | undefined {
  try {
    return new Directory(exif).number(ORIENTATION);
  } catch {
    return undefined;
  }
}

/** The picture as it is to be seen: orientation 1–8 of EXIF and TIFF (TIFF 6.0, tag 274). */
function turned(picture: Picture, orientation = 1): Picture {
  if (orientation < 2 || orientation > 8) return picture;
  const { width, height } = picture;
  const from = new Uint32Array(picture.data.buffer, picture.data.byteOffset, width * height);
  const swaps = orientation > 4;
  const [w, h] = swaps ? [height, width] : [width, height];
  const to = new Uint32Array(w * h);
  const fromRight = [2, 3, 7, 8].includes(orientation);
  const fromBelow = [3, 4, 6, 7].includes(orientation);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const [u, v] = swaps ? [y, x] : [x, y];
      to[y * w + x] = from[(fromBelow ? height - 1 - v : v) * width + (fromRight ? width - 1 - u : u)];
    }
  return { ...picture, width: w, height: h, data: new Uint8ClampedArray(to.buffer) };
}

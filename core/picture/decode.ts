import UTIF from 'utif2';
import type { Inks } from '../color/inks.ts';
import type { Picture } from './histogram.ts';
import { embeddedProfile, SRGB, spaceOf } from './space.ts';

/** Inks, as TIFF's PhotometricInterpretation (TIFF 6.0, section 16), and JPEG as its Compression (technical note 2). */
const SEPARATED = 5;
const JPEG_INSIDE = 7;

/**
 * Decodes the pictures that browsers do not read, or each in its own way: TIFF, and JPEG in CMYK. The same here as
 * everywhere, so that browser, server and shell see the same pixels.
 *
 * @param inks is asked for only when the picture is in CMYK
 * @returns null when the picture is of another kind; the caller has a decoder for those
 * @throws whatever the decoders throw at a damaged file
 */
export async function decodeHere(
  bytes: Uint8Array<ArrayBuffer>,
  type: string | null,
  inks: () => Promise<Inks>,
): Promise<Picture | null> {
  if (type === 'TIFF') return decodeTiff(bytes, inks);
  const ink = type === 'JPEG' ? inkJpeg(bytes) : null;
  if (!ink) return null;
  const decoder = new UTIF.JpegDecoder();
  decoder.parse(bytes);
  const { width, height } = decoder;
  const data = decoder.getData({ width, height, forceRGB: false });
  // the decoder takes it that all such files count paper, not ink
  if (!ink.paper) for (let i = 0; i < data.length; i++) data[i] = 255 - data[i];
  const rgb = (await inks()).toSrgb(new Uint8Array(data.buffer), embeddedProfile(bytes, type));
  return turned({ width, height, data: opaque(rgb), space: SRGB }, ink.orientation);
}

async function decodeTiff(bytes: Uint8Array<ArrayBuffer>, inks: () => Promise<Inks>): Promise<Picture> {
  const buffer = bytes.slice().buffer;
  const [page] = UTIF.decode(buffer);
  const photometric = page.t262?.[0] ?? 2;
  if (page.t259?.[0] === JPEG_INSIDE && ![2, 6].includes(photometric))
    // the decoder makes RGB of whatever a JPEG inside has
    Object.assign(page, { t262: [2], t277: [3], t258: [8, 8, 8] });
  UTIF.decodeImage(buffer, page);
  const { width, height } = page;
  if (!width || !height) throw new Error('no size');
  const icc = embeddedProfile(bytes, 'TIFF');
  const samples = page.t277?.[0] ?? 1;
  if (page.t262?.[0] !== SEPARATED || samples < 4) {
    const data = new Uint8ClampedArray(UTIF.toRGBA8(page).buffer);
    return turned({ width, height, data, space: spaceOf(bytes, 'TIFF').space ?? SRGB }, page.t274?.[0]);
  }
  // the high byte of each value comes last
  const step = (page.t258?.[0] ?? 8) / 8;
  const sample = (i: number, c: number) => page.data[(i * samples + c + 1) * step - 1];
  const cmyk = new Uint8Array(4 * width * height);
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 4; c++) cmyk[4 * i + c] = sample(i, c);
  const data = opaque((await inks()).toSrgb(cmyk, icc));
  if (samples === 5) for (let i = 0; i < width * height; i++) data[4 * i + 3] = sample(i, 4);
  return turned({ width, height, data, space: SRGB }, page.t274?.[0]);
}

function opaque(rgb: Uint8Array): Uint8ClampedArray<ArrayBuffer> {
  const data = new Uint8ClampedArray((4 * rgb.length) / 3).fill(255);
  for (let i = 0; i < data.length / 4; i++) for (let c = 0; c < 3; c++) data[4 * i + c] = rgb[3 * i + c];
  return data;
}

/** Programs that write this application segment count paper where others count ink (common practice, no source). */
const APP14 = 0xee;

/** Whether a JPEG is in CMYK, and how to read it; null when it is not. ITU-T T.81, annex B. */
export function inkJpeg(bytes: Uint8Array<ArrayBuffer>): { paper: boolean; orientation?: number } | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const text = (at: number, n: number) => String.fromCharCode(...bytes.subarray(at, at + n));
  let paper = false;
  let orientation: number | undefined;
  for (let at = 2; at + 10 <= bytes.length && bytes[at] === 0xff; at += 2 + view.getUint16(at + 2)) {
    const marker = bytes[at + 1];
    if (marker === APP14) paper = true;
    if (marker === 0xe1 && text(at + 4, 4) === 'Exif') orientation = exifTurn(bytes.subarray(at + 10));
    const frame = marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
    if (frame) return bytes[at + 9] === 4 ? { paper, orientation } : null;
    if (marker === 0xda) return null;
  }
  return null;
}

function exifTurn(exif: Uint8Array<ArrayBuffer>): number | undefined {
  try {
    return UTIF.decode(exif.slice().buffer)[0].t274?.[0];
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

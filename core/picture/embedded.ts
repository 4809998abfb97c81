import { inflateUpTo } from '../inflate.ts';
import { joined } from '../join.ts';
import { MAX_PROFILE_BYTES } from '../sizes.ts';
import { Directory, ICC_PROFILE } from './ifd.ts';
import { segmentsOf } from './jpeg.ts';
import { profileOfPsd } from './psd.ts';
import {
  inverse,
  multiply,
  type PixelSpace,
  ProfileError,
  pixelSpaceOf,
  product,
  recognised,
  SRGB,
  srgbToLinear,
} from './space.ts';

/** RGB from the primaries and the white of a space, as chromaticities; to XYZ, with the white's Y of 1. */
function primariesToXyz([wx, wy, rx, ry, gx, gy, bx, by]: number[]): number[] {
  const column = (x: number, y: number) => [x / y, 1, (1 - x - y) / y] as const;
  const [r, g, b] = [column(rx!, ry!), column(gx!, gy!), column(bx!, by!)];
  const m = [0, 1, 2].flatMap((i) => [r[i]!, g[i]!, b[i]!]);
  const scale = multiply(inverse(m), column(wx!, wy!));
  return m.map((v, i) => v * scale[i % 3]!);
}

/** The white and the primaries of sRGB (IEC 61966-2-1), and of the spaces that PNG names by number (ITU-T H.273, table 2). */
const PRIMARIES: Record<number, number[]> = {
  1: [0.3127, 0.329, 0.64, 0.33, 0.3, 0.6, 0.15, 0.06],
  9: [0.3127, 0.329, 0.708, 0.292, 0.17, 0.797, 0.131, 0.046],
  12: [0.3127, 0.329, 0.68, 0.32, 0.265, 0.69, 0.15, 0.06],
};
const PRIMARIES_NAMES: Record<number, string> = { 1: 'Rec. 709', 9: 'Rec. 2020', 12: 'Display P3' };

/** The curve of a space by its number (ITU-T H.273, table 3); none for those that are not of screens. */
const TRANSFER: Record<number, (v: number) => number> = {
  // what Rec. 709 and Rec. 2020 are shown with (BT.1886)
  ...Object.fromEntries([1, 6, 14, 15].map((n) => [n, (v: number) => v ** 2.4])),
  4: (v) => v ** 2.2,
  5: (v) => v ** 2.8,
  8: (v) => v,
  13: srgbToLinear,
};

function spaceFrom(name: string, primaries: number[], light: (v: number) => number): PixelSpace {
  const curve = Float64Array.from({ length: 256 }, (_, v) => light(v / 255));
  // white stays white, as in the browsers
  const adapted = product(
    inverse(primariesToXyz(PRIMARIES[1]!)),
    product(whiteTo(primaries, PRIMARIES[1]!), primariesToXyz(primaries)),
  );
  return recognised({ name, curves: [curve, curve, curve], toSrgb: adapted, fromSrgb: inverse(adapted) });
}

/** Bradford's matrix (ICC.1 annex E). */
const BRADFORD = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];
/** From one white to another, by Bradford's cones. */
function whiteTo([fx, fy]: number[], [tx, ty]: number[]): number[] {
  const cone = (x: number, y: number) => multiply(BRADFORD, [x / y, 1, (1 - x - y) / y]);
  const [from, to] = [cone(fx!, fy!), cone(tx!, ty!)];
  const scale = [to[0] / from[0], 0, 0, 0, to[1] / from[1], 0, 0, 0, to[2] / from[2]];
  return product(inverse(BRADFORD), product(scale, BRADFORD));
}

/**
 * What a PNG says of its pixels in its own words (PNG 3rd edition, 11.3.2): `cICP` goes before a profile, that before `sRGB`, and
 * `gAMA` with `cHRM` come last.
 *
 * @returns null when it says nothing, or names a space that is none of a screen's; the note says so
 */
function pngSpace(bytes: Uint8Array, hasProfile: boolean): { space: PixelSpace; note?: string } | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const chunks = new Map<string, number>();
  for (let at = 8; at + 12 <= bytes.length; at += 12 + view.getUint32(at)) {
    const name = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (name === 'IDAT') break;
    chunks.set(name, at + 8);
  }
  const codes = chunks.get('cICP');
  if (codes !== undefined) {
    const [primaries = 0, transfer = 0, matrix, full] = bytes.subarray(codes, codes + 4);
    const [own, light] = [PRIMARIES[primaries], TRANSFER[transfer]];
    if (own && light && matrix === 0 && full === 1)
      return { space: spaceFrom(PRIMARIES_NAMES[primaries]!, own, light) };
    return {
      space: SRGB,
      note: `Its pixels are for another kind of screen (cICP ${[...bytes.subarray(codes, codes + 4)].join(', ')}), which Papillon does not convert; they are read as sRGB.`,
    };
  }
  if (hasProfile || chunks.has('sRGB')) return null;
  const [gamma, chroma] = [chunks.get('gAMA'), chunks.get('cHRM')];
  const exponent = gamma === undefined ? 0 : view.getUint32(gamma) / 100_000;
  if (gamma === undefined && chroma === undefined) return null;
  const primaries =
    chroma === undefined
      ? PRIMARIES[1]!
      : Array.from({ length: 8 }, (_, i) => view.getUint32(chroma + 4 * i) / 100_000);
  // with the primaries of sRGB, 1/2.2 is what sRGB calls itself here (PNG 3rd edition, 11.3.2.5)
  const isSrgb =
    exponent === 0 ||
    (Math.abs(exponent - 0.45455) < 0.0005 &&
      primaries.every((v, i) => Math.abs(v - PRIMARIES[1]![i]!) < 0.002));
  return {
    space: spaceFrom(
      'its own primaries and gamma',
      primaries,
      isSrgb ? srgbToLinear : (v) => v ** (1 / exponent),
    ),
  };
}

/** What images in boxes say of their pixels by number: `colr` of type `nclx` (ISO/IEC 14496-12, 12.1.5); null for sRGB and Rec. 709. */
function boxedSpace(bytes: Uint8Array): { space: PixelSpace; note?: string } | null {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 1 << 16));
  const at = head.indexOf('colrnclx');
  if (at < 0) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [primaries, transfer] = [view.getUint16(at + 8), view.getUint16(at + 10)];
  // 2 is “not said”, and what is made for Rec. 709 is shown as sRGB (common practice, no source)
  const usual = [1, 2].includes(primaries) && [1, 2, 6, 13].includes(transfer);
  if (usual) return null;
  const own = PRIMARIES[primaries === 2 ? 1 : primaries];
  const light = TRANSFER[transfer === 2 || transfer === 1 || transfer === 6 ? 13 : transfer];
  if (own && light) return { space: spaceFrom(PRIMARIES_NAMES[primaries]!, own, light) };
  return {
    space: SRGB,
    note: `Its pixels are for another kind of screen (nclx ${primaries}, ${transfer}), which Papillon does not convert; they are read as sRGB.`,
  };
}

/**
 * The ICC profile inside a picture file; null when there is none. Sources: PNG (ISO/IEC 15948) iCCP, JPEG APP2 as ICC.1
 * annex B says, WebP container ICCP, ISO/IEC 14496-12 `colr` of type `prof` or `rICC` (AVIF, HEIC), resource 1039 (PSD), TIFF tag 34675 (ICC.1 annex B).
 */
export function embeddedProfile(bytes: Uint8Array, type: string | null): Uint8Array | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const ascii = (at: number, n: number) => String.fromCharCode(...bytes.subarray(at, at + n));
  try {
    if (type === 'PNG') {
      for (let at = 8; at + 12 <= bytes.length; at += 12 + view.getUint32(at)) {
        const name = ascii(at + 4, 4);
        if (name === 'IDAT') return null;
        if (name !== 'iCCP') continue;
        const chunk = bytes.subarray(at + 8, at + 8 + view.getUint32(at));
        // a name, its end, and one byte for the method come before the compressed profile
        return inflateUpTo(chunk.subarray(chunk.indexOf(0) + 2), MAX_PROFILE_BYTES);
      }
    }
    if (type === 'JPEG') {
      const parts: Uint8Array[] = [];
      for (const { marker, at, length } of segmentsOf(bytes))
        if (marker === 0xe2 && length > 14 && ascii(at, 11) === 'ICC_PROFILE')
          parts[bytes[at + 12]] = bytes.subarray(at + 14, at + length);
      const found = parts.filter(Boolean);
      if (found.length === 0) return null;
      return joined(found);
    }
    if (type === 'WebP') {
      for (let at = 12; at + 8 <= bytes.length; ) {
        const length = view.getUint32(at + 4, true);
        if (ascii(at, 4) === 'ICCP') return bytes.subarray(at + 8, at + 8 + length);
        at += 8 + length + (length & 1);
      }
    }
    if (type === 'PSD') return profileOfPsd(bytes);
    if (type === 'AVIF' || type === 'HEIC') {
      // the box lies in the first kilobytes, inside boxes that need not be understood to find it
      const head = new TextDecoder('latin1').decode(bytes.subarray(0, 1 << 16));
      const at = head.search(/colr(prof|rICC)/);
      if (at >= 4) return bytes.subarray(at + 8, at - 4 + view.getUint32(at - 4));
    }
    // BITMAPV5HEADER: the last fields are the profile’s place, from the header on, and its length
    if (type === 'BMP' && view.getUint32(14, true) === 124 && ascii(14 + 56, 4) === 'DEBM') {
      const from = 14 + view.getUint32(14 + 112, true);
      return bytes.subarray(from, from + view.getUint32(14 + 116, true));
    }
    if (type === 'TIFF') {
      return new Directory(bytes).data(ICC_PROFILE) ?? null;
    }
  } catch {
    // a damaged container: what the decoder makes of it will tell
  }
  return null;
}

/**
 * What the pixels of a picture file mean, by the profile inside it.
 *
 * @returns `space` null when the profile is of another device (CMYK) or of tables, so that a colour engine has to convert;
 * `note` tells when there is a profile that cannot be read, and the pixels are taken as sRGB
 */
export function spaceOf(bytes: Uint8Array, type: string | null): { space: PixelSpace | null; note?: string } {
  const icc = embeddedProfile(bytes, type);
  try {
    const said =
      type === 'PNG'
        ? pngSpace(bytes, icc !== null)
        : !icc && (type === 'HEIC' || type === 'AVIF')
          ? boxedSpace(bytes)
          : null;
    if (said) return said;
    if (!icc) return { space: SRGB };
    return { space: pixelSpaceOf(icc) };
  } catch (error) {
    if (!(error instanceof ProfileError)) throw error;
    return {
      space: SRGB,
      note: `The colour profile inside is damaged (${error.message}); the picture is read as sRGB.`,
    };
  }
}

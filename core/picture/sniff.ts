import { frameOf } from './jpeg.ts';
import { sizeOfJxl } from './jxl.ts';

/** A JPEG XL without a container (ISO/IEC 18181-1). */
const NAKED_JXL = '\xff\x0a';

/** How the supported picture formats begin. */
const signatures: [type: string, at: number, bytes: string][] = [
  ['PNG', 0, '\x89PNG\r\n\x1a\n'],
  ['JPEG', 0, '\xff\xd8\xff'],
  ['GIF', 0, 'GIF8'],
  ['WebP', 8, 'WEBP'],
  ['BMP', 0, 'BM'],
  ['QOI', 0, 'qoif'],
  ['TIFF', 0, 'II*\0'],
  ['TIFF', 0, 'MM\0*'],
  ['PSD', 0, '8BPS\0\x01\0\0\0\0\0\0'],
  ['PSD', 0, '8BPS\0\x02\0\0\0\0\0\0'],
  ['JPEG XL', 0, NAKED_JXL],
  ['JPEG XL', 0, '\0\0\0\x0cJXL \r\n\x87\n'],
];

/** What a file of images in boxes says it follows (ISO/IEC 23008-12 annex B, and AV1 Image File Format 6): the coding. */
const BRANDS: [type: string, brands: string[]][] = [
  ['AVIF', ['avif', 'avis']],
  ['HEIC', ['heic', 'heix', 'heim', 'heis', 'hevc', 'hevx', 'hevm', 'hevs']],
];

/** The coding of images in boxes; null when the bytes are none, or of another coding. */
function codingOf(text: string): string | null {
  if (!text.startsWith('ftyp', 4)) return null;
  const size = text.charCodeAt(2) * 256 + text.charCodeAt(3);
  // the main brand comes first, and the version after it
  const all = [text.slice(8, 12)];
  for (let at = 16; at + 4 <= Math.min(size, text.length); at += 4) all.push(text.slice(at, at + 4));
  for (const brand of all) {
    const found = BRANDS.find(([, brands]) => brands.includes(brand));
    if (found) return found[0];
  }
  return null;
}

/** The picture formats as systems and the web know them (IANA media types). */
export const PICTURE_TYPES: { mime: string; endings: string[] }[] = [
  { mime: 'image/png', endings: ['png'] },
  { mime: 'image/jpeg', endings: ['jpg', 'jpeg'] },
  { mime: 'image/gif', endings: ['gif'] },
  { mime: 'image/webp', endings: ['webp'] },
  { mime: 'image/bmp', endings: ['bmp'] },
  { mime: 'image/tiff', endings: ['tif', 'tiff'] },
  { mime: 'image/avif', endings: ['avif'] },
  { mime: 'image/qoi', endings: ['qoi'] },
  { mime: 'image/heic', endings: ['heic', 'heif'] },
  { mime: 'image/jxl', endings: ['jxl'] },
  { mime: 'image/x-psd', endings: ['psd', 'psb'] },
];

/** Colour tables without a mark at their beginning have these sizes; what begins like a picture by two bytes is one of them. */
const TABLE_BYTES = [768, 772];

/**
 * The picture format by the first bytes, whatever the file is called; null when it is none.
 *
 * @param size of the whole file, bytes
 */
export function pictureType(head: Uint8Array, size = head.length): string | null {
  const text = String.fromCharCode(...head.subarray(0, 128));
  const found = signatures.find(([, at, bytes]) => text.startsWith(bytes, at));
  // “BM” could begin a text; a bitmap goes on with its size and four zero bytes
  if (found?.[0] === 'BMP' && (head.length < 14 || head[6] || head[7] || head[8] || head[9])) return null;
  if (found?.[2] === NAKED_JXL && TABLE_BYTES.includes(size)) return null;
  return found?.[0] ?? codingOf(text);
}

/**
 * The size that a picture's header tells; null when it cannot be told from it, as of TIFF. Sources: PNG (ISO/IEC 15948),
 * GIF89a, ITU-T T.81, RFC 9649 (WebP), ISO/IEC 23008-12 `ispe` (AVIF, HEIC); BMP: common practice, no source.
 */
export function sizeOf(bytes: Uint8Array, type: string | null): { width: number; height: number } | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const ascii = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  try {
    switch (type) {
      case 'PNG':
        return { width: view.getUint32(16), height: view.getUint32(20) };
      case 'GIF':
        return { width: view.getUint16(6, true), height: view.getUint16(8, true) };
      case 'BMP':
        return { width: Math.abs(view.getInt32(18, true)), height: Math.abs(view.getInt32(22, true)) };
      case 'QOI':
        return { width: view.getUint32(4), height: view.getUint32(8) };
      case 'JPEG':
        return frameOf(bytes);
      case 'WebP':
        if (ascii(12) === 'VP8X')
          return {
            width: 1 + (view.getUint32(24, true) & 0xffffff),
            height: 1 + (view.getUint32(26, true) >>> 8),
          };
        if (ascii(12) === 'VP8L') {
          const packed = view.getUint32(21, true);
          return { width: 1 + (packed & 0x3fff), height: 1 + ((packed >>> 14) & 0x3fff) };
        }
        return { width: view.getUint16(26, true) & 0x3fff, height: view.getUint16(28, true) & 0x3fff };
      case 'PSD':
        return { width: view.getUint32(18), height: view.getUint32(14) };
      case 'JPEG XL':
        return sizeOfJxl(bytes);
      case 'HEIC':
      case 'AVIF': {
        // of a grid, each part has a size of its own, and the whole the largest
        const head = new TextDecoder('latin1').decode(bytes.subarray(0, 1 << 16));
        let size: { width: number; height: number } | null = null;
        for (let at = head.indexOf('ispe'); at >= 0; at = head.indexOf('ispe', at + 4)) {
          const [width, height] = [view.getUint32(at + 8), view.getUint32(at + 12)];
          if (!size || width * height > size.width * size.height) size = { width, height };
        }
        return size;
      }
    }
  } catch {
    // cut short: the decoder will say so
  }
  return null;
}

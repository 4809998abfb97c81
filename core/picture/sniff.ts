import { frameOf } from './jpeg.ts';

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
  ['AVIF', 4, 'ftypavif'],
  ['AVIF', 4, 'ftypavis'],
  ['AVIF', 4, 'ftypmif1'],
];

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
];

/** The picture format by the first bytes, whatever the file is called; null when it is none. */
export function pictureType(head: Uint8Array): string | null {
  const text = String.fromCharCode(...head.subarray(0, 32));
  const found = signatures.find(([, at, bytes]) => text.startsWith(bytes, at));
  // “BM” could begin a text; a bitmap goes on with its size and four zero bytes
  if (found?.[0] === 'BMP' && (head.length < 14 || head[6] || head[7] || head[8] || head[9])) return null;
  return found?.[0] ?? null;
}

/**
 * The size that a picture's header tells; null when it cannot be told from it, as of TIFF. Sources: PNG (ISO/IEC 15948),
 * GIF89a, ITU-T T.81, RFC 9649 (WebP), ISO/IEC 23008-12 `ispe` (AVIF); BMP: common practice, no source.
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

import type { Picture } from './histogram.ts';
import { checkPixels } from './limits.ts';

// BMP as the Windows API describes it (BITMAPFILEHEADER and the headers behind it), and OS/2's from memory. No package was found
// that reads its palettes and 16-bit pixels right to the last value.

const FILE_HEADER_BYTES = 14;
const [RGB, RLE8, RLE4, BIT_FIELDS, ALPHA_BIT_FIELDS] = [0, 1, 2, 3, 6];
const HEADER_BYTES = [12, 16, 40, 52, 56, 64, 108, 124];

interface Layout {
  view: DataView;
  width: number;
  height: number;
  isTopDown: boolean;
  bits: number;
  compression: number;
  /** Where the pixels begin. */
  at: number;
  /** Red, green, blue, one after the other. */
  palette: Uint8Array;
  /** The bits of red, green, blue and opacity in a pixel of 16 or 32. */
  masks: [number, number, number, number];
}

function layoutOf(bytes: Uint8Array): Layout {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const u16 = (at: number) => view.getUint16(FILE_HEADER_BYTES + at, true);
  const u32 = (at: number) => view.getUint32(FILE_HEADER_BYTES + at, true);
  const header = u32(0);
  if (!HEADER_BYTES.includes(header)) throw new Error(`its header has ${header} bytes, as none has`);
  const isOs2 = header === 12;
  const [width, rows] = isOs2
    ? [u16(4), view.getInt16(FILE_HEADER_BYTES + 6, true)]
    : [view.getInt32(FILE_HEADER_BYTES + 4, true), view.getInt32(FILE_HEADER_BYTES + 8, true)];
  const height = Math.abs(rows);
  if (width < 1 || height < 1) throw new Error('it has no size');
  checkPixels(width, height);
  const bits = u16(isOs2 ? 10 : 14);
  const compression = header >= 40 ? u32(16) : RGB;
  const isRun = (compression === RLE8 && bits === 8) || (compression === RLE4 && bits === 4);
  const isMasked =
    (compression === BIT_FIELDS || compression === ALPHA_BIT_FIELDS) && (bits === 16 || bits === 32);
  if (![1, 2, 4, 8, 16, 24, 32].includes(bits) || (compression !== RGB && !isRun && !isMasked))
    throw new Error(`its ${bits} bits (compression ${compression}) are not read`);
  // of a plain header they stand behind it
  const maskBytes = header === 40 && isMasked ? (compression === ALPHA_BIT_FIELDS ? 16 : 12) : 0;
  const masks: Layout['masks'] = isMasked
    ? [u32(40), u32(44), u32(48), header >= 56 || maskBytes === 16 ? u32(52) : 0]
    : bits === 16
      ? [0x7c00, 0x03e0, 0x001f, 0]
      : [0xff0000, 0xff00, 0xff, 0];
  const at = view.getUint32(10, true);
  const from = FILE_HEADER_BYTES + header + maskBytes;
  const entry = isOs2 ? 3 : 4;
  const used = header >= 40 ? u32(32) : 0;
  const room = Math.floor((Math.min(at || bytes.length, bytes.length) - from) / entry);
  const count = bits > 8 ? 0 : Math.max(0, Math.min(used || 2 ** bits, 2 ** bits, room));
  const palette = Uint8Array.from(
    { length: 3 * count },
    (_, i) => bytes[from + Math.floor(i / 3) * entry + 2 - (i % 3)]!,
  );
  return {
    view,
    width,
    height,
    isTopDown: rows < 0,
    bits,
    compression,
    at: at || from + entry * count,
    palette,
    masks,
  };
}

/** Reads a field of a pixel as 0–255. */
function fieldOf(mask: number): (value: number) => number {
  if (mask === 0) return () => 0;
  const shift = 31 - Math.clz32(mask & -mask);
  const most = mask >>> shift;
  return (value) => Math.round((255 * ((value & mask) >>> shift)) / most);
}

/**
 * Decodes a BMP, of any depth, with a palette, with run lengths, or with masks.
 *
 * @throws PictureRefusedError for one that is too large; Error when it is damaged or of a kind that is not read
 */
export function readBmp(bytes: Uint8Array): Picture {
  const layout = layoutOf(bytes);
  const { view, width, height, isTopDown, bits, compression, at, palette, masks } = layout;
  const data = new Uint8ClampedArray(4 * width * height);
  const placeOf = (x: number, y: number) => 4 * ((isTopDown ? y : height - 1 - y) * width + x);
  const putIndex = (x: number, y: number, index: number) => {
    const place = placeOf(x, y);
    for (let c = 0; c < 3; c++) data[place + c] = palette[3 * index + c] ?? 0;
    data[place + 3] = 255;
  };
  if (compression === RLE8 || compression === RLE4) {
    readRuns(bytes.subarray(at), layout, putIndex);
    return { width, height, data };
  }
  const rowBytes = 4 * Math.ceil((width * bits) / 32);
  // the last row need not be filled up
  if (at + rowBytes * (height - 1) + Math.ceil((width * bits) / 8) > bytes.length)
    throw new Error('its pixels are not all there');
  const fields = masks.map(fieldOf);
  let isSeen = masks[3] === 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const row = at + y * rowBytes;
      if (bits <= 8) {
        const bit = x * bits;
        putIndex(x, y, (bytes[row + (bit >> 3)]! >> (8 - bits - (bit & 7))) & (2 ** bits - 1));
        continue;
      }
      const place = placeOf(x, y);
      if (bits === 24) {
        for (let c = 0; c < 3; c++) data[place + c] = bytes[row + 3 * x + 2 - c]!;
        data[place + 3] = 255;
        continue;
      }
      const value = bits === 16 ? view.getUint16(row + 2 * x, true) : view.getUint32(row + 4 * x, true);
      for (let c = 0; c < 3; c++) data[place + c] = fields[c]!(value);
      const alpha = masks[3] === 0 ? 255 : fields[3]!(value);
      data[place + 3] = alpha;
      isSeen ||= alpha > 0;
    }
  // a program that states an opacity and fills in none means an opaque picture, as browsers have it
  if (!isSeen) for (let i = 3; i < data.length; i += 4) data[i] = 255;
  return { width, height, data };
}

/** Run lengths; what they pass over stays transparent, as in browsers. */
function readRuns(
  bytes: Uint8Array,
  { width, height, bits }: Layout,
  put: (x: number, y: number, index: number) => void,
): void {
  const index = (from: number, i: number) =>
    bits === 8 ? bytes[from + i]! : (bytes[from + (i >> 1)]! >> (i & 1 ? 0 : 4)) & 15;
  let [x, y] = [0, 0];
  for (let at = 0; at + 1 < bytes.length && y < height; ) {
    const [count, value] = [bytes[at]!, bytes[at + 1]!];
    at += 2;
    if (count > 0) {
      for (let i = 0; i < count && x < width; i++, x++)
        put(x, y, bits === 8 ? value : (value >> (i & 1 ? 0 : 4)) & 15);
      continue;
    }
    if (value === 0) [x, y] = [0, y + 1];
    else if (value === 1) return;
    else if (value === 2) {
      if (at + 1 >= bytes.length) break;
      [x, y] = [x + bytes[at]!, y + bytes[at + 1]!];
      at += 2;
    } else {
      const length = Math.ceil((value * bits) / 8);
      if (at + length > bytes.length) break;
      for (let i = 0; i < value && x < width; i++, x++) put(x, y, index(at, i));
      // a stretch ends on an even byte
      at += length + (length & 1);
    }
  }
  if (y < height - 1) throw new Error('its pixels are not all there');
}

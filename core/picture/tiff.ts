import { addDecoder, BaseDecoder, fromArrayBuffer, getDecoder, type Pool } from 'geotiff';
import { inflateUpTo } from '../inflate.ts';
import { Directory } from './ifd.ts';
import { frameOf } from './jpeg.ts';
import { checkPixels } from './limits.ts';

// TIFF 6.0: numbers of tags, and of what they say.
const TAG = {
  width: 256,
  height: 257,
  bits: 258,
  compression: 259,
  photometric: 262,
  stripOffsets: 273,
  samples: 277,
  rowsPerStrip: 278,
  stripBytes: 279,
  planar: 284,
  colorMap: 320,
  tileWidth: 322,
  tileHeight: 323,
  tileOffsets: 324,
  tileBytes: 325,
  extraSamples: 338,
  sampleFormat: 339,
} as const;
const [PLAIN, LZW, JPEG_INSIDE, DEFLATE, OLD_DEFLATE, PACK_BITS] = [1, 5, 7, 8, 32946, 32773];
export const [WHITE_IS_ZERO, BLACK_IS_ZERO, RGB, PALETTE, SEPARATED, YCBCR] = [0, 1, 2, 3, 5, 6];
const SEPARATE_PLANES = 2;
const [UNSIGNED, FLOAT, UNSAID] = [1, 3, 4];
const MAX_SAMPLES = 8;

/** What one byte can become at most: of LZW a string of all 4096 codes, of deflate (RFC 1951) 258 bytes of two bits. */
const MAX_GROWTH_RATIO: Record<number, number> = {
  [PLAIN]: 1,
  [LZW]: 2731,
  [JPEG_INSIDE]: 512,
  [DEFLATE]: 1032,
  [OLD_DEFLATE]: 1032,
  [PACK_BITS]: 64,
};

/** The samples of a TIFF's first picture, side by side for each pixel, as they are in the file. */
export interface Samples {
  directory: Directory;
  width: number;
  height: number;
  /** In a pixel. */
  samples: number;
  /** In a sample; the values fill them. */
  bits: number;
  photometric: number;
  /** Whether the samples are light, 0–1, as floating-point numbers; else they are whole numbers. */
  float: boolean;
  data: ArrayLike<number>;
}

/**
 * Reads a TIFF's first picture. What the file says of itself is checked before anything is set aside for it, and a block
 * never becomes larger than it can be, so that a small file takes little time and memory.
 *
 * @throws PictureRefusedError for one that is too large; Error when it is damaged or of a kind that is not read
 */
export async function readTiff(bytes: Uint8Array<ArrayBuffer>): Promise<Samples> {
  const directory = new Directory(bytes);
  const layout = checkedLayout(directory);
  boundDecoders();
  const buffer = bytes.slice().buffer;
  // no second directory is looked for
  const image = await (await fromArrayBuffer(buffer)).getImage(0);
  /** What is wrong with a block of it. */
  let wrong: unknown = null;
  // the library leaves blocks that fail while it is still looking for others to nobody: none of them may fail
  const pool = {
    bindParameters: (compression: number, parameters: object) => {
      // made where it is waited for: of damaged tables it cannot be made
      let decoder: ReturnType<typeof getDecoder> | null = null;
      return {
        async decode(block: ArrayBuffer): Promise<ArrayBufferLike> {
          try {
            decoder ??= getDecoder(compression, parameters as never);
            return await (await decoder).decode(block);
          } catch (error) {
            wrong ??= error;
            return new ArrayBuffer(
              (image.getTileWidth() + 8) * image.getTileHeight() * image.getBytesPerPixel() + 8,
            );
          }
        },
      };
    },
  };
  const data = await image.readRasters({ interleave: true, pool: pool as unknown as Pool });
  if (wrong !== null) throw wrong;
  return { directory, ...layout, data: data as ArrayLike<number> };
}

function checkedLayout(directory: Directory): Omit<Samples, 'directory' | 'data'> {
  const one = (tag: number, otherwise: number) => directory.number(tag) ?? otherwise;
  const [width, height] = [one(TAG.width, 0), one(TAG.height, 0)];
  if (width === 0 || height === 0) throw new Error('it has no size');
  checkPixels(width, height);
  const samples = one(TAG.samples, 1);
  const depths = directory.numbers(TAG.bits) ?? [1];
  const [bits] = depths;
  const photometric = one(TAG.photometric, BLACK_IS_ZERO);
  if (samples < 1 || samples > MAX_SAMPLES) throw new Error(`it has ${samples} samples in a pixel`);
  if (![1, 2, 4, 8, 16, 32].includes(bits) || depths.some((b) => b !== bits))
    throw new Error(`its samples have ${depths.slice(0, MAX_SAMPLES).join(', ')} bits`);
  const format = one(TAG.sampleFormat, UNSIGNED);
  if (![UNSIGNED, FLOAT, UNSAID].includes(format) || (format === FLOAT && bits < 16))
    throw new Error(`its samples are numbers of a kind (${format}) that is not read`);
  const compression = one(TAG.compression, PLAIN);
  const growth = MAX_GROWTH_RATIO[compression];
  if (!growth) throw new Error(`its compression (${compression}) is not read`);

  const tiled = directory.has(TAG.tileOffsets);
  const blockWidth = tiled ? one(TAG.tileWidth, 0) : width;
  const blockHeight = tiled ? one(TAG.tileHeight, 0) : Math.min(height, one(TAG.rowsPerStrip, height));
  // a tile may reach over the edge, but not by more than itself
  if (blockWidth < 1 || blockHeight < 1 || blockWidth * blockHeight > 4 * width * height + (1 << 20))
    throw new Error('its blocks have no possible size');
  const planes = one(TAG.planar, 1) === SEPARATE_PLANES ? samples : 1;
  const blocks = planes * Math.ceil(width / blockWidth) * Math.ceil(height / blockHeight);
  const offsets = directory.numbers(tiled ? TAG.tileOffsets : TAG.stripOffsets) ?? [];
  const lengths = directory.numbers(tiled ? TAG.tileBytes : TAG.stripBytes) ?? [];
  if (offsets.length < blocks || lengths.length < blocks) throw new Error('blocks of it are missing');
  let packed = 0;
  for (let i = 0; i < blocks; i++) {
    if (offsets[i] + lengths[i] > directory.bytes.length) throw new Error('it is cut short');
    packed += lengths[i];
    if (compression !== JPEG_INSIDE) continue;
    const frame = frameOf(directory.bytes.subarray(offsets[i], offsets[i] + lengths[i]));
    if (frame && (frame.width > blockWidth + 16 || frame.height > blockHeight + 16))
      throw new Error('a JPEG inside is larger than its place');
  }
  if (packed * growth < ((width * height * samples * bits) / 8) * 0.5)
    throw new Error('its pixels are not all there');
  return { width, height, samples, bits, photometric, float: format === FLOAT };
}

type Tag =
  | 'TileWidth'
  | 'TileLength'
  | 'ImageWidth'
  | 'ImageLength'
  | 'RowsPerStrip'
  | 'PlanarConfiguration'
  | 'SamplesPerPixel'
  | 'Predictor';

interface Parameters {
  /** Bytes that a block has when it is unpacked. */
  blockBytes: number;
}

let bounded = false;
/** Puts decoders that stop where a block is full in the place of the library's, which would go on. */
function boundDecoders(): void {
  if (bounded) return;
  bounded = true;
  for (const [compressions, unpack] of [
    [[LZW], unpackLzw],
    [[DEFLATE, OLD_DEFLATE], (data: Uint8Array, most: number) => inflateUpTo(data, most, 'cut')],
    [[PACK_BITS], unpackBits],
  ] as const) {
    class Bounded extends BaseDecoder {
      override decodeBlock(block: ArrayBuffer): ArrayBuffer {
        const { blockBytes } = this.parameters as unknown as Parameters;
        const whole = new Uint8Array(blockBytes);
        whole.set(unpack(new Uint8Array(block), blockBytes));
        return whole.buffer;
      }
    }
    addDecoder(
      [...compressions],
      async () => Bounded,
      async (file) => {
        const value = async (tag: Tag) => Number((await file.loadValue(tag)) ?? 0);
        const tiled = !file.hasTag('StripOffsets');
        const tileWidth = await value(tiled ? 'TileWidth' : 'ImageWidth');
        const length = await value('ImageLength');
        const tileHeight = tiled
          ? await value('TileLength')
          : Math.min(length, (await value('RowsPerStrip')) || length);
        const planarConfiguration = (await value('PlanarConfiguration')) || 1;
        const samples = planarConfiguration === SEPARATE_PLANES ? 1 : (await value('SamplesPerPixel')) || 1;
        const bitsPerSample = await file.loadValue('BitsPerSample');
        const bits = Number((bitsPerSample as ArrayLike<number> | undefined)?.[0] ?? 1);
        const blockBytes = Math.ceil((tileWidth * samples * bits) / 8) * tileHeight;
        const predictor = (await value('Predictor')) || 1;
        return { tileWidth, tileHeight, planarConfiguration, bitsPerSample, predictor, blockBytes } as never;
      },
    );
  }
}
const [CLEAR, END, FIRST_FREE, MAX_CODES] = [256, 257, 258, 4096];

/** LZW as TIFF has it (TIFF 6.0, section 13): codes of 9 to 12 bits, the highest bit first; no more than `most` bytes. */
export function unpackLzw(data: Uint8Array, most: number): Uint8Array {
  const out = new Uint8Array(most);
  // a string is the one before it and a last byte
  const before = new Uint16Array(MAX_CODES);
  const last = new Uint8Array(MAX_CODES);
  const lengths = new Uint16Array(MAX_CODES);
  for (let i = 0; i < CLEAR; i++) [last[i], lengths[i]] = [i, 1];
  let at = 0;
  let free = FIRST_FREE;
  let width = 9;
  let previous = -1;
  let buffered = 0;
  let bits = 0;
  /** Writes the string of a code, what does not fit left out, and gives its first byte. */
  const write = (code: number): number => {
    const length = lengths[code];
    let c = code;
    for (let i = length - 1; i > 0; i--) {
      if (at + i < most) out[at + i] = last[c];
      c = before[c];
    }
    if (at < most) out[at] = last[c];
    at += length;
    return last[c];
  };
  for (let i = 0; i < data.length && at < most; ) {
    while (bits < width && i < data.length) {
      buffered = ((buffered << 8) | data[i++]) & 0xffffff;
      bits += 8;
    }
    if (bits < width) break;
    bits -= width;
    const code = (buffered >> bits) & ((1 << width) - 1);
    if (code === END) break;
    if (code === CLEAR) {
      [free, width, previous] = [FIRST_FREE, 9, -1];
      continue;
    }
    if (code > free || (code === free && previous < 0)) throw new Error('its LZW codes are damaged');
    if (previous >= 0 && free < MAX_CODES) {
      before[free] = previous;
      lengths[free] = lengths[previous] + 1;
      // of a code that is only being made, the first byte is that of the string before it
      if (code === free) {
        let c = previous;
        while (lengths[c] > 1) c = before[c];
        last[free] = last[c];
      }
    }
    const first = write(code);
    if (previous >= 0 && free < MAX_CODES) {
      last[free++] = first;
      // one code earlier than it would have to be
      if (free + 1 >= 1 << width && width < 12) width++;
    }
    previous = code;
  }
  return out.subarray(0, Math.min(at, most));
}

/** PackBits (TIFF 6.0, section 9); no more than `most` bytes. */
export function unpackBits(data: Uint8Array, most: number): Uint8Array {
  const out = new Uint8Array(most);
  let at = 0;
  for (let i = 0; i < data.length && at < most; ) {
    const n = (data[i++] << 24) >> 24;
    if (n >= 0) {
      const part = data.subarray(i, i + Math.min(n + 1, most - at));
      out.set(part, at);
      at += part.length;
      i += n + 1;
    } else if (n > -128) {
      const end = Math.min(most, at + 1 - n);
      out.fill(data[i++] ?? 0, at, end);
      at = end;
    }
  }
  return out.subarray(0, at);
}

/** The colour map of a palette picture, as 8-bit RGB by index. */
export function colorMapOf({ directory, bits }: Samples): Uint8Array {
  const map = directory.numbers(TAG.colorMap);
  const count = 2 ** bits;
  if (!map || bits > 8 || map.length < 3 * count) throw new Error('its colour map is missing');
  return Uint8Array.from({ length: 3 * count }, (_, i) => map[(i % 3) * count + Math.floor(i / 3)] >> 8);
}

/** Whether the first sample beyond the colour is how opaque a pixel is, and has been multiplied into the colour. */
export function alphaOf({ directory }: Samples): 'none' | 'plain' | 'multiplied' {
  const [extra] = directory.numbers(TAG.extraSamples) ?? [];
  return extra === 1 ? 'multiplied' : extra === 2 ? 'plain' : 'none';
}

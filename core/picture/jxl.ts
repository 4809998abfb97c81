import { checkPixels } from './limits.ts';

/** The fixed relations of width to height (ISO/IEC 18181-1, SizeHeader). */
const RATIOS = [1, 1, 12 / 10, 4 / 3, 3 / 2, 16 / 9, 5 / 4, 2];
const MAX_BOXES = 1000;

/** Where the codestream begins: at once, or in a box of a container (ISO/IEC 18181-2). */
function codestreamAt(bytes: Uint8Array): number {
  if (bytes[0] === 0xff && bytes[1] === 0x0a) return 0;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 0, n = 0; at + 8 <= bytes.length && n < MAX_BOXES; n++) {
    const size = view.getUint32(at);
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    const head = size === 1 ? 16 : 8;
    if (type === 'jxlc') return at + head;
    // of parts, each has a number first
    if (type === 'jxlp') return at + head + 4;
    if (size === 0) break;
    at += size === 1 ? Number(view.getBigUint64(at + 8)) : Math.max(size, 8);
  }
  return -1;
}

/** The size that a JPEG XL says it has; null when that cannot be told. Bits count from the lowest on. */
export function sizeOfJxl(bytes: Uint8Array): { width: number; height: number } | null {
  let bit = 8 * (codestreamAt(bytes) + 2);
  if (bit < 16) return null;
  const read = (n: number) => {
    let value = 0;
    for (let i = 0; i < n; i++, bit++) value += (((bytes[bit >> 3] ?? 0) >> (bit & 7)) & 1) * 2 ** i;
    return value;
  };
  const small = read(1) === 1;
  const side = () => (small ? 8 * (read(5) + 1) : read([9, 13, 18, 30][read(2)]!) + 1);
  const height = side();
  const ratio = read(3);
  return { width: ratio === 0 ? side() : Math.floor(height * RATIOS[ratio]!), height };
}

type Decoder = Awaited<ReturnType<typeof import('@jsquash/jxl/codec/dec/jxl_dec.js')['default']>>;
let loading: Promise<Decoder> | null = null;

/** The decoder; it is loaded with the first picture. @param wasm gives its WebAssembly */
function load(wasm: () => Promise<ArrayBuffer>): Promise<Decoder> {
  loading ??= (async () => {
    const [{ default: open }, wasmBinary] = await Promise.all([
      import('@jsquash/jxl/codec/dec/jxl_dec.js'),
      wasm(),
    ]);
    return open({ wasmBinary, noInitialRun: true });
  })();
  loading.catch(() => {
    loading = null;
  });
  return loading;
}

/**
 * Decodes a JPEG XL to 8 bits a channel. The decoder brings whatever space it is in to sRGB.
 *
 * @throws PictureRefusedError for one that is too large; Error when it is damaged
 */
export async function readJxl(bytes: Uint8Array, wasm: () => Promise<ArrayBuffer>) {
  const size = sizeOfJxl(bytes);
  if (!size) throw new Error('it has no picture in it');
  checkPixels(size.width, size.height);
  const { decode } = await load(wasm);
  const picture = decode(bytes);
  if (!picture) throw new Error('its pixels are damaged');
  const { width, height, data } = picture;
  return { width, height, data };
}

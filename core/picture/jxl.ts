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

/** Reads the fields of a JPEG XL's header. Bits count from the lowest on (ISO/IEC 18181-1, B). */
class Header {
  private bit: number;
  readonly size: { width: number; height: number };

  constructor(
    private readonly bytes: Uint8Array,
    codestream: number,
  ) {
    this.bit = 8 * (codestream + 2);
    this.size = this.readSize();
  }

  private read(bits: number): number {
    let value = 0;
    for (let i = 0; i < bits; i++, this.bit++)
      value += (((this.bytes[this.bit >> 3] ?? 0) >> (this.bit & 7)) & 1) * 2 ** i;
    return value;
  }

  private flag(): boolean {
    return this.read(1) === 1;
  }

  /** One of four: a number of bits, and what is added to them. */
  private choice(...of: [bits: number, plus: number][]): number {
    const [bits, plus] = of[this.read(2)]!;
    return this.read(bits) + plus;
  }

  private readonly enumeration = () => this.choice([0, 0], [0, 1], [4, 2], [6, 18]);

  private readSize(): { width: number; height: number } {
    const small = this.flag();
    const side = () => (small ? 8 * (this.read(5) + 1) : this.choice([9, 1], [13, 1], [18, 1], [30, 1]));
    const height = side();
    const ratio = this.read(3);
    return { width: ratio === 0 ? side() : Math.floor(height * RATIOS[ratio]!), height };
  }

  private skipDepth(): void {
    const isFloat = this.flag();
    if (isFloat) this.choice([0, 32], [0, 16], [0, 24], [6, 1]);
    else this.choice([0, 8], [0, 10], [0, 12], [6, 1]);
    if (isFloat) this.read(4);
  }

  /** Whether its colours are known to lie within sRGB: by its primaries, and no brighter than white. */
  isInSrgb(): boolean {
    if (this.flag()) return true;
    if (this.flag()) {
      this.read(3);
      // a size to show it at, a preview, an animation
      if (this.flag()) this.readSize();
      if (this.flag() || this.flag()) return false;
    }
    this.skipDepth();
    this.flag();
    for (let extra = this.choice([0, 0], [0, 1], [4, 2], [12, 1]); extra > 0; extra--)
      // anything but a plain transparency
      if (!this.flag()) return false;
    this.flag();
    if (this.flag()) return true;
    // a profile of its own
    if (this.flag()) return false;
    const [gray, d65, srgb, pq] = [1, 1, 1, 16];
    const isGray = this.enumeration() === gray;
    if (this.enumeration() !== d65 || (!isGray && this.enumeration() !== srgb)) return false;
    const hasGamma = this.flag();
    return hasGamma || this.enumeration() < pq;
  }
}

/** The size that a JPEG XL says it has; null when that cannot be told. */
export function sizeOfJxl(bytes: Uint8Array): { width: number; height: number } | null {
  const at = codestreamAt(bytes);
  return at < 0 ? null : new Header(bytes, at).size;
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

const CLIPPED =
  'This JPEG XL is not in sRGB. It was converted to sRGB; colours outside of it were clipped to its edge.';

/**
 * Decodes a JPEG XL to 8 bits a channel. The decoder brings whatever space it is in to sRGB.
 *
 * @throws PictureRefusedError for one that is too large; Error when it is damaged
 */
export async function readJxl(bytes: Uint8Array, wasm: () => Promise<ArrayBuffer>) {
  const at = codestreamAt(bytes);
  if (at < 0) throw new Error('it has no picture in it');
  const header = new Header(bytes, at);
  checkPixels(header.size.width, header.size.height);
  const { decode } = await load(wasm);
  const picture = decode(bytes);
  if (!picture) throw new Error('its pixels are damaged');
  const { width, height, data } = picture;
  return { width, height, data, ...(header.isInSrgb() ? {} : { note: CLIPPED }) };
}

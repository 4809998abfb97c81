/** Sizes of the types of TIFF 6.0, section 2, by their number. */
const SIZES = [0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8];
const [BYTE, SHORT, LONG] = [1, 3, 4];
/** More entries than any directory has that means something. */
const MAX_ENTRIES = 1000;

/** An entry of a TIFF directory: where its values lie. */
interface Entry {
  type: number;
  count: number;
  at: number;
}

/**
 * The first directory of a TIFF, or of the Exif data in a picture, which are built as one (TIFF 6.0, section 2). Only that
 * one is looked at, and no entry beyond the end of the data, so that no file leads it in a circle.
 */
export class Directory {
  private readonly entries = new Map<number, Entry>();
  private readonly view: DataView;
  readonly little: boolean;

  /** @throws Error when there is none */
  constructor(readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const order = String.fromCharCode(bytes[0], bytes[1]);
    if (bytes.length < 8 || (order !== 'II' && order !== 'MM')) throw new Error('no TIFF header');
    this.little = order === 'II';
    const start = this.view.getUint32(4, this.little);
    if (start + 2 > bytes.length) throw new Error('its directory is beyond its end');
    const count = Math.min(MAX_ENTRIES, this.view.getUint16(start, this.little));
    for (let i = 0; i < count; i++) {
      const at = start + 2 + 12 * i;
      if (at + 12 > bytes.length) break;
      const type = this.view.getUint16(at + 2, this.little);
      const values = this.view.getUint32(at + 4, this.little);
      const length = (SIZES[type] ?? 0) * values;
      const where = length <= 4 ? at + 8 : this.view.getUint32(at + 8, this.little);
      if (length === 0 || where + length > bytes.length) continue;
      this.entries.set(this.view.getUint16(at, this.little), { type, count: values, at: where });
    }
  }

  has(tag: number): boolean {
    return this.entries.has(tag);
  }

  /** The whole numbers of an entry; undefined when it is not there or of another type. */
  numbers(tag: number): number[] | undefined {
    const entry = this.entries.get(tag);
    if (!entry || ![BYTE, SHORT, LONG].includes(entry.type)) return undefined;
    const { type, count, at } = entry;
    return Array.from({ length: count }, (_, i) =>
      type === BYTE
        ? this.view.getUint8(at + i)
        : type === SHORT
          ? this.view.getUint16(at + 2 * i, this.little)
          : this.view.getUint32(at + 4 * i, this.little),
    );
  }

  number(tag: number): number | undefined {
    return this.numbers(tag)?.[0];
  }

  /** The bytes of an entry, as they lie in the file. */
  data(tag: number): Uint8Array | undefined {
    const entry = this.entries.get(tag);
    return entry && this.bytes.subarray(entry.at, entry.at + SIZES[entry.type] * entry.count);
  }
}

/** Orientation, TIFF 6.0, section 8. */
export const ORIENTATION = 274;
/** ICC.1, annex B. */
export const ICC_PROFILE = 34675;

import { FormatError } from './error.ts';
import { plural } from './text.ts';

/** What is being read, for messages; a function where finding the words would take longer than reading. */
export type Place = string | (() => string);
export const placeText = (place: Place): string => (typeof place === 'string' ? place : place());

/** Reads values in order, big-endian unless told otherwise; running past the end is a {@link FormatError} that names the place. */
export class ByteReader {
  private readonly view: DataView;
  private end: number;

  /** @param at where to begin, and `end` where the part ends that may be read; by default all of it */
  constructor(
    readonly bytes: Uint8Array,
    private readonly little = false,
    public at = 0,
    end = bytes.length,
    view?: DataView,
  ) {
    this.end = end;
    this.view = view ?? new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  get left(): number {
    return this.end - this.at;
  }

  private step(size: number, inside: Place): number {
    const from = this.at;
    if (size > this.end - from)
      throw new FormatError(
        `it is cut short: it ends at byte ${this.end}, inside ${placeText(inside)}, where ${plural(size - this.left, 'more byte')} should follow. Get the file again from where it was made.`,
      );
    this.at = from + size;
    return from;
  }

  u8(inside: Place): number {
    return this.view.getUint8(this.step(1, inside));
  }

  u16(inside: Place): number {
    return this.view.getUint16(this.step(2, inside), this.little);
  }

  i16(inside: Place): number {
    return this.view.getInt16(this.step(2, inside), this.little);
  }

  u32(inside: Place): number {
    return this.view.getUint32(this.step(4, inside), this.little);
  }

  f32(inside: Place): number {
    return this.view.getFloat32(this.step(4, inside), this.little);
  }

  ascii(length: number, inside: Place): string {
    const from = this.step(length, inside);
    let text = '';
    for (let i = from; i < from + length; i++) text += String.fromCharCode(this.bytes[i]!);
    return text;
  }

  /** UTF-16 text of `units` code units; one closing NUL is not part of the text. */
  utf16(units: number, inside: Place): string {
    const from = this.step(units * 2, inside);
    const end = units > 0 && this.view.getUint16(from + 2 * units - 2) === 0 ? units - 1 : units;
    let text = '';
    for (let i = 0; i < end; i++) text += String.fromCharCode(this.view.getUint16(from + 2 * i));
    return text;
  }

  /** A part of the file as a reader of its own. @param again one to use again, where there are many parts */
  part(length: number, inside: Place, again?: ByteReader): ByteReader {
    const from = this.step(length, inside);
    if (again) {
      again.at = from;
      again.end = from + length;
      return again;
    }
    return new ByteReader(this.bytes, this.little, from, from + length, this.view);
  }
}

/** Writes values into a growing buffer, big-endian unless told otherwise. */
export class ByteWriter {
  private buffer = new Uint8Array(1024);
  private view = new DataView(this.buffer.buffer);
  private length = 0;

  constructor(private readonly little = false) {}

  private step(size: number): number {
    const from = this.length;
    this.length += size;
    if (this.length > this.buffer.length) {
      const grown = new Uint8Array(Math.max(this.length, this.buffer.length * 2));
      grown.set(this.buffer);
      this.buffer = grown;
      this.view = new DataView(grown.buffer);
    }
    return from;
  }

  u8(value: number): this {
    const at = this.step(1);
    this.view.setUint8(at, value);
    return this;
  }

  u16(value: number): this {
    const at = this.step(2);
    this.view.setUint16(at, value, this.little);
    return this;
  }

  i16(value: number): this {
    const at = this.step(2);
    this.view.setInt16(at, value, this.little);
    return this;
  }

  u32(value: number): this {
    const at = this.step(4);
    this.view.setUint32(at, value, this.little);
    return this;
  }

  f32(value: number): this {
    const at = this.step(4);
    this.view.setFloat32(at, value, this.little);
    return this;
  }

  ascii(text: string): this {
    for (const c of text) this.u8(c.charCodeAt(0));
    return this;
  }

  /** UTF-16 code units, without a closing NUL. */
  utf16(text: string): this {
    for (let i = 0; i < text.length; i++) this.u16(text.charCodeAt(i));
    return this;
  }

  /** What `write` writes, with its length in 32 bits before it. */
  measured(write: () => void): this {
    const at = this.step(4);
    write();
    this.view.setUint32(at, this.length - at - 4, this.little);
    return this;
  }

  bytes(more: Uint8Array): this {
    const at = this.step(more.length);
    this.buffer.set(more, at);
    return this;
  }

  done(): Uint8Array<ArrayBuffer> {
    return this.buffer.slice(0, this.length);
  }
}

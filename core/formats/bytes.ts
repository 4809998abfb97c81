import { FormatError } from './error.ts';
import { plural } from './text.ts';

/** Reads values in order, big-endian unless told otherwise; running past the end is a {@link FormatError} that names the place. */
export class ByteReader {
  at = 0;
  private readonly view: DataView;

  constructor(
    readonly bytes: Uint8Array,
    private readonly little = false,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  get left(): number {
    return this.bytes.length - this.at;
  }

  private step(size: number, inside: string): number {
    if (size > this.left)
      throw new FormatError(
        `it is cut short: it ends at byte ${this.bytes.length}, inside ${inside}, where ${plural(size - this.left, 'more byte')} should follow. Get the file again from where it was made.`,
      );
    const from = this.at;
    this.at += size;
    return from;
  }

  u8(inside: string): number {
    return this.view.getUint8(this.step(1, inside));
  }

  u16(inside: string): number {
    return this.view.getUint16(this.step(2, inside), this.little);
  }

  i16(inside: string): number {
    return this.view.getInt16(this.step(2, inside), this.little);
  }

  u32(inside: string): number {
    return this.view.getUint32(this.step(4, inside), this.little);
  }

  f32(inside: string): number {
    return this.view.getFloat32(this.step(4, inside), this.little);
  }

  ascii(length: number, inside: string): string {
    const from = this.step(length, inside);
    return String.fromCharCode(...this.bytes.subarray(from, from + length));
  }

  /** UTF-16 text of `units` code units; one closing NUL is not part of the text. */
  utf16(units: number, inside: string): string {
    const from = this.step(units * 2, inside);
    let text = '';
    for (let i = 0; i < units; i++) {
      const unit = this.view.getUint16(from + 2 * i);
      if (unit === 0 && i === units - 1) break;
      text += String.fromCharCode(unit);
    }
    return text;
  }

  /** A part of the file as a reader of its own. */
  part(length: number, inside: string): ByteReader {
    const from = this.step(length, inside);
    return new ByteReader(this.bytes.subarray(from, from + length), this.little);
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

  bytes(more: Uint8Array): this {
    const at = this.step(more.length);
    this.buffer.set(more, at);
    return this;
  }

  done(): Uint8Array<ArrayBuffer> {
    return this.buffer.slice(0, this.length);
  }
}

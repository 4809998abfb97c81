import type * as Pdf from '@cantoo/pdf-lib';
import type { Color, Space } from '../color/index.ts';
import { type Objects, tintFunction } from './functions.ts';

export type PdfLib = typeof Pdf;

/** A colour space as far as it has numbers that we read. */
export interface Plain {
  space: Space;
  /** Lab's a* and b* are numbers as they are; all others go from 0 to 1. */
  count: number;
}

/** The colour that operands of `sc` give in a colour space; null when they give none. */
export type Reading = (values: number[]) => Color | null;

/** The objects of a PDF, followed through references, as far as colours need them. Colour spaces: ISO 32000-1, 8.6. */
export class PdfObjects {
  constructor(
    protected readonly lib: PdfLib,
    protected readonly context: Pdf.PDFContext,
  ) {}

  at(object: Pdf.PDFObject | undefined): Pdf.PDFObject | undefined {
    return object instanceof this.lib.PDFRef ? this.context.lookup(object) : object;
  }

  /** A name's text: UTF-8 where it is, else Latin-1 (ISO 32000-1, 7.3.5). */
  nameOf(object: Pdf.PDFObject | undefined): string | null {
    const name = this.at(object);
    if (!(name instanceof this.lib.PDFName)) return null;
    const bytes = name.asBytes();
    try {
      return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    } catch {
      return new TextDecoder('latin1').decode(bytes);
    }
  }

  /** A text as a name: UTF-8. */
  protected asName(name: string): Pdf.PDFName {
    // the package takes letters for bytes, and decodes #
    const bytes = String.fromCharCode(...new TextEncoder().encode(name.toWellFormed()));
    return this.lib.PDFName.of(bytes.replaceAll('#', '#23'));
  }

  numbers(object: Pdf.PDFObject | undefined): number[] {
    const array = this.at(object);
    if (!(array instanceof this.lib.PDFArray)) return [];
    return array.asArray().map((o) => {
      const number = this.at(o);
      return number instanceof this.lib.PDFNumber ? number.asNumber() : Number.NaN;
    });
  }

  dictOf(object: Pdf.PDFObject | undefined): Pdf.PDFDict | null {
    const found = this.at(object);
    if (found instanceof this.lib.PDFDict) return found;
    return found instanceof this.lib.PDFStream ? found.dict : null;
  }

  get(dict: Pdf.PDFDict | null, key: string): Pdf.PDFObject | undefined {
    return this.at(dict?.get(this.lib.PDFName.of(key)));
  }

  streamBytes(object: Pdf.PDFObject | undefined): Uint8Array {
    const stream = this.at(object);
    try {
      if (stream instanceof this.lib.PDFRawStream) return this.lib.decodePDFRawStream(stream).decode();
    } catch {
      // a filter that is not known, or damage inside of it
    }
    return new Uint8Array();
  }

  /** The bytes of a stream as text, a character for each. */
  textOf(object: Pdf.PDFObject | undefined): string {
    return new TextDecoder('latin1').decode(this.streamBytes(object));
  }

  /** A space that has numbers as we know them; null for patterns, tables of colours and inks. */
  plain(object: Pdf.PDFObject | undefined): Plain | null {
    const space = this.at(object);
    const by = (count: number): Plain | null =>
      ({ 1: { space: 'gray', count }, 3: { space: 'rgb', count }, 4: { space: 'cmyk', count } })[
        count
      ] as Plain | null;
    const name = this.nameOf(space);
    if (name) {
      const known: Record<string, number> = {
        DeviceGray: 1,
        G: 1,
        DeviceRGB: 3,
        RGB: 3,
        DeviceCMYK: 4,
        CMYK: 4,
      };
      return known[name] ? by(known[name]) : null;
    }
    if (!(space instanceof this.lib.PDFArray)) return null;
    const kind = this.nameOf(space.get(0));
    if (kind === 'ICCBased') {
      const n = this.get(this.dictOf(space.get(1)), 'N');
      return n instanceof this.lib.PDFNumber ? (by(n.asNumber()) ?? null) : null;
    }
    if (kind === 'CalRGB') return by(3);
    if (kind === 'CalGray') return by(1);
    return kind === 'Lab' ? { space: 'lab', count: 3 } : null;
  }

  colorOf(space: Plain, values: number[]): Color | null {
    const components = values.slice(0, space.count);
    if (components.length !== space.count || !components.every(Number.isFinite)) return null;
    if (space.space === 'lab') return { space: 'lab', components };
    // beyond its range a value counts as its end (ISO 32000-1, 8.6.4)
    return { space: space.space, components: components.map((v) => Math.min(1, Math.max(0, v))) };
  }

  readonly objects: Objects<Pdf.PDFObject> = {
    number: (o) => {
      const n = this.at(o);
      return n instanceof this.lib.PDFNumber ? n.asNumber() : null;
    },
    numbers: (o) => this.numbers(o),
    entry: (o, key) => this.get(this.dictOf(o), key),
    list: (o) => {
      const list = this.at(o);
      return list instanceof this.lib.PDFArray ? list.asArray() : [];
    },
    bytes: (o) => this.streamBytes(o),
  };

  /** What amounts of the inks of a Separation or DeviceN become in the alternate space. */
  tinted(array: Pdf.PDFArray): Reading | null {
    const space = this.plain(array.get(2));
    const tint = tintFunction(this.objects, array.get(3));
    if (!space || !tint) return null;
    return (amounts) => {
      const values = tint(amounts);
      return values && this.colorOf(space, values);
    };
  }

  /** The names of the inks of a Separation or DeviceN; null for other spaces. */
  inkNames(space: Pdf.PDFArray): (string | null)[] | null {
    const kind = this.nameOf(space.get(0));
    if (kind === 'Separation') return [this.nameOf(space.get(1))];
    return kind === 'DeviceN' ? this.objects.list(space.get(1)).map((n) => this.nameOf(n)) : null;
  }
}

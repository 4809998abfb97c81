import type * as Pdf from '@cantoo/pdf-lib';
import type { Color } from '../color/index.ts';
import { type Tint, tintFunction } from './functions.ts';
import { PdfObjects, type Reading } from './objects.ts';

/** A stop of a gradient: where, 0–1, and the values of the shading's own space there. */
export interface ShadeStop {
  at: number;
  values: number[];
}

/** Colours as the spaces of a PDF give them (ISO 32000-1, 8.6), and those of shadings along a line or a circle (8.7.4.5.3–4). */
export class PdfSpaces extends PdfObjects {
  /** How values are read in a space; null where they have no color of their own. Inks are what stands for them. */
  reading(object: Pdf.PDFObject | undefined, depth = 0): Reading | null {
    const plain = this.plain(object);
    if (plain) return (values) => this.colorOf(plain, values);
    const space = this.at(object);
    if (!(space instanceof this.lib.PDFArray) || depth > 4) return null;
    const kind = this.nameOf(space.get(0));
    const names = this.inkNames(space);
    if (names) return this.inked(space, names);
    if (kind === 'Indexed') return this.indexed(space, depth) ?? this.unreadable('a table of colours');
    if (kind === 'Pattern') return space.size() > 1 ? this.reading(space.get(1), depth + 1) : null;
    return kind === null ? null : this.unreadable(kind);
  }

  /** How amounts of inks are read. */
  protected inked(space: Pdf.PDFArray, _names: readonly (string | null)[]): Reading | null {
    return this.tinted(space);
  }

  /** A space whose colours cannot be told. */
  protected unreadable(_what: string): Reading | null {
    return null;
  }

  /** The values of the space below at a place of a table of colours (8.6.6.3); null beyond its end. */
  protected inTable(space: Pdf.PDFArray, index: number): number[] | null {
    const base = this.at(space.get(1));
    const plain = this.plain(base);
    const inks = base instanceof this.lib.PDFArray ? this.inkNames(base) : null;
    const count = plain?.count ?? inks?.length ?? 0;
    const bytes = this.tableBytes(space);
    const at = Math.round(index) * count;
    if (count === 0 || at < 0 || at + count > bytes.length) return null;
    // a byte goes from the least of its channel to the most; of Lab as its range says
    const range =
      plain?.space === 'lab' && base instanceof this.lib.PDFArray
        ? [0, 100, ...this.rangeOfLab(base)]
        : Array.from({ length: 2 * count }, (_, i) => i % 2);
    return Array.from({ length: count }, (_, i) => {
      const [low, high] = [range[2 * i]!, range[2 * i + 1]!];
      return low + (bytes[at + i]! / 255) * (high - low);
    });
  }

  /** The bytes of a table of colours. */
  protected tableBytes(space: Pdf.PDFArray): Uint8Array {
    const given = this.at(space.get(3));
    const { PDFString, PDFHexString } = this.lib;
    return given instanceof PDFString || given instanceof PDFHexString
      ? given.asBytes()
      : this.streamBytes(given);
  }

  private indexed(space: Pdf.PDFArray, depth: number): Reading | null {
    const own = this.reading(space.get(1), depth + 1);
    if (!own || !this.inTable(space, 0)) return null;
    return ([index = 0]) => {
      const values = this.inTable(space, index);
      return values && own(values);
    };
  }

  private rangeOfLab(space: Pdf.PDFArray): number[] {
    const range = this.numbers(this.get(this.dictOf(space.get(1)), 'Range'));
    return range.length === 4 ? range : [-100, 100, -100, 100];
  }

  /** The stops of a shading along a line or a circle; null for those of another kind. */
  protected stopsOf(shading: Pdf.PDFObject | undefined): ShadeStop[] | null {
    const dict = this.dictOf(shading);
    const kind = this.objects.number(this.get(dict, 'ShadingType'));
    const given = this.get(dict, 'Function');
    const inner = this.objects.list(given);
    const functions = inner.length > 0 ? inner : [given];
    const list = functions.map((f) => tintFunction(this.objects, f));
    if ((kind !== 2 && kind !== 3) || !list.every((f): f is Tint => f !== null)) return null;
    const [from = 0, to = 1] = this.numbers(this.get(dict, 'Domain'));
    const places = [...new Set(functions.flatMap((f) => this.bendsOf(f, from, to)))].sort((a, b) => a - b);
    return places.map((x) => ({
      at: to > from ? (x - from) / (to - from) : 0,
      values: list.flatMap((f) => f([x]) ?? []),
    }));
  }

  /** Where a function of one number bends: at its ends, where it is put together, and in a table at a few places. */
  private bendsOf(fn: Pdf.PDFObject | undefined, from: number, to: number): number[] {
    const dict = this.dictOf(fn);
    const kind = this.objects.number(this.get(dict, 'FunctionType'));
    if (kind === 3) return [from, ...this.numbers(this.get(dict, 'Bounds')).slice(0, 60), to];
    const parts =
      kind === 0 ? Math.min(16, Math.max(1, (this.numbers(this.get(dict, 'Size'))[0] ?? 2) - 1)) : 1;
    return Array.from({ length: parts + 1 }, (_, i) => from + ((to - from) * i) / parts);
  }

  /** The color that values give in a space. */
  protected colorIn(space: Pdf.PDFObject | undefined, values: readonly number[]): Color | null {
    return this.reading(space)?.([...values]) ?? null;
  }
}

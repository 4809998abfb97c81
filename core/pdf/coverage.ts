import type * as Pdf from '@cantoo/pdf-lib';
import { type Color, type Condition, convert } from '../color/index.ts';
import {
  type PageBox,
  type Paint,
  PdfInterpreter,
  type Placed,
  type Shape,
  scaleOf,
  type Writing,
} from './interpreter.ts';
import { PROCESS } from './plates.ts';
import { coverAt, type Mask } from './raster.ts';

// How much of a page each ink covers: its areas, lines and pictures in a small raster, ink by ink. Text is estimated, as its fonts
// are not drawn.

/** Amounts of inks, 0–1; null paints nothing. */
type Inks = ReadonlyMap<string, number> | null;
type Reader = (values: readonly number[]) => Inks;

/** Pixels on the longer side. */
const SIDE = 240;
/** Letters cover about this part of the line they stand in (common practice, no source). */
const LETTERS = 0.18;

/** Finds what inks cover on pages. */
export class PdfCoverage extends PdfInterpreter {
  private planes = new Map<string, Float32Array>();
  private readonly known = new WeakMap<Paint, { inks: Inks }>();

  constructor(
    lib: typeof Pdf,
    context: Pdf.PDFContext,
    private readonly condition: Condition,
  ) {
    super(lib, context);
  }

  /** The part of a page that each ink covers, 0–1, tints by how much ink they have. */
  page(page: Pdf.PDFPage, box: PageBox): Map<string, number> {
    this.spare = [...this.planes.values()];
    this.planes = new Map();
    this.follow(page, box, SIDE);
    const found = new Map<string, number>();
    for (const [ink, plane] of this.planes) {
      let sum = 0;
      for (const v of plane) sum += v;
      found.set(ink, sum / this.raster.size);
    }
    return found;
  }

  /** The inks that a paint puts on the page. */
  private inksOf(paint: Paint): Inks {
    const known = this.known.get(paint);
    if (known) return known.inks;
    if (paint.pattern) this.passed.add('patterns');
    const inks = paint.pattern ? null : this.reader(paint.space)(paint.values);
    this.known.set(paint, { inks });
    return inks;
  }

  protected override shape({ paths, fill, stroke, state }: Shape): void {
    const { clip } = state;
    if (fill)
      this.lay(
        this.raster.fill(paths, fill === 'evenodd'),
        this.inksOf(state.fill),
        state.fillAlpha,
        state.fillOver,
        clip,
      );
    if (!stroke) return;
    const width = state.lineWidth * scaleOf(state.matrix);
    this.lay(
      this.raster.stroke(paths, width),
      this.inksOf(state.stroke),
      state.strokeAlpha,
      state.strokeOver,
      clip,
    );
  }

  protected override writing({ box, fill, state }: Writing): void {
    this.passed.add('text');
    const [paint, alpha] = fill ? [state.fill, state.fillAlpha] : [state.stroke, state.strokeAlpha];
    this.lay(this.raster.fill([box]), this.inksOf(paint), alpha * LETTERS, state.fillOver, state.clip);
  }

  protected override shading(): void {
    this.passed.add('shadings');
  }

  /** Converts RGB and Lab to the inks of the print condition. */
  private processOf(color: Color): Inks {
    const { components } = color.space === 'cmyk' ? color : convert(color, 'cmyk', this.condition);
    return new Map(PROCESS.map((name, i) => [name, Math.min(1, Math.max(0, components[i]!))]));
  }

  private deviceReader(space: 'gray' | 'rgb' | 'cmyk'): Reader {
    const count = { gray: 1, rgb: 3, cmyk: 4 }[space];
    return (values) => {
      if (values.length < count) return null;
      if (space === 'gray') return new Map([['Black', 1 - Math.min(1, Math.max(0, values[0]!))]]);
      return this.processOf({ space, components: values.slice(0, count) });
    };
  }

  /** How values of a colour space become inks. */
  private reader(object: Pdf.PDFObject | undefined, depth = 0): Reader {
    const plain = this.plain(object);
    if (plain)
      return plain.space === 'lab'
        ? (values) => this.processOf({ space: 'lab', components: values.slice(0, 3) })
        : this.deviceReader(plain.space as 'gray' | 'rgb' | 'cmyk');
    const space = this.at(object);
    if (space instanceof this.lib.PDFArray && depth < 4) {
      const names = this.inkNames(space);
      if (names)
        return (values) => {
          if (names.every((n) => n === 'None')) return null;
          return new Map(
            names.flatMap((name, i) =>
              name !== null && name !== 'None' ? [[name, values[i] ?? 0] as const] : [],
            ),
          );
        };
      if (this.nameOf(space.get(0)) === 'Indexed') return this.table(space, depth);
    }
    return () => null;
  }

  /** A table of colours. */
  private table(space: Pdf.PDFArray, depth: number): Reader {
    const read = this.reader(space.get(1), depth + 1);
    return ([index = 0]) => {
      const values = this.inTable(space, index);
      return values && read(values);
    };
  }

  /** Lays inks on what a mask covers; other inks are taken away there, unless they are overprinted. */
  private lay(mask: Mask, inks: Inks, alpha: number, over: boolean, clip: Mask | null): void {
    if (!inks) return;
    const all = inks.get('All');
    const amounts =
      all === undefined ? inks : new Map([...this.planes.keys(), ...PROCESS].map((n) => [n, all]));
    for (const name of amounts.keys()) this.plane(name);
    const { left, top, width, height } = mask;
    this.raster.work += mask.data.length * this.planes.size;
    for (const [name, plane] of this.planes) {
      const amount = amounts.get(name);
      if (amount === undefined && over) continue;
      for (let y = top; y < top + height; y++)
        for (let x = left; x < left + width; x++) {
          const part = coverAt(mask, x, y) * (clip ? coverAt(clip, x, y) : 1) * alpha;
          const i = y * this.raster.width + x;
          if (part > 0) plane[i] = plane[i]! * (1 - part) + (amount ?? 0) * part;
        }
    }
  }

  /** The plane of an ink on this page, made where it is the first there is of it. */
  private plane(name: string): Float32Array {
    let plane = this.planes.get(name);
    if (plane) return plane;
    plane = this.spare.pop();
    if (plane?.length === this.raster.size) plane.fill(0);
    else plane = new Float32Array(this.raster.size);
    this.planes.set(name, plane);
    return plane;
  }
  /** Planes of the page before. */
  private spare: Float32Array[] = [];

  /** A picture, pixel by pixel of the raster. */
  protected override picture({ object, dict, stencil, square, state: now }: Placed): void {
    const mask = this.raster.fill([square]);
    if (stencil) {
      this.passed.add('stencils');
      return;
    }
    const filters = [this.get(dict, 'Filter'), ...this.objects.list(this.get(dict, 'Filter'))].map((f) =>
      this.nameOf(f),
    );
    const [width, height, bits] = ['Width', 'Height', 'BitsPerComponent'].map(
      (k) => this.objects.number(this.get(dict, k)) ?? 0,
    ) as [number, number, number];
    const space = this.get(dict, 'ColorSpace');
    const array = this.at(space);
    const names = array instanceof this.lib.PDFArray ? this.inkNames(array) : null;
    const isTable = array instanceof this.lib.PDFArray && this.nameOf(array.get(0)) === 'Indexed';
    const count = isTable ? 1 : (names?.length ?? this.plain(space)?.count ?? 0);
    if (
      filters.some(
        (f) => f === 'DCTDecode' || f === 'JPXDecode' || f === 'JBIG2Decode' || f === 'CCITTFaxDecode',
      ) ||
      bits !== 8 ||
      count === 0
    ) {
      this.passed.add('pictures in JPEG and the like');
      this.lay(mask, new Map(), now.fillAlpha, false, now.clip);
      return;
    }
    const bytes = this.streamBytes(object);
    const read = this.reader(space);
    const decode = this.numbers(this.get(dict, 'Decode'));
    const [a, b, c, d, e, f] = now.matrix;
    const det = a * d - b * c;
    if (det === 0 || width * height * count > bytes.length) return;
    // what goes through the print condition is read in steps: there are thousands of colours in a photograph
    const step = names || isTable ? 1 : 17;
    const known = this.ofSpace(array instanceof this.lib.PDFArray ? array : space);
    for (let i = 0; i < mask.data.length; i++) {
      if (!mask.data[i]) continue;
      const [x, y] = [mask.left + (i % mask.width), mask.top + Math.floor(i / mask.width)];
      const [px, py] = [x + 0.5 - e, y + 0.5 - f];
      const [u, w] = [(d * px - c * py) / det, (a * py - b * px) / det];
      const column = Math.min(width - 1, Math.max(0, Math.floor(u * width)));
      const row = Math.min(height - 1, Math.max(0, Math.floor((1 - w) * height)));
      const from = (row * width + column) * count;
      let key = 0;
      for (let k = 0; k < count; k++) key = key * 256 + Math.round(bytes[from + k]! / step);
      let inks = known.get(key);
      if (inks === undefined) {
        inks = read(
          Array.from({ length: count }, (_, k) => {
            const value = Math.round(bytes[from + k]! / step) * step;
            if (isTable) return value;
            const [low = 0, high = 1] = decode.slice(2 * k, 2 * k + 2);
            return low + (value / 255) * (high - low);
          }),
        );
        // six channels are as many as a number tells apart
        if (count <= 6 && decode.length === 0) known.set(key, inks);
      }
      const part = coverAt(mask, x, y) * (now.clip ? coverAt(now.clip, x, y) : 1) * now.fillAlpha;
      this.pixel(y * this.raster.width + x, part, inks, now.fillOver);
    }
  }

  /** The inks of pixels of a space, by their values. */
  private ofSpace(space: Pdf.PDFObject | undefined): Map<number, Inks> {
    const known = space && this.pixels.get(space);
    if (known) return known;
    const made = new Map<number, Inks>();
    if (space) this.pixels.set(space, made);
    return made;
  }
  private readonly pixels = new Map<Pdf.PDFObject, Map<number, Inks>>();

  private pixel(i: number, part: number, inks: Inks, over: boolean): void {
    if (!inks) return;
    for (const name of inks.keys()) this.plane(name);
    for (const [name, plane] of this.planes) {
      const amount = inks.get(name);
      if (amount === undefined && over) continue;
      plane[i] = plane[i]! * (1 - part) + (amount ?? 0) * part;
    }
  }
}

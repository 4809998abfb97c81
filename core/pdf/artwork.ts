import type * as Pdf from '@cantoo/pdf-lib';
import { type Color, type Condition, toHex } from '../color/index.ts';
import { FormatError } from '../text/error.ts';
import { plural } from '../text/text.ts';
import type { Content, Operator } from './content.ts';
import {
  type Matrix,
  type Paint,
  PdfInterpreter,
  type Placed,
  type Shape,
  type State,
  scaleOf,
  through,
  type Writing,
} from './interpreter.ts';
import { loadPdf, sound, soundly } from './load.ts';
import { coverAt, type Mask, type Point } from './raster.ts';
import { refuseEncrypted } from './save.ts';

// What the pages of a PDF are painted with, part by part, so that single parts can be painted with something else.

/** An area, a line, a piece of text or a stop of a gradient. */
export interface PdfPart {
  id: number;
  /** The same whenever the file is opened. */
  key: string;
  role: 'fill' | 'stroke' | 'stop';
  color: Color;
  /** `#rrggbb`, under the condition the file was opened with. */
  hex: string;
  /** Of its ink, with how much of it. */
  name: string;
  /** The innermost layer it lies in. */
  layer: string;
  /** How its color is written, in words: the numbers of its space, or its kind where they are inks. */
  space: string;
  /** How much of each ink it is, 0–1; null where it is not said in inks. */
  inks: ReadonlyMap<string, number> | null;
  /** Square pixels of the small raster that it covers, all pages together. */
  area: number;
  /** The number of the first page it is on. */
  page: number;
  /** Of a stop: the number of the first part of its gradient. */
  gradient?: number;
}

/** Where a part is painted. */
export interface Place {
  content: Content;
  /** Where its path begins, or the operator itself. */
  from: number;
  operator: Operator;
  kind: 'path' | 'text' | 'stencil';
  paint: Paint;
  /** What lines are painted with there. */
  stroke: Paint;
  /** Other paints of the same operator are printed over what lies below. */
  fillOver: boolean;
  strokeOver: boolean;
  lineWidth: number;
  textMode: number;
  /** Points in a unit of its coordinates. */
  scale: number;
}

/** A gradient that parts are the stops of. */
export interface Shade {
  /** The object that is rewritten: the shading, or the pattern that holds it. */
  ref: Pdf.PDFRef;
  shading: Pdf.PDFDict;
  stops: readonly { at: number; part: number; values: number[] }[];
}

/** The outline of a part, points of its page. */
export interface PdfShape {
  pieces: { points: [number, number][]; closed: boolean }[];
  /** How wide it is stroked; null where it is filled. */
  stroke: number | null;
}

export interface PageSize {
  /** As it is shown, points. */
  width: number;
  height: number;
}

/** Pixels on the longer side of the raster that areas are measured in. */
const SIDE = 240;
/** More parts than anybody looks through. */
const MAX_PARTS = 200_000;

const SPACE_NAMES: Record<string, string> = {
  Indexed: 'a table of colours',
  Separation: 'an ink',
  DeviceN: 'mixed inks',
};

/** A PDF as artwork: its pages with what they are painted with. */
export class PdfArtwork extends PdfInterpreter {
  /** Ends when nothing is written of it. */
  written: Promise<unknown> = Promise.resolve();
  readonly parts: PdfPart[] = [];
  readonly pages: PageSize[] = [];
  readonly warnings: string[] = [];
  /** Of each part but stops, in the order of `parts`. */
  readonly places: Place[][] = [];
  readonly shades = new Map<string, Shade>();
  /** What stands for each ink alone. */
  readonly solids = new Map<string, Color>();
  /** Whether it is painted in inks at all. */
  inInks = false;

  private readonly byKey = new Map<string, PdfPart>();
  private readonly colors = new Map<string, { color: Color; hex: string } | null>();
  private readonly unread = new Set<string>();
  private readonly pictures = new Map<string, Set<Pdf.PDFObject>>();
  private page = 0;
  /** For every pixel the number of the part that is seen there, while a page is mapped. */
  private ids: Int32Array | null = null;
  private readonly tiled = new Set<string>();
  /** The operators that draw pictures. */
  readonly pictureOperators: { content: Content; operator: Operator; object: Pdf.PDFObject }[] = [];

  private constructor(
    lib: typeof Pdf,
    readonly document: Pdf.PDFDocument,
    readonly bytes: Uint8Array,
    private readonly condition: Condition,
  ) {
    super(lib, document.context);
  }

  /**
   * @param condition says how inks look, and with that which colours are distinguished
   * @param breathe called for every page; throws to cancel
   * @throws FormatError when it does not open, or cannot be written
   */
  static async open(
    bytes: Uint8Array,
    condition: Condition,
    breathe: (done: number, of: number) => Promise<void> = async () => undefined,
  ): Promise<PdfArtwork> {
    refuseEncrypted(bytes);
    const lib = await import('@cantoo/pdf-lib');
    const document = await loadPdf(lib, bytes, true);
    return sound(async () => {
      const artwork = new PdfArtwork(lib, document, bytes, condition);
      const pages = document.getPages();
      for (const [i, page] of pages.entries()) {
        await breathe(i, pages.length);
        artwork.look(page, i);
      }
      artwork.tell();
      return artwork;
    });
  }

  private look(page: Pdf.PDFPage, i: number): void {
    this.page = i;
    const box = page.getCropBox();
    const [width, height] =
      page.getRotation().angle % 180 === 0 ? [box.width, box.height] : [box.height, box.width];
    this.pages.push({ width, height });
    this.follow(page, box, SIDE);
  }

  private tell(): void {
    for (const [space, objects] of this.pictures)
      this.warnings.push(
        `${plural(objects.size, 'picture', 'pictures')} in ${space} ${objects.size === 1 ? 'stays as it is' : 'stay as they are'}.`,
      );
    if (this.unread.size > 0)
      this.warnings.push(
        `Painted in spaces without values that are read, and left: ${[...this.unread].join(', ')}.`,
      );
    for (const what of this.passed) this.warnings.push(`Not looked through: ${what}.`);
  }

  /**
   * Which part is seen at each place of a page, −1 where none is.
   * @param side pixels on the longer side
   * @param lines that are laid over the page, points; they are numbered behind the parts
   */
  async mapOf(
    page: number,
    side: number,
    lines: readonly { page: number; paths: readonly (readonly Point[])[]; width: number }[] = [],
  ): Promise<{ ids: Int32Array; width: number; height: number }> {
    // while it is written the file has other objects
    await this.written;
    return soundly(() => {
      const one = this.document.getPages()[page];
      if (!one) throw new FormatError(`it has no page ${page + 1}.`);
      // the raster is made as the page begins, and the numbers with its first shape
      this.ids = new Int32Array(0);
      try {
        this.follow(one, one.getCropBox(), side);
        const { width, height, size } = this.raster;
        const ids = this.ids.length === size ? this.ids : new Int32Array(size).fill(-1);
        lines.forEach((line, i) => {
          if (line.page !== page) return;
          const closed = line.paths.map((p) => [...p, p[0]!].map((at) => through(this.base, at)));
          const mask = this.raster.stroke(closed, line.width * this.unit);
          for (let y = mask.top; y < mask.top + mask.height; y++)
            for (let x = mask.left; x < mask.left + mask.width; x++)
              if (coverAt(mask, x, y) > SEEN) ids[y * width + x] = this.parts.length + i;
        });
        return { ids, width, height };
      } finally {
        this.ids = null;
      }
    });
  }

  /**
   * The outlines of parts in points of their page, curves in fine pieces; null for text, which has none.
   * @param keys of parts; those on other pages than the first of them are left out
   */
  async shapesOf(keys: readonly string[]): Promise<{ page: number; shapes: PdfShape[] | null }> {
    await this.written;
    return soundly(() => {
      const own = keys.flatMap((key) => this.byKey.get(key) ?? []);
      const page = own[0]?.page ?? 0;
      this.wanted = { keys: new Set(keys), shapes: [] };
      this.curve = FINE_CURVE;
      try {
        const one = this.document.getPages()[page]!;
        if (own.some((p) => this.places[p.id]!.some((at) => at.kind === 'text')))
          return { page, shapes: null };
        // numbers are as fine on a raster of a pixel
        this.follow(one, one.getCropBox(), 1);
        return { page, shapes: this.wanted.shapes };
      } finally {
        this.wanted = null;
        this.curve = 8;
      }
    });
  }
  private wanted: { keys: Set<string>; shapes: PdfShape[] } | null = null;

  /** Takes the outline of a shape that is asked for. */
  private collect(key: string, paths: readonly (readonly Point[])[], stroke: number | null): void {
    if (!this.wanted?.keys.has(key)) return;
    const back = inverse(this.base);
    const pieces = paths
      .filter((points) => points.length > 1)
      .map((points) => {
        const [first, last] = [points[0]!, points.at(-1)!];
        const closed = first[0] === last[0] && first[1] === last[1];
        return { points: points.map((p) => [...through(back, p)] as [number, number]), closed };
      });
    this.wanted.shapes.push({ pieces, stroke });
  }

  /** The color of a paint; null where it has none that is read. */
  private colored({ space, values }: Paint): { color: Color; hex: string } | null {
    const object = this.at(space);
    const key = `${this.spaceKey(space)} ${values.join(' ')}`;
    const known = this.colors.get(key);
    if (known !== undefined) return known;
    const color = this.colorIn(object, values);
    const found = color && { color, hex: toHex(color, this.condition) };
    this.colors.set(key, found);
    return found;
  }

  private readonly spaceKeys = new Map<Pdf.PDFObject, number>();
  private spaceKey(space: Pdf.PDFObject): string {
    if (space instanceof this.lib.PDFRef) return space.tag;
    const name = this.nameOf(space);
    if (name !== null) return name;
    if (!this.spaceKeys.has(space)) this.spaceKeys.set(space, this.spaceKeys.size);
    return `(${this.spaceKeys.get(space)})`;
  }

  /** Whether a part is printed over what lies below, wherever it is. */
  isOver(id: number): boolean {
    const side = this.parts[id]!.role === 'stroke' ? 'strokeOver' : 'fillOver';
    const places = this.places[id]!;
    return places.length > 0 && places.every((p) => p[side]);
  }

  /** The inks of a paint, 0–1; null where it is not said in inks. */
  private inksIn({ space: object, values }: Pick<Paint, 'space' | 'values'>): Map<string, number> | null {
    const space = this.at(object);
    if (space instanceof this.lib.PDFArray) {
      const kind = this.nameOf(space.get(0));
      if (kind === 'Pattern') return this.inksIn({ space: space.get(1), values });
      if (kind === 'Indexed') {
        const below = this.inTable(space, values[0] ?? 0);
        return below && this.inksIn({ space: space.get(1), values: below });
      }
      const names = this.inkNames(space);
      const tinted = names && this.tinted(space);
      for (const [i, name] of names?.entries() ?? []) {
        if (name === null || name === 'None' || this.solids.has(name)) continue;
        const alone = tinted?.(names!.map((_, k) => (k === i ? 1 : 0)));
        if (alone) this.solids.set(name, alone);
      }
      if (names)
        return new Map(
          names.flatMap((n, i) => (n === null || n === 'None' ? [] : [[n, values[i] ?? 0] as const])),
        );
    }
    const plain = this.plain(space);
    if (plain?.space === 'gray' && this.nameOf(space) === 'DeviceGray')
      return new Map([['Black', 1 - (values[0] ?? 0)]]);
    return plain?.space === 'cmyk'
      ? new Map(['Cyan', 'Magenta', 'Yellow', 'Black'].map((n, i) => [n, values[i] ?? 0]))
      : null;
  }

  /** What a paint is in words: its ink, and its space. */
  private inWords({ space: object, values }: Pick<Paint, 'space' | 'values'>): {
    name: string;
    space: string;
  } {
    const space = this.at(object);
    const array = space instanceof this.lib.PDFArray ? space : null;
    const kind = array ? this.nameOf(array.get(0)) : this.nameOf(space);
    const names = array && this.inkNames(array);
    if (names) {
      const used = names.flatMap((name, i) => {
        const amount = values[i] ?? 0;
        if (name === null || name === 'None' || (amount === 0 && names.length > 1)) return [];
        const called = name === 'All' ? 'Registration' : name;
        return [amount === 1 ? called : `${called} ${Math.round(amount * 100)} %`];
      });
      return { name: used.join(' + '), space: SPACE_NAMES[kind!]! };
    }
    if (array && kind === 'Pattern') return this.inWords({ space: array.get(1), values });
    const below = array && kind === 'Indexed' ? this.inTable(array, values[0] ?? 0) : null;
    if (array && below)
      return { ...this.inWords({ space: array.get(1), values: below }), space: SPACE_NAMES.Indexed! };
    const plain = this.plain(space);
    if (!plain) return { name: '', space: SPACE_NAMES[kind ?? ''] ?? kind ?? 'an unknown space' };
    const own = { cmyk: ['CMYK', 100], rgb: ['RGB', 255], gray: ['grey', 100], lab: ['Lab', 1] } as const;
    const [called, most] = own[plain.space as keyof typeof own];
    const text = `${called} ${values.map((v) => Math.round(v * most)).join(' ')}`;
    return { name: '', space: kind === 'ICCBased' ? `${text}, with a profile` : text };
  }

  /** A part by its key, made where it is new; null where it has no color. */
  private part(
    key: string,
    role: PdfPart['role'],
    paint: Paint,
    layers: readonly string[],
  ): { part: PdfPart; isNew: boolean } | null {
    const own = this.colored(paint);
    const words = () => ({ ...this.inWords(paint), inks: this.inksIn(paint) });
    if (!own) {
      if (this.unread.size < 5) this.unread.add(words().space);
      return null;
    }
    const known = this.byKey.get(key);
    // a form that takes the colour of where it stands may be in several
    if (known && known.hex !== own.hex) {
      const other = `${key} ${own.hex}`;
      return this.byKey.has(other)
        ? { part: this.byKey.get(other)!, isNew: false }
        : this.added(other, role, own, words(), layers);
    }
    return known ? { part: known, isNew: false } : this.added(key, role, own, words(), layers);
  }

  private added(
    key: string,
    role: PdfPart['role'],
    { color, hex }: { color: Color; hex: string },
    words: Pick<PdfPart, 'name' | 'space' | 'inks'>,
    layers: readonly string[],
  ): { part: PdfPart; isNew: boolean } {
    if (this.parts.length >= MAX_PARTS)
      throw new FormatError(
        `it has more than ${MAX_PARTS.toLocaleString('en')} parts. Take out the pages that matter.`,
      );
    if (color.space === 'cmyk' || words.name !== '') this.inInks = true;
    const layer = layers.at(-1) ?? '';
    const part: PdfPart = {
      ...{ id: this.parts.length, key, role, color, hex, layer, area: 0, page: this.page },
      ...words,
    };
    this.parts.push(part);
    this.places.push([]);
    this.byKey.set(key, part);
    return { part, isNew: true };
  }

  /** Something that is painted with a paint: its part, with where it lies. */
  private painted(
    key: string,
    role: 'fill' | 'stroke',
    mask: Mask,
    state: State,
    place: Pick<Place, 'content' | 'from' | 'operator' | 'kind'>,
  ): void {
    const paint = state[role];
    const shade = paint.pattern && this.shadeOf(paint.pattern.object, state.layers);
    if (shade) {
      this.seen(shade, mask, state);
      return;
    }
    // a pattern of its own colours has parts of its own
    const tile = paint.pattern && this.dictOf(paint.pattern.object);
    if (tile && this.objects.number(this.get(tile, 'PaintType')) !== 2) {
      if (this.ids) this.seen(this.partsIn(paint.pattern!.object), mask, state);
      return;
    }
    const found = this.part(key, role, paint, state.layers);
    if (!found) return;
    const { part } = found;
    this.seen([part.id], mask, state);
    const own = this.places[part.id]!;
    if (
      this.ids ||
      own.some((p) => p.content.key === place.content.key && p.operator.from === place.operator.from)
    )
      return;
    const { fillOver, strokeOver, lineWidth, text } = state;
    own.push({
      ...place,
      ...{ paint, stroke: state.stroke, fillOver, strokeOver, lineWidth, textMode: text.mode },
      scale: scaleOf(state.matrix) / this.unit || 1,
    });
  }

  /** Notes what is seen of parts: how much in all, or where. */
  private seen(parts: readonly number[], mask: Mask, { clip }: State): void {
    if (parts.length === 0) return;
    const { width } = this.raster;
    let ids = this.ids;
    if (ids && ids.length !== this.raster.size) {
      ids = new Int32Array(this.raster.size).fill(-1);
      this.ids = ids;
    }
    let area = 0;
    this.raster.work += mask.data.length;
    for (let y = mask.top; y < mask.top + mask.height; y++)
      for (let x = mask.left; x < mask.left + mask.width; x++) {
        const part = coverAt(mask, x, y) * (clip ? coverAt(clip, x, y) : 1);
        if (ids && part > SEEN) ids[y * width + x] = parts[0]!;
        area += part;
      }
    if (!ids) for (const id of parts) this.parts[id]!.area += area / parts.length;
  }

  protected override shape({ paths, fill, stroke, state, content, from, operator }: Shape): void {
    const place = { content, from, operator, kind: 'path' } as const;
    const key = `${content.key}:${operator.from}`;
    if (this.wanted) {
      if (fill) this.collect(`${key} fill`, paths, null);
      if (stroke) this.collect(`${key} stroke`, paths, (state.lineWidth * scaleOf(state.matrix)) / this.unit);
      return;
    }
    if (fill) this.painted(`${key} fill`, 'fill', this.raster.fill(paths, fill === 'evenodd'), state, place);
    if (!stroke) return;
    const mask = this.raster.stroke(paths, state.lineWidth * scaleOf(state.matrix));
    this.painted(`${key} stroke`, 'stroke', mask, state, place);
  }

  protected override writing({ box, fill, stroke, state, content, operator, begin }: Writing): void {
    if (this.wanted) return;
    const mask = this.raster.fill([box]);
    const place = { content, from: operator.from, operator, kind: 'text' } as const;
    for (const role of [...(fill ? (['fill'] as const) : []), ...(stroke ? (['stroke'] as const) : [])]) {
      // all that a text object has in one colour is one part
      const site = state[role].site?.from ?? '-';
      this.painted(`${content.key}:${begin} ${site} ${role}`, role, mask, state, place);
    }
  }

  protected override picture({ object, dict, stencil, square, state, content, operator }: Placed): void {
    if (this.wanted) return;
    const mask = this.raster.fill([square]);
    if (stencil) {
      const place = { content, from: operator.from, operator, kind: 'stencil' } as const;
      this.painted(`${content.key}:${operator.from} fill`, 'fill', mask, state, place);
      return;
    }
    if (this.ids) {
      const { ids } = this;
      if (ids.length === this.raster.size)
        for (let y = mask.top; y < mask.top + mask.height; y++)
          for (let x = mask.left; x < mask.left + mask.width; x++)
            if (coverAt(mask, x, y) > SEEN) ids[y * this.raster.width + x] = -1;
      return;
    }
    const known = this.pictureOperators.some(
      (p) => p.content.key === content.key && p.operator.from === operator.from,
    );
    if (!known) this.pictureOperators.push({ content, operator, object });
    const space = this.get(dict, 'ColorSpace');
    const { name, space: kind } = space
      ? this.inWords({ space, values: [1, 1, 1, 1] })
      : { name: '', space: 'a space of its own' };
    // a picture has many numbers
    const called = name ? name.replaceAll(' + ', ', ') : kind.replace(/(?: -?\d+)+/, '');
    this.pictures.set(called, (this.pictures.get(called) ?? new Set()).add(object));
  }

  protected override shading(object: Pdf.PDFObject, _name: string, state: State): void {
    if (this.wanted) return;
    const parts = this.shadeOf(object, state.layers);
    const { width, height } = this.raster;
    if (parts)
      this.seen(
        parts,
        this.raster.fill([
          [
            [0, 0],
            [width, 0],
            [width, height],
            [0, height],
          ],
        ]),
        state,
      );
  }

  protected override tiles(pattern: Pdf.PDFObject): boolean {
    const key = this.keyOf(pattern);
    if (this.ids || this.wanted || key === undefined || this.tiled.has(key)) return false;
    this.tiled.add(key);
    return true;
  }

  /** The parts of a pattern's own content. */
  private partsIn(pattern: Pdf.PDFObject): number[] {
    const key = this.keyOf(pattern);
    const first = this.parts.find((p) => p.key.startsWith(`${key}:`));
    return first ? [first.id] : [];
  }

  /** The parts of a gradient; null for one that is not read. @param object a shading, or a pattern of one */
  private shadeOf(object: Pdf.PDFObject, layers: readonly string[]): number[] | null {
    const dict = this.dictOf(object);
    const isPattern = this.objects.number(this.get(dict, 'PatternType')) === 2;
    if (!dict || (!isPattern && this.objects.number(this.get(dict, 'ShadingType')) === null)) return null;
    const given = isPattern ? dict.get(this.lib.PDFName.of('Shading')) : object;
    const ref = given instanceof this.lib.PDFRef ? given : object;
    const shading = this.dictOf(given);
    if (!(ref instanceof this.lib.PDFRef) || !shading) return null;
    const known = this.shades.get(ref.tag);
    if (known) return known.stops.map((s) => s.part);
    const space = shading.get(this.lib.PDFName.of('ColorSpace'));
    const stops = this.stopsOf(shading);
    if (!stops || !space) {
      this.passed.add('shadings whose colours lie on a net or follow a program');
      return null;
    }
    const made = stops.map(({ at, values }, i) => {
      const paint: Paint = { space, values, pattern: null, site: null };
      return { at, values, found: this.part(`s${ref.objectNumber} ${i} stop`, 'stop', paint, layers) };
    });
    if (!made.every((m) => m.found)) return null;
    const own = made.map(({ at, values, found }) => ({ at, values, part: found!.part.id }));
    for (const { part } of own) this.parts[part]!.gradient = own[0]!.part;
    this.shades.set(ref.tag, { ref, shading, stops: own });
    return own.map((s) => s.part);
  }
}

/** Pieces of a curve that a cutter follows. */
const FINE_CURVE = 48;

function inverse([a, b, c, d, e, f]: Matrix): Matrix {
  const det = a * d - b * c || 1;
  return [d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det];
}

/** From this part of a pixel on something is seen there. */
const SEEN = 0.3;

import type * as Pdf from '@cantoo/pdf-lib';
import { type Color, type Condition, convert } from '../color/index.ts';
import { PdfObjects } from './objects.ts';
import { coverAt, intersection, type Mask, type Point, Raster } from './raster.ts';
import { tokensOf } from './tokens.ts';

// How much of a page each ink covers: its areas, lines and pictures in a small raster, ink by ink. Text is estimated, as its fonts
// are not drawn.

type Matrix = readonly [number, number, number, number, number, number];
/** Amounts of inks, 0–1; null paints nothing. */
type Inks = ReadonlyMap<string, number> | null;
type Reader = (values: number[]) => Inks;

const PROCESS = ['Cyan', 'Magenta', 'Yellow', 'Black'];
/** Pixels on the longer side. */
const SIDE = 240;
/** A letter covers about this part of a box half as wide as it is high (common practice, no source). */
const LETTER = 0.17;
const MAX_DEPTH = 12;
/** Of a page with its forms: one that holds itself would never end. */
const MAX_STEPS = 2_000_000;
/** Edges and pixels, likewise. */
const MAX_WORK = 400_000_000;
/** Parts that a curve is divided in. */
const CURVE = 8;

/** Short names of pictures that are written into a page (ISO 32000-1, tables 93 and 94). */
const SHORT: Record<string, string> = {
  ...{
    BPC: 'BitsPerComponent',
    CS: 'ColorSpace',
    D: 'Decode',
    F: 'Filter',
    H: 'Height',
    IM: 'ImageMask',
    W: 'Width',
  },
  ...{ G: 'DeviceGray', RGB: 'DeviceRGB', CMYK: 'DeviceCMYK', I: 'Indexed' },
  ...{
    AHx: 'ASCIIHexDecode',
    A85: 'ASCII85Decode',
    LZW: 'LZWDecode',
    Fl: 'FlateDecode',
    RL: 'RunLengthDecode',
  },
  ...{ CCF: 'CCITTFaxDecode', DCT: 'DCTDecode' },
};

const times = (m: Matrix, n: Matrix): Matrix => [
  m[0] * n[0] + m[1] * n[2],
  m[0] * n[1] + m[1] * n[3],
  m[2] * n[0] + m[3] * n[2],
  m[2] * n[1] + m[3] * n[3],
  m[4] * n[0] + m[5] * n[2] + n[4],
  m[4] * n[1] + m[5] * n[3] + n[5],
];
const through = ([a, b, c, d, e, f]: Matrix, [x, y]: Point): Point => [a * x + c * y + e, b * x + d * y + f];

interface State {
  matrix: Matrix;
  clip: Mask | null;
  fill: Inks;
  stroke: Inks;
  fillSpace: Reader;
  strokeSpace: Reader;
  /** It is laid over what is there, on other plates (8.6.7). */
  fillOver: boolean;
  strokeOver: boolean;
  fillAlpha: number;
  strokeAlpha: number;
  lineWidth: number;
  fontSize: number;
}

/** Finds what inks cover on pages. */
export class PdfCoverage extends PdfObjects {
  /** What could not be counted, in words. */
  readonly passed = new Set<string>();
  private raster = new Raster(1, 1);
  private planes = new Map<string, Float32Array>();
  /** Words of the page's content that were looked at. */
  private steps = 0;

  constructor(
    lib: typeof Pdf,
    context: Pdf.PDFContext,
    private readonly condition: Condition,
  ) {
    super(lib, context);
  }

  /** The part of a page that each ink covers, 0–1, tints by how much ink they have. @param box of the page, points */
  page(page: Pdf.PDFPage, box: { x: number; y: number; width: number; height: number }): Map<string, number> {
    const scale = SIDE / Math.max(box.width, box.height, 1);
    this.raster = new Raster(
      Math.max(1, Math.round(box.width * scale)),
      Math.max(1, Math.round(box.height * scale)),
    );
    this.planes = new Map();
    this.steps = 0;
    const contents = this.at(page.node.get(this.lib.PDFName.of('Contents')));
    const parts = contents instanceof this.lib.PDFArray ? contents.asArray() : [contents];
    const text = parts.map((p) => this.textOf(p)).join('\n');
    const black: Inks = new Map([['Black', 1]]);
    const gray = this.deviceReader('gray');
    this.run(text, this.dictOf(page.node.Resources()), {
      // from points, upwards, to pixels, downwards
      matrix: [scale, 0, 0, -scale, -box.x * scale, (box.y + box.height) * scale],
      clip: null,
      ...{ fill: black, stroke: black, fillSpace: gray, strokeSpace: gray },
      ...{ fillOver: false, strokeOver: false, fillAlpha: 1, strokeAlpha: 1, lineWidth: 1, fontSize: 0 },
    });
    const found = new Map<string, number>();
    for (const [ink, plane] of this.planes)
      found.set(ink, plane.reduce((sum, v) => sum + v, 0) / this.raster.size);
    return found;
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

  /** A table of colours (8.6.6.3). */
  private table(space: Pdf.PDFArray, depth: number): Reader {
    const base = this.at(space.get(1));
    const read = this.reader(base, depth + 1);
    const names = base instanceof this.lib.PDFArray ? this.inkNames(base) : null;
    const count = names?.length ?? this.plain(base)?.count ?? 0;
    const given = this.at(space.get(3));
    const bytes =
      given instanceof this.lib.PDFString || given instanceof this.lib.PDFHexString
        ? given.asBytes()
        : this.streamBytes(given);
    return ([index = 0]) => {
      const at = Math.round(index) * count;
      if (count === 0 || at + count > bytes.length) return null;
      return read(Array.from({ length: count }, (_, i) => bytes[at + i]! / 255));
    };
  }

  /** Lays inks on what a mask covers; other inks are taken away there, unless they are overprinted. */
  private lay(mask: Mask, inks: Inks, alpha: number, over: boolean, clip: Mask | null): void {
    if (!inks) return;
    const all = inks.get('All');
    const amounts =
      all === undefined ? inks : new Map([...this.planes.keys(), ...PROCESS].map((n) => [n, all]));
    for (const name of amounts.keys())
      if (!this.planes.has(name)) this.planes.set(name, new Float32Array(this.raster.size));
    const { left, top, width, height } = mask;
    for (let y = top; y < top + height; y++)
      for (let x = left; x < left + width; x++) {
        const part = coverAt(mask, x, y) * (clip ? coverAt(clip, x, y) : 1) * alpha;
        if (part > 0) this.pixel(y * this.raster.width + x, part, amounts, over);
      }
  }

  private run(text: string, resources: Pdf.PDFDict | null, begin: State, depth = 0): void {
    const of = (kind: string, name: string | undefined) =>
      name === undefined ? undefined : this.get(this.dictOf(this.get(resources, kind)), name);
    let now: State = { ...begin };
    const before: State[] = [];
    let paths: Point[][] = [];
    let closing: boolean | null = null;
    let letters = 0;
    let inline = '';
    let at: Point = [0, 0];
    const point = (x = 0, y = 0): Point => {
      at = [x, y];
      return through(now.matrix, at);
    };
    const draw = (fill: 'nonzero' | 'evenodd' | null, stroke: boolean) => {
      if (fill)
        this.lay(
          this.raster.fill(paths, fill === 'evenodd'),
          now.fill,
          now.fillAlpha,
          now.fillOver,
          now.clip,
        );
      if (stroke) {
        const [a, b, c, d] = now.matrix;
        const width = now.lineWidth * Math.sqrt(Math.abs(a * d - b * c));
        this.lay(this.raster.stroke(paths, width), now.stroke, now.strokeAlpha, now.strokeOver, now.clip);
      }
      if (closing !== null) {
        const inside = this.raster.fill(paths, closing);
        now.clip = now.clip ? intersection(inside, now.clip) : inside;
      }
      [paths, closing] = [[], null];
    };
    const close = () => {
      const last = paths.at(-1);
      if (last?.[0]) last.push(last[0]);
    };
    const curve = (a: Point, b: Point, end: Point) => {
      const from = at;
      for (let i = 1; i <= CURVE; i++) {
        const t = i / CURVE;
        const u = 1 - t;
        const blend = (k: 0 | 1) =>
          u * u * u * from[k] + 3 * u * u * t * a[k] + 3 * u * t * t * b[k] + t * t * t * end[k];
        paths.at(-1)?.push(through(now.matrix, [blend(0), blend(1)]));
      }
      at = end;
    };
    let operands: string[] = [];
    for (const token of tokensOf(text, true)) {
      if (++this.steps > MAX_STEPS || this.raster.work > MAX_WORK) {
        this.passed.add('the rest of very complex pages');
        return;
      }
      if (/^[(<]/.test(token)) {
        letters += token.startsWith('(') ? token.length - 2 : (token.length - 2) / 4;
        continue;
      }
      if (token.startsWith('\0')) {
        inline = token.slice(1);
        continue;
      }
      if (/^[-+.\d/]|^(?:true|false)$/.test(token)) {
        operands.push(token);
        if (operands.length > 64) operands = operands.slice(-32);
        continue;
      }
      if (token === 'EI') {
        this.inlinePicture(operands, inline, resources, now);
        operands = [];
        continue;
      }
      const v = operands.filter((o) => !o.startsWith('/')).map(Number);
      const name = operands.findLast((o) => o.startsWith('/'))?.slice(1);
      operands = [];
      const side = token === token.toUpperCase() ? 'stroke' : 'fill';
      switch (token) {
        case 'q':
          if (before.length < 500) before.push({ ...now });
          break;
        case 'Q':
          now = before.pop() ?? now;
          break;
        case 'cm':
          if (v.length >= 6) now.matrix = times(v.slice(0, 6) as unknown as Matrix, now.matrix);
          break;
        case 'w':
          now.lineWidth = v[0] ?? now.lineWidth;
          break;
        case 'm':
          paths.push([point(v[0], v[1])]);
          break;
        case 'l':
          paths.at(-1)?.push(point(v[0], v[1]));
          break;
        case 'c':
          curve([v[0]!, v[1]!], [v[2]!, v[3]!], [v[4]!, v[5]!]);
          break;
        case 'v':
          curve(at, [v[0]!, v[1]!], [v[2]!, v[3]!]);
          break;
        case 'y':
          curve([v[0]!, v[1]!], [v[2]!, v[3]!], [v[2]!, v[3]!]);
          break;
        case 'h':
          close();
          break;
        case 're': {
          const [x = 0, y = 0, w = 0, h = 0] = v;
          const corners: [number, number][] = [
            [x, y],
            [x + w, y],
            [x + w, y + h],
            [x, y + h],
            [x, y],
          ];
          paths.push(corners.map(([a, b]) => point(a, b)));
          break;
        }
        case 'f':
        case 'F':
          draw('nonzero', false);
          break;
        case 'f*':
          draw('evenodd', false);
          break;
        case 's':
        case 'S':
          if (token === 's') close();
          draw(null, true);
          break;
        case 'b':
        case 'B':
        case 'b*':
        case 'B*':
          if (token.startsWith('b')) close();
          draw(token.endsWith('*') ? 'evenodd' : 'nonzero', true);
          break;
        case 'n':
          draw(null, false);
          break;
        case 'W':
        case 'W*':
          closing = token === 'W*';
          break;
        case 'g':
        case 'G':
          now[side] = this.deviceReader('gray')(v);
          break;
        case 'rg':
        case 'RG':
          now[side] = this.deviceReader('rgb')(v);
          break;
        case 'k':
        case 'K':
          now[side] = this.deviceReader('cmyk')(v);
          break;
        case 'cs':
        case 'CS':
          now[`${side}Space`] = this.reader(
            of('ColorSpace', name) ?? (name ? this.lib.PDFName.of(name) : undefined),
          );
          break;
        case 'sc':
        case 'scn':
        case 'SC':
        case 'SCN':
          if (name !== undefined) this.passed.add('patterns');
          now[side] = name === undefined ? now[`${side}Space`](v) : null;
          break;
        case 'gs': {
          const state = this.dictOf(of('ExtGState', name));
          const flag = (key: string) => {
            const value = this.get(state, key);
            return value === undefined ? undefined : String(value) === 'true';
          };
          now.strokeOver = flag('OP') ?? now.strokeOver;
          now.fillOver = flag('op') ?? flag('OP') ?? now.fillOver;
          now.fillAlpha = this.objects.number(this.get(state, 'ca')) ?? now.fillAlpha;
          now.strokeAlpha = this.objects.number(this.get(state, 'CA')) ?? now.strokeAlpha;
          break;
        }
        case 'sh':
          this.passed.add('shadings');
          break;
        case 'Tf':
          now.fontSize = v[0] ?? now.fontSize;
          break;
        case 'Tj':
        case 'TJ':
        case "'":
        case '"':
          this.write(letters, now);
          letters = 0;
          break;
        case 'Do':
          if (depth < MAX_DEPTH) this.object(of('XObject', name), resources, now, depth);
          break;
      }
    }
  }

  /** Text as so much of the ink it is written with, spread over the whole page. */
  private write(letters: number, { matrix, fontSize, fill, fillAlpha }: State): void {
    if (!fill || letters === 0) return;
    this.passed.add('text');
    const [a, b, c, d] = matrix;
    const area = letters * 0.5 * fontSize * fontSize * Math.abs(a * d - b * c) * LETTER;
    for (const [name, amount] of fill) {
      if (amount === 0 || name === 'All') continue;
      const plane = this.planes.get(name) ?? new Float32Array(this.raster.size);
      this.planes.set(name, plane);
      const more = (area * amount * fillAlpha) / this.raster.size;
      for (let i = 0; i < plane.length; i++) plane[i] = Math.min(1, plane[i]! + more);
    }
  }

  private object(
    object: Pdf.PDFObject | undefined,
    resources: Pdf.PDFDict | null,
    now: State,
    depth: number,
  ): void {
    const dict = this.dictOf(object);
    const kind = this.nameOf(this.get(dict, 'Subtype'));
    if (!object || !dict) return;
    if (kind === 'Form') {
      const matrix = this.numbers(this.get(dict, 'Matrix'));
      const inner = matrix.length === 6 ? times(matrix as unknown as Matrix, now.matrix) : now.matrix;
      const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = this.numbers(this.get(dict, 'BBox'));
      const box = this.raster.fill([
        (
          [
            [x0, y0],
            [x1, y0],
            [x1, y1],
            [x0, y1],
          ] as const
        ).map((p) => through(inner, p)),
      ]);
      const clip = now.clip ? intersection(box, now.clip) : box;
      const own = this.dictOf(this.get(dict, 'Resources')) ?? resources;
      this.run(this.textOf(object), own, { ...now, matrix: inner, clip }, depth + 1);
    } else if (kind === 'Image') this.picture(object, dict, now);
  }

  /** A picture that is written into the page, with short names for what it says (8.9.7). */
  private inlinePicture(
    words: readonly string[],
    data: string,
    resources: Pdf.PDFDict | null,
    now: State,
  ): void {
    const dict = this.context.obj({});
    const { PDFName, PDFNumber, PDFBool } = this.lib;
    let key: string | null = null;
    for (const word of words) {
      if (key === null) {
        key = word.startsWith('/') ? (SHORT[word.slice(1)] ?? word.slice(1)) : null;
        continue;
      }
      const name = word.startsWith('/') ? (SHORT[word.slice(1)] ?? word.slice(1)) : null;
      const space =
        name && key === 'ColorSpace'
          ? this.get(this.dictOf(this.get(resources, 'ColorSpace')), name)
          : undefined;
      if (key !== 'Decode')
        dict.set(
          PDFName.of(key),
          space ??
            (name
              ? PDFName.of(name)
              : /^[tf]/.test(word)
                ? word === 'true'
                  ? PDFBool.True
                  : PDFBool.False
                : PDFNumber.of(Number(word))),
        );
      key = null;
    }
    const bytes = Uint8Array.from(data, (c) => c.charCodeAt(0));
    this.picture(this.lib.PDFRawStream.of(dict, bytes), dict, now);
  }

  /** A picture, pixel by pixel of the raster. */
  private picture(object: Pdf.PDFObject, dict: Pdf.PDFDict, now: State): void {
    const square = (
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ] as const
    ).map((p) => through(now.matrix, p));
    const mask = this.raster.fill([square]);
    if (String(this.get(dict, 'ImageMask')) === 'true') {
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
    const seen = new Map<number, Inks>();
    for (let i = 0; i < mask.data.length; i++) {
      if (!mask.data[i]) continue;
      const [x, y] = [mask.left + (i % mask.width), mask.top + Math.floor(i / mask.width)];
      const [px, py] = [x + 0.5 - e, y + 0.5 - f];
      const [u, w] = [(d * px - c * py) / det, (a * py - b * px) / det];
      const column = Math.min(width - 1, Math.max(0, Math.floor(u * width)));
      const row = Math.min(height - 1, Math.max(0, Math.floor((1 - w) * height)));
      const from = (row * width + column) * count;
      let inks = seen.get(from);
      if (inks === undefined) {
        inks = read(
          Array.from({ length: count }, (_, k) => {
            const value = bytes[from + k]!;
            if (isTable) return value;
            const [low = 0, high = 1] = decode.slice(2 * k, 2 * k + 2);
            return low + (value / 255) * (high - low);
          }),
        );
        seen.set(from, inks);
      }
      const part = coverAt(mask, x, y) * (now.clip ? coverAt(now.clip, x, y) : 1) * now.fillAlpha;
      this.pixel(y * this.raster.width + x, part, inks, now.fillOver);
    }
  }

  private pixel(i: number, part: number, inks: Inks, over: boolean): void {
    if (!inks) return;
    for (const name of inks.keys())
      if (!this.planes.has(name)) this.planes.set(name, new Float32Array(this.raster.size));
    for (const [name, plane] of this.planes) {
      const amount = inks.get(name);
      if (amount === undefined && over) continue;
      plane[i] = plane[i]! * (1 - part) + (amount ?? 0) * part;
    }
  }
}

import type * as Pdf from '@cantoo/pdf-lib';
import { type Content, type Operator, operatorsOf, stringBytes } from './content.ts';
import { intersection, type Mask, type Point, Raster } from './raster.ts';
import { PdfSpaces } from './spaces.ts';

// What pages draw, operator by operator (ISO 32000-1, 8 and 9), for everything that asks what is painted where and with what.

/** x' = a x + c y + e, y' = b x + d y + f. */
export type Matrix = readonly [number, number, number, number, number, number];

/** Where a colour was set: the operator, and for `sc` that of its space. */
export interface Site {
  content: Content;
  from: number;
  to: number;
  space: { from: number; to: number } | null;
}

/** What is painted with. */
export interface Paint {
  /** A colour space as it stands in the file, or its name. */
  space: Pdf.PDFObject;
  values: readonly number[];
  /** What it is painted through, and what that is called. */
  pattern: { object: Pdf.PDFObject; name: string } | null;
  /** Null for the black that everything begins with. */
  site: Site | null;
}

export interface State {
  matrix: Matrix;
  clip: Mask | null;
  fill: Paint;
  stroke: Paint;
  /** What `sc` refers to. */
  fillSpace: Space;
  strokeSpace: Space;
  /** It is laid over what is there, on other plates (8.6.7). */
  fillOver: boolean;
  strokeOver: boolean;
  fillAlpha: number;
  strokeAlpha: number;
  lineWidth: number;
  text: TextState;
  /** The names of the layers it lies in, the inmost last. */
  layers: readonly string[];
}
interface Space {
  object: Pdf.PDFObject;
  at: { from: number; to: number } | null;
  content: Content | null;
}
interface TextState {
  font: Font | null;
  size: number;
  /** How it is painted (9.3.6). */
  mode: number;
  letterGap: number;
  wordGap: number;
  stretch: number;
  leading: number;
  rise: number;
}
/** What is known of a font: how far each letter goes on, in thousandths of its size. */
interface Font {
  bytes: 1 | 2;
  width(code: number): number;
}

/** A path that is painted. */
export interface Shape {
  /** In pixels of the raster. */
  paths: Point[][];
  fill: 'nonzero' | 'evenodd' | null;
  stroke: boolean;
  state: State;
  content: Content;
  /** Where its path begins. */
  from: number;
  operator: Operator;
}
/** A piece of text that is painted. */
export interface Writing {
  /** Its box, in pixels of the raster. */
  box: Point[];
  letters: number;
  fill: boolean;
  stroke: boolean;
  state: State;
  content: Content;
  operator: Operator;
  /** Where the text object begins it is in. */
  begin: number;
}
/** A picture: an object of the file, or one in the stream. */
export interface Placed {
  object: Pdf.PDFObject;
  dict: Pdf.PDFDict;
  stencil: boolean;
  /** Where it lies, in pixels of the raster. */
  square: Point[];
  state: State;
  content: Content;
  operator: Operator;
}

const MAX_DEPTH = 12;
/** Of a page with its forms: those that hold several of others, and so on, would take for ever. */
const MAX_STEPS = 2_000_000;
/** What drawing a form costs, in operators. */
const FORM_STEPS = 200;
/** Edges and pixels, likewise. */
const MAX_WORK = 250_000_000;
const MAX_STATES = 500;
/** Content of forms that is held, characters. */
const MAX_KEPT = 32_000_000;
/** For curves on a raster of a few hundred pixels. */
const CURVE = 8;
/** Of a letter whose font says nothing, in thousandths of its size (common practice, no source). */
const PLAIN_WIDTH = 500;
/** How far letters reach above and below their line, in sizes (common practice, no source). */
const [ABOVE, BELOW] = [0.75, 0.2];

const UNIT: Matrix = [1, 0, 0, 1, 0, 0];
/** The first six of some numbers, where there are six. */
function matrixIn([a, b, c, d, e, f]: readonly number[]): Matrix | null {
  return a === undefined ||
    b === undefined ||
    c === undefined ||
    d === undefined ||
    e === undefined ||
    f === undefined
    ? null
    : [a, b, c, d, e, f];
}
export const times = (m: Matrix, n: Matrix): Matrix => [
  m[0] * n[0] + m[1] * n[2],
  m[0] * n[1] + m[1] * n[3],
  m[2] * n[0] + m[3] * n[2],
  m[2] * n[1] + m[3] * n[3],
  m[4] * n[0] + m[5] * n[2] + n[4],
  m[4] * n[1] + m[5] * n[3] + n[5],
];
export const through = ([a, b, c, d, e, f]: Matrix, [x, y]: Point): Point => [
  a * x + c * y + e,
  b * x + d * y + f,
];
/** How much larger something is drawn than it is written. */
export const scaleOf = ([a, b, c, d]: Matrix): number => Math.sqrt(Math.abs(a * d - b * c));

/** The corners of a box. */
const corners = (x0: number, y0: number, x1: number, y1: number): Point[] => [
  [x0, y0],
  [x1, y0],
  [x1, y1],
  [x0, y1],
];

/** Pictures fill a square of a unit (8.9.3). */
const squareOf = ({ matrix }: State) => corners(0, 0, 1, 1).map((p) => through(matrix, p));

/** Short names of pictures that are written into a page (ISO 32000-1, tables 93 and 94). */
const SHORT: Record<string, string> = {
  BPC: 'BitsPerComponent',
  CS: 'ColorSpace',
  D: 'Decode',
  F: 'Filter',
  H: 'Height',
  IM: 'ImageMask',
  W: 'Width',
  G: 'DeviceGray',
  RGB: 'DeviceRGB',
  CMYK: 'DeviceCMYK',
  I: 'Indexed',
  AHx: 'ASCIIHexDecode',
  A85: 'ASCII85Decode',
  LZW: 'LZWDecode',
  Fl: 'FlateDecode',
  RL: 'RunLengthDecode',
  CCF: 'CCITTFaxDecode',
  DCT: 'DCTDecode',
};

/** What paths, texts and forms end with (8.5.3): what is filled, what is stroked, whether it is closed before. */
const PAINTS: Record<string, { fill: Shape['fill']; stroke: boolean; close?: boolean }> = {
  f: { fill: 'nonzero', stroke: false },
  F: { fill: 'nonzero', stroke: false },
  'f*': { fill: 'evenodd', stroke: false },
  S: { fill: null, stroke: true },
  s: { fill: null, stroke: true, close: true },
  B: { fill: 'nonzero', stroke: true },
  'B*': { fill: 'evenodd', stroke: true },
  b: { fill: 'nonzero', stroke: true, close: true },
  'b*': { fill: 'evenodd', stroke: true, close: true },
  n: { fill: null, stroke: false },
};

/** The part of a page that is looked at, points. */
export interface PageBox {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Follows what pages draw; what is made of it is up to those that extend it. */
export abstract class PdfInterpreter extends PdfSpaces {
  /** What could not be followed, in words. */
  readonly passed = new Set<string>();
  protected raster = new Raster(1, 1);
  /** Pixels of the raster in a point. */
  protected unit = 1;
  /** From points of the page to pixels of the raster. */
  protected base: Matrix = UNIT;
  /** Parts that a curve is divided in. */
  protected curve = CURVE;
  /** Operators that were looked at. */
  private steps = 0;
  private readonly contents = new Map<string, Content>();
  private kept = 0;
  /** The forms that are being drawn, one in the other. */
  private readonly inside = new Set<string>();
  private readonly fonts = new Map<Pdf.PDFObject, Font>();

  protected abstract shape(shape: Shape): void;
  protected abstract writing(writing: Writing): void;
  protected abstract picture(placed: Placed): void;
  /** A shading over all that is seen. */
  protected abstract shading(
    shading: Pdf.PDFObject,
    name: string,
    state: State,
    content: Content,
    operator: Operator,
  ): void;
  /** A pattern of its own colours, whose content was not painted yet. */
  protected tiles(_pattern: Pdf.PDFObject, _state: State): boolean {
    return false;
  }

  /** What a page draws. @param side of the raster that is longer, pixels */
  protected follow(page: Pdf.PDFPage, box: PageBox, side: number): void {
    const scale = side / Math.max(box.width, box.height, 1);
    const [w, h] = [box.width * scale, box.height * scale];
    const turn = (((page.getRotation().angle % 360) + 360) % 360) as 0 | 90 | 180 | 270;
    const [wide, high] = turn % 180 === 0 ? [w, h] : [h, w];
    this.raster = new Raster(Math.max(1, Math.round(wide)), Math.max(1, Math.round(high)), MAX_WORK);
    this.unit = scale;
    this.steps = 0;
    this.inside.clear();
    // as the page is shown, clockwise (7.7.3.3)
    const turned: Record<number, Matrix> = {
      90: [0, 1, -1, 0, h, 0],
      180: [-1, 0, 0, -1, w, h],
      270: [0, -1, 1, 0, 0, w],
    };
    this.base = times(
      [scale, 0, 0, -scale, -box.x * scale, (box.y + box.height) * scale],
      turned[turn] ?? UNIT,
    );
    const gray = this.lib.PDFName.of('DeviceGray');
    const black: Paint = { space: gray, values: [0], pattern: null, site: null };
    const space: Space = { object: gray, at: null, content: null };
    const begin: State = {
      // from points, upwards, to pixels, downwards
      matrix: this.base,
      clip: null,
      ...{ fill: black, stroke: black, fillSpace: space, strokeSpace: space },
      ...{ fillOver: false, strokeOver: false, fillAlpha: 1, strokeAlpha: 1, lineWidth: 1 },
      text: {
        ...{ font: null, size: 0, mode: 0, letterGap: 0, wordGap: 0, stretch: 1, leading: 0, rise: 0 },
      },
      layers: [],
    };
    this.run(this.pageContent(page), begin);
    for (const one of this.objects.list(this.get(page.node, 'Annots'))) this.annotation(one, begin);
  }

  /** What a page draws of its own. */
  pageContent(page: Pdf.PDFPage): Content {
    const key = `p${page.ref.objectNumber}`;
    const given = page.node.get(this.lib.PDFName.of('Contents'));
    const list = this.at(given);
    const refs = (list instanceof this.lib.PDFArray ? list.asArray() : [given]).filter(
      (r): r is Pdf.PDFRef => r instanceof this.lib.PDFRef,
    );
    let text = '';
    const pieces = refs.map((ref) => {
      const own = this.textOf(ref);
      const from = text.length;
      // a line ends between two pieces
      text += `${own}\n`;
      return { ref, from, to: from + own.length };
    });
    return { key, text, pieces, owner: page.ref, resources: this.dictOf(page.node.Resources()) };
  }

  private refOf(object: Pdf.PDFObject): Pdf.PDFRef | null {
    if (object instanceof this.lib.PDFRef) return object;
    return this.context.getObjectRef(object) ?? null;
  }
  /** The key of what a form or pattern draws. */
  protected keyOf(object: Pdf.PDFObject): string | undefined {
    const ref = this.refOf(object);
    return ref ? String(ref.objectNumber) : undefined;
  }

  /** What a form or pattern draws. */
  protected contentOf(object: Pdf.PDFObject, outer: Pdf.PDFDict | null): Content | null {
    const stream = this.at(object);
    const ref = this.refOf(object);
    if (!stream || !ref) return null;
    const key = String(ref.objectNumber);
    const known = this.contents.get(key);
    if (known) return known;
    const text = this.textOf(stream);
    const resources = this.dictOf(this.get(this.dictOf(stream), 'Resources')) ?? outer;
    const content = { key, text, pieces: [{ ref, from: 0, to: text.length }], owner: ref, resources };
    // what is drawn again and again is unpacked once
    this.kept += text.length;
    if (this.kept > MAX_KEPT) {
      this.contents.clear();
      this.kept = text.length;
    }
    this.contents.set(key, content);
    return content;
  }

  /** How an annotation looks (12.5.5): its appearance, drawn into its rectangle. */
  private annotation(object: Pdf.PDFObject, begin: State): void {
    const dict = this.dictOf(object);
    // hidden, or not shown (12.5.3)
    if ((this.objects.number(this.get(dict, 'F')) ?? 0) & 0b100010) return;
    let look = this.dictOf(this.get(dict, 'AP'))?.get(this.lib.PDFName.of('N'));
    const inner = this.at(look);
    if (inner instanceof this.lib.PDFDict)
      look = inner.get(this.lib.PDFName.of(this.nameOf(this.get(dict, 'AS')) ?? ''));
    const form = this.dictOf(look);
    const rect = this.numbers(this.get(dict, 'Rect'));
    if (!look || !form || rect.length !== 4) return;
    const matrix = this.matrixOf(form);
    const box = this.numbers(this.get(form, 'BBox'));
    const points = corners(box[0] ?? 0, box[1] ?? 0, box[2] ?? 0, box[3] ?? 0).map((p) => through(matrix, p));
    const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
    const [left, bottom] = [Math.min(...xs), Math.min(...ys)];
    const wide = Math.max(...xs) - left || 1;
    const high = Math.max(...ys) - bottom || 1;
    const [x, y] = [Math.min(rect[0]!, rect[2]!), Math.min(rect[1]!, rect[3]!)];
    const [sx, sy] = [Math.abs(rect[2]! - rect[0]!) / wide, Math.abs(rect[3]! - rect[1]!) / high];
    const placed: Matrix = [sx, 0, 0, sy, x - left * sx, y - bottom * sy];
    this.form(look, form, null, { ...begin, matrix: times(placed, begin.matrix) }, 0);
  }

  private matrixOf(dict: Pdf.PDFDict | null): Matrix {
    const given = this.numbers(this.get(dict, 'Matrix'));
    return (given.length === 6 && given.every(Number.isFinite) && matrixIn(given)) || UNIT;
  }

  protected form(
    object: Pdf.PDFObject,
    dict: Pdf.PDFDict,
    outer: Pdf.PDFDict | null,
    state: State,
    depth: number,
  ): void {
    const content = this.contentOf(object, outer);
    // one that holds itself would be drawn for ever
    if (!content || this.inside.has(content.key)) return;
    this.steps += FORM_STEPS;
    const matrix = times(this.matrixOf(dict), state.matrix);
    const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = this.numbers(this.get(dict, 'BBox'));
    const box = this.raster.fill([corners(x0, y0, x1, y1).map((p) => through(matrix, p))]);
    const clip = state.clip ? intersection(box, state.clip) : box;
    this.raster.work += clip.data.length * 4;
    this.inside.add(content.key);
    this.run(content, { ...state, matrix, clip }, depth + 1);
    this.inside.delete(content.key);
  }

  private run(content: Content, begin: State, depth = 0): void {
    const { text, resources } = content;
    /** As it stands, a reference where it is one. */
    const raw = (kind: string, name: string | undefined) =>
      name === undefined ? undefined : this.dictOf(this.get(resources, kind))?.get(this.lib.PDFName.of(name));
    let now: State = { ...begin };
    const before: State[] = [];
    let paths: Point[][] = [];
    let start = -1;
    let closing: boolean | null = null;
    let at: Point = [0, 0];
    let [line, place]: [Matrix, Matrix] = [UNIT, UNIT];
    let textBegin = 0;
    const marks: (readonly string[])[] = [];
    const point = (x = 0, y = 0): Point => {
      at = [x, y];
      return through(now.matrix, at);
    };
    const draw = (operator: Operator) => {
      const { fill, stroke, close: closes } = PAINTS[operator.name]!;
      if (closes) close();
      if ((fill || stroke) && paths.length > 0)
        this.shape({ paths, fill, stroke, state: now, content, from: start, operator });
      if (fill && now.fill.pattern) this.pattern(now.fill.pattern.object, resources, now, depth);
      if (closing !== null) {
        const inside = this.raster.fill(paths, closing);
        now.clip = now.clip ? intersection(inside, now.clip) : inside;
      }
      [paths, closing, start] = [[], null, -1];
    };
    const close = () => {
      const last = paths.at(-1);
      if (last?.[0]) last.push(last[0]);
    };
    const curve = (a: Point, b: Point, end: Point) => {
      const from = at;
      for (let i = 1; i <= this.curve; i++) {
        const t = i / this.curve;
        const u = 1 - t;
        const blend = (k: 0 | 1) =>
          u * u * u * from[k] + 3 * u * u * t * a[k] + 3 * u * t * t * b[k] + t * t * t * end[k];
        paths.at(-1)?.push(through(now.matrix, [blend(0), blend(1)]));
      }
      at = end;
    };
    const show = (operator: Operator) => {
      const { font, size, mode, letterGap, wordGap, stretch, rise } = now.text;
      let [advance, letters] = [0, 0];
      for (const part of operator.operands) {
        if (!/^[(<]/.test(part)) {
          if (operator.name === 'TJ') advance -= (Number(part) / 1000) * size * stretch;
          continue;
        }
        const bytes = stringBytes(part);
        const wide = font?.bytes ?? 1;
        for (let i = 0; i + wide <= bytes.length; i += wide) {
          const code = wide === 2 ? bytes[i]! * 256 + bytes[i + 1]! : bytes[i]!;
          const gap = letterGap + (wide === 1 && code === 32 ? wordGap : 0);
          advance += (((font?.width(code) ?? PLAIN_WIDTH) / 1000) * size + gap) * stretch;
          letters++;
        }
      }
      if (letters > 0) {
        const matrix = times(place, now.matrix);
        const box = corners(0, rise - BELOW * size, advance, rise + ABOVE * size).map((p) =>
          through(matrix, p),
        );
        const [fill, stroke] = [mode % 4 === 0 || mode % 4 === 2, mode % 4 === 1 || mode % 4 === 2];
        if (fill || stroke)
          this.writing({ box, letters, fill, stroke, state: now, content, operator, begin: textBegin });
      }
      place = times([1, 0, 0, 1, advance, 0], place);
    };
    const next = (x: number, y: number) => {
      line = times([1, 0, 0, 1, x, y], line);
      place = line;
    };
    const set = (
      side: 'fill' | 'stroke',
      paint: Omit<Paint, 'site'>,
      operator: Operator,
      own: Space | null,
    ) => {
      const { from, to } = operator;
      const spaceAt = own?.content === content ? own.at : null;
      now[side] = { ...paint, site: { content, from, to, space: spaceAt } };
    };

    for (const operator of operatorsOf(text)) {
      if (this.raster.isTired) this.passed.add('how much very complex pages have of each');
      if (++this.steps > MAX_STEPS) {
        this.passed.add('the rest of very complex pages');
        return;
      }
      const { name: op, operands, from } = operator;
      const v = operands.filter((o) => /^[-+.\d]/.test(o)).map(Number);
      const name = operands.findLast((o) => o.startsWith('/'))?.slice(1);
      const side = op === op.toUpperCase() ? 'stroke' : 'fill';
      if (start < 0 && /^(?:m|re)$/.test(op)) start = from;
      if (PAINTS[op]) {
        draw(operator);
        continue;
      }
      switch (op) {
        case 'q':
          if (before.length < MAX_STATES) before.push({ ...now });
          break;
        case 'Q':
          now = before.pop() ?? now;
          break;
        case 'cm':
          now.matrix = times(matrixIn(v) ?? UNIT, now.matrix);
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
          paths.push([...corners(x, y, x + w, y + h), [x, y] as const].map(([a, b]) => point(a, b)));
          break;
        }
        case 'W':
        case 'W*':
          closing = op === 'W*';
          break;
        case 'g':
        case 'G':
        case 'rg':
        case 'RG':
        case 'k':
        case 'K': {
          const called = { g: 'DeviceGray', rg: 'DeviceRGB', k: 'DeviceCMYK' }[op.toLowerCase()]!;
          const object = this.lib.PDFName.of(called);
          set(side, { space: object, values: v, pattern: null }, operator, null);
          now[`${side}Space`] = { object, at: null, content };
          break;
        }
        case 'cs':
        case 'CS': {
          const object =
            name === undefined ? undefined : (raw('ColorSpace', name) ?? this.lib.PDFName.of(name));
          if (!object) break;
          const own: Space = { object, at: { from, to: operator.to }, content };
          now[`${side}Space`] = own;
          set(side, { space: object, values: this.firstIn(object), pattern: null }, operator, null);
          break;
        }
        case 'sc':
        case 'scn':
        case 'SC':
        case 'SCN': {
          const own = now[`${side}Space`];
          const object = raw('Pattern', name);
          const pattern = name === undefined || !object ? null : { object, name };
          set(side, { space: own.object, values: v, pattern }, operator, own);
          break;
        }
        case 'gs':
          this.extended(this.dictOf(raw('ExtGState', name)), now);
          break;
        case 'sh': {
          const object = raw('Shading', name);
          if (object) this.shading(object, name!, now, content, operator);
          break;
        }
        case 'BT':
          [line, place, textBegin] = [UNIT, UNIT, from];
          break;
        case 'Tf':
          now.text = { ...now.text, size: v[0] ?? 0, font: this.fontOf(raw('Font', name)) };
          break;
        case 'Tr':
        case 'Tc':
        case 'Tw':
        case 'TL':
        case 'Ts':
        case 'Tz': {
          const key = TEXT_SETTINGS[op]!;
          now.text = { ...now.text, [key]: op === 'Tz' ? (v[0] ?? 100) / 100 : (v[0] ?? 0) };
          break;
        }
        case 'Td':
        case 'TD':
          if (op === 'TD') now.text = { ...now.text, leading: -(v[1] ?? 0) };
          next(v[0] ?? 0, v[1] ?? 0);
          break;
        case 'Tm':
          line = matrixIn(v) ?? line;
          place = line;
          break;
        case 'T*':
          next(0, -now.text.leading);
          break;
        case "'":
        case '"':
          if (op === '"') now.text = { ...now.text, wordGap: v[0] ?? 0, letterGap: v[1] ?? 0 };
          next(0, -now.text.leading);
          show(operator);
          break;
        case 'Tj':
        case 'TJ':
          show(operator);
          break;
        case 'BDC':
        case 'BMC':
          marks.push(now.layers);
          if (op === 'BDC' && operands[0] === '/OC') {
            const group = this.dictOf(raw('Properties', name));
            const title = this.get(group, 'Name');
            const { PDFString, PDFHexString } = this.lib;
            if (title instanceof PDFString || title instanceof PDFHexString)
              now.layers = [...now.layers, title.decodeText()];
          }
          break;
        case 'EMC':
          now.layers = marks.pop() ?? now.layers;
          break;
        case 'EI':
          this.inlinePicture(operator, resources, now, content);
          break;
        case 'Do': {
          const object = raw('XObject', name);
          const dict = this.dictOf(object);
          const kind = this.nameOf(this.get(dict, 'Subtype'));
          if (!object || !dict || depth >= MAX_DEPTH) break;
          if (kind === 'Form') this.form(object, dict, resources, now, depth);
          else if (kind === 'Image') {
            const stencil = String(this.get(dict, 'ImageMask')) === 'true';
            this.picture({ object, dict, stencil, square: squareOf(now), state: now, content, operator });
          }
          break;
        }
      }
    }
  }

  /** A pattern that repeats a piece with colours of its own. */
  private pattern(object: Pdf.PDFObject, outer: Pdf.PDFDict | null, state: State, depth: number): void {
    const dict = this.dictOf(object);
    const kind = (key: string) => this.objects.number(this.get(dict, key));
    if (!dict || kind('PatternType') !== 1 || kind('PaintType') !== 1 || depth >= MAX_DEPTH) return;
    if (this.tiles(object, state)) this.form(object, dict, outer, state, depth);
  }

  /** What an `sc` would have said after `cs` (8.6.5 to 8.6.6). */
  private firstIn(object: Pdf.PDFObject): number[] {
    const space = this.at(object);
    const inks = space instanceof this.lib.PDFArray ? this.inkNames(space) : null;
    if (inks) return inks.map(() => 1);
    const plain = this.plain(space);
    if (plain?.space === 'cmyk') return [0, 0, 0, 1];
    return Array.from({ length: plain?.count ?? 1 }, () => 0);
  }

  private extended(dict: Pdf.PDFDict | null, now: State): void {
    const flag = (key: string) => {
      const value = this.get(dict, key);
      return value === undefined ? undefined : String(value) === 'true';
    };
    now.strokeOver = flag('OP') ?? now.strokeOver;
    now.fillOver = flag('op') ?? flag('OP') ?? now.fillOver;
    now.fillAlpha = this.objects.number(this.get(dict, 'ca')) ?? now.fillAlpha;
    now.strokeAlpha = this.objects.number(this.get(dict, 'CA')) ?? now.strokeAlpha;
    now.lineWidth = this.objects.number(this.get(dict, 'LW')) ?? now.lineWidth;
    const [font, size] = this.objects.list(this.get(dict, 'Font'));
    if (font) now.text = { ...now.text, font: this.fontOf(font), size: this.objects.number(size) ?? 0 };
  }

  /** How wide letters are (9.7.4.3 for fonts of more than 256 of them). */
  private fontOf(object: Pdf.PDFObject | undefined): Font | null {
    const dict = this.dictOf(object);
    if (!dict) return null;
    const known = this.fonts.get(dict);
    if (known) return known;
    const widths = new Map<number, number>();
    let rest = PLAIN_WIDTH;
    let scale = 1;
    const isWide = this.nameOf(this.get(dict, 'Subtype')) === 'Type0';
    if (isWide) {
      const inner = this.dictOf(this.objects.list(this.get(dict, 'DescendantFonts'))[0]);
      rest = this.objects.number(this.get(inner, 'DW')) ?? 1000;
      const list = this.objects.list(this.get(inner, 'W')).slice(0, 70_000);
      for (let i = 0; i + 1 < list.length; ) {
        const first = this.objects.number(list[i]) ?? 0;
        const own = this.at(list[i + 1]);
        if (own instanceof this.lib.PDFArray) {
          this.numbers(own).forEach((w, k) => {
            widths.set(first + k, w);
          });
          i += 2;
        } else {
          const last = Math.min(first + 65_535, this.objects.number(own) ?? first);
          const w = this.objects.number(list[i + 2]) ?? rest;
          for (let k = first; k <= last; k++) widths.set(k, w);
          i += 3;
        }
      }
    } else {
      const first = this.objects.number(this.get(dict, 'FirstChar')) ?? 0;
      this.numbers(this.get(dict, 'Widths')).forEach((w, k) => {
        widths.set(first + k, w);
      });
      // a font of type 3 has a measure of its own (9.6.5)
      const own = this.numbers(this.get(dict, 'FontMatrix'))[0];
      if (own && this.nameOf(this.get(dict, 'Subtype')) === 'Type3') scale = own * 1000;
    }
    const font: Font = {
      bytes: isWide ? 2 : 1,
      width: (code) => {
        const w = widths.get(code);
        return w !== undefined && Number.isFinite(w) ? w * scale : rest;
      },
    };
    this.fonts.set(dict, font);
    return font;
  }

  /** A picture that is written into the page, with short names for what it says (8.9.7). */
  private inlinePicture(
    operator: Operator,
    resources: Pdf.PDFDict | null,
    state: State,
    content: Content,
  ): void {
    const { PDFName, PDFNumber, PDFBool, PDFRawStream } = this.lib;
    const dict = this.context.obj({});
    let key: string | null = null;
    for (const word of operator.operands) {
      const name = word.startsWith('/') ? (SHORT[word.slice(1)] ?? word.slice(1)) : null;
      if (key === null) {
        key = name;
        continue;
      }
      const space =
        name && key === 'ColorSpace'
          ? this.get(this.dictOf(this.get(resources, 'ColorSpace')), name)
          : undefined;
      const plain = /^[tf]/.test(word)
        ? word === 'true'
          ? PDFBool.True
          : PDFBool.False
        : PDFNumber.of(Number(word));
      if (key !== 'Decode') dict.set(PDFName.of(key), space ?? (name ? PDFName.of(name) : plain));
      key = null;
    }
    const bytes = Uint8Array.from(operator.data ?? '', (c) => c.charCodeAt(0));
    const stencil = String(this.get(dict, 'ImageMask')) === 'true';
    const object = PDFRawStream.of(dict, bytes);
    this.picture({ object, dict, stencil, square: squareOf(state), state, content, operator });
  }
}

const TEXT_SETTINGS = {
  Tr: 'mode',
  Tc: 'letterGap',
  Tw: 'wordGap',
  TL: 'leading',
  Ts: 'rise',
  Tz: 'stretch',
} as const satisfies Record<string, keyof TextState>;

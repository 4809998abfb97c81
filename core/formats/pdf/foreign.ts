import type * as Pdf from '@cantoo/pdf-lib';
import type { Color, Space } from '../../color/index.ts';
import { type Tint, tintFunction } from '../../pdf/functions.ts';
import { damagedPdf, loadPdf } from '../../pdf/load.ts';
import { type PdfLib, PdfObjects, type Plain, type Reading } from '../../pdf/objects.ts';
import { tokensOf } from '../../pdf/tokens.ts';
import type { Stop } from '../../swatch/gradient.ts';
import { FormatError } from '../../text/error.ts';
import { plural } from '../../text/text.ts';
import type { Draft } from '../draft.ts';

// Colour spaces and operators: ISO 32000-1, 8.6.

const MAX_PAGES = 200;
/** Colours of one page that somebody chose; a picture in vectors has more. */
const MAX_PAGE_COLORS = 2000;
const MAX_CONTENT_BYTES = 64_000_000;
/** Names of inks that are not spot colours. */
const PROCESS = new Set([
  'All',
  'None',
  'Cyan',
  'Magenta',
  'Yellow',
  'Black',
  'Gray',
  'Red',
  'Green',
  'Blue',
]);

/** A color as it is painted. */
interface Painted {
  color: Color;
  alpha?: number;
}

/** What is painted with, until `Q` brings back what was before. */
interface State {
  fill: Color | null;
  stroke: Color | null;
  fillSpace: Reading | null;
  strokeSpace: Reading | null;
  fillAlpha: number;
  strokeAlpha: number;
  /** How text is painted (ISO 32000-1, 9.3.6). */
  textMode: number;
}
const PLAIN_STATE: State = {
  ...{
    fill: null,
    stroke: null,
    fillSpace: null,
    strokeSpace: null,
    fillAlpha: 1,
    strokeAlpha: 1,
    textMode: 0,
  },
};
const MAX_STATES = 200;

/** Operators that paint (ISO 32000-1, 8.5.3, 9.4.3), and with which color. */
const PAINTS: Record<string, ('fill' | 'stroke')[]> = {
  ...Object.fromEntries(['f', 'F', 'f*'].map((o) => [o, ['fill']])),
  ...Object.fromEntries(['S', 's'].map((o) => [o, ['stroke']])),
  ...Object.fromEntries(['B', 'B*', 'b', 'b*'].map((o) => [o, ['fill', 'stroke']])),
};
const TEXT_OPERATORS = new Set(['Tj', 'TJ', "'", '"']);
const TEXT_PAINTS: ('fill' | 'stroke')[][] = [
  ['fill'],
  ['stroke'],
  ['fill', 'stroke'],
  [],
  ['fill'],
  ['stroke'],
  ['fill', 'stroke'],
  [],
];

/**
 * The colours of a PDF: the spot inks of its separations with what stands for them elsewhere, and the process colours its pages
 * are painted with.
 * @throws FormatError when it does not open
 */
export async function readPdf(bytes: Uint8Array, draft: Draft): Promise<void> {
  const lib: PdfLib = await import('@cantoo/pdf-lib');
  const document = await loadPdf(lib, bytes);
  try {
    readDocument(lib, document, draft);
  } catch (error) {
    // the package stumbles over parts that are not what they should be
    throw error instanceof FormatError ? error : damagedPdf();
  }
}

function readDocument(lib: PdfLib, document: Pdf.PDFDocument, draft: Draft): void {
  const reader = new Reader(lib, document.context, draft);
  const spots = reader.inks();
  const pages = document.getPages();
  if (pages.length > MAX_PAGES)
    draft.warn(`It has ${pages.length} pages; the process colours of the first ${MAX_PAGES} were read.`);
  const seen = new Set<string>();
  const perPage = pages.slice(0, MAX_PAGES).map((page) => reader.paints(page.node, seen));
  const painted = perPage.filter((p) => p.length > 0).length;
  const divided = (spots.length > 0 ? 1 : 0) + painted > 1;
  if (spots.length > 0) {
    if (divided) draft.enter('Spot colours');
    for (const { name, color } of spots) draft.add({ name, kind: 'spot', color });
  }
  perPage.forEach((colors, i) => {
    if (colors.length === 0) return;
    if (divided) draft.enter(pages.length > 1 ? `Page ${i + 1}` : 'Process colours');
    for (const painted of colors) draft.add(painted);
  });
  reader.tell();
  draft.name = document.getTitle() ?? '';
  if (draft.count === 0)
    throw new FormatError(
      'nothing in it is painted with a colour of its own; pictures in it are opened in Gather.',
    );
}

class Reader extends PdfObjects {
  private content = 0;
  private unread = 0;
  private readonly passed = {
    pictures: new Set<Pdf.PDFObject>(),
    shadings: new Set<Pdf.PDFObject>(),
    spaces: new Set<string>(),
  };
  private inline = 0;
  private readonly shadings = new Set<Pdf.PDFObject>();
  private gradients = 0;

  constructor(
    lib: PdfLib,
    context: Pdf.PDFContext,
    private readonly draft: Draft,
  ) {
    super(lib, context);
  }

  tell(): void {
    if (this.unread > 0)
      this.draft.warn(
        `${plural(this.unread, 'ink has', 'inks have')} no values that Papillon reads in another colour space, and ${this.unread === 1 ? 'was' : 'were'} left out.`,
      );
    const { pictures, shadings, spaces } = this.passed;
    const images = pictures.size + this.inline;
    if (images > 0)
      this.draft.warn(
        `${plural(images, 'picture in it was', 'pictures in it were')} passed over; take colours from pictures in Gather.`,
      );
    if (shadings.size > 0)
      this.draft.warn(
        `${plural(shadings.size, 'shading', 'shadings')} whose colours lie on a net or follow a program ${shadings.size === 1 ? 'was' : 'were'} left out.`,
      );
    for (const space of spaces)
      this.draft.warn(`Left out: what is painted in ${space}, which has no values that are read.`);
  }

  /** How the operands of `sc` are read in a space; spot inks are swatches already, and have none. */
  private reading(object: Pdf.PDFObject | undefined, depth = 0): Reading | null {
    const plain = this.plain(object);
    if (plain) return (values) => this.colorOf(plain, values);
    const space = this.at(object);
    if (!(space instanceof this.lib.PDFArray) || depth > 4) return null;
    const kind = this.nameOf(space.get(0));
    const inks = this.inkNames(space);
    if (inks) {
      if (!inks.every((name) => name !== null && PROCESS.has(name)) || inks.every((n) => n === 'None'))
        return null;
      return this.tinted(space) ?? this.unreadable('process inks');
    }
    if (kind === 'Indexed') return this.indexed(space, depth) ?? this.unreadable('a table of colours');
    return kind === 'Pattern' || kind === null ? null : this.unreadable(kind);
  }

  /** A space whose colours cannot be told: it is reported once something is painted in it. */
  private unreadable(what: string): Reading {
    return () => {
      this.passed.spaces.add(what);
      return null;
    };
  }

  /** A table of colours (8.6.6.3). Of tints of spot inks there is nothing to add. */
  private indexed(space: Pdf.PDFArray, depth: number): Reading | null {
    const base = this.at(space.get(1));
    if (base instanceof this.lib.PDFArray && this.inkNames(base)?.some((n) => n !== null && !PROCESS.has(n)))
      return () => null;
    const own = this.reading(base, depth + 1);
    const plain = this.plain(base);
    const table = this.at(space.get(3));
    const bytes =
      table instanceof this.lib.PDFString || table instanceof this.lib.PDFHexString
        ? table.asBytes()
        : this.streamBytes(table);
    const inks = base instanceof this.lib.PDFArray ? this.inkNames(base) : null;
    const count = plain?.count ?? inks?.length ?? 0;
    if (!own || count === 0 || bytes.length === 0) return null;
    // a byte goes from the least of its channel to the most; of Lab as its range says
    const range =
      plain?.space === 'lab' && base instanceof this.lib.PDFArray
        ? [0, 100, ...this.rangeOfLab(base)]
        : Array.from({ length: 2 * count }, (_, i) => i % 2);
    return ([index = 0]) => {
      const at = Math.round(index) * count;
      if (at < 0 || at + count > bytes.length) return null;
      return own(
        Array.from({ length: count }, (_, i) => {
          const [low, high] = [range[2 * i]!, range[2 * i + 1]!];
          return low + (bytes[at + i]! / 255) * (high - low);
        }),
      );
    };
  }

  private rangeOfLab(space: Pdf.PDFArray): number[] {
    const range = this.numbers(this.get(this.dictOf(space.get(1)), 'Range'));
    return range.length === 4 ? range : [-100, 100, -100, 100];
  }

  /** The stops of a shading along a line or a circle (8.7.4.5.3–4); null for those of another kind. */
  private stopsOf(shading: Pdf.PDFObject): Omit<Stop, 'ref'>[] | null {
    const dict = this.dictOf(shading);
    const kind = this.objects.number(this.get(dict, 'ShadingType'));
    const given = this.get(dict, 'Function');
    const space = this.at(this.get(dict, 'ColorSpace'));
    const spots = space instanceof this.lib.PDFArray ? this.inkNames(space) : null;
    const read = spots ? this.tinted(space as Pdf.PDFArray) : this.reading(space);
    const inner = this.objects.list(given);
    const list = (inner.length > 0 ? inner : [given]).map((f) => tintFunction(this.objects, f));
    if ((kind !== 2 && kind !== 3) || !read || !list.every((f): f is Tint => f !== null)) return null;
    const [from = 0, to = 1] = this.numbers(this.get(dict, 'Domain'));
    const steps = (inner.length > 0 ? inner : [given]).flatMap((f) => this.placesOf(f, from, to));
    const places = [...new Set(steps)].sort((a, b) => a - b);
    const stops = places.flatMap((x) => {
      const color = read(list.flatMap((f) => f([x]) ?? []));
      return color ? [{ color, at: to > from ? (x - from) / (to - from) : 0 }] : [];
    });
    return stops.length >= 2 ? stops : null;
  }

  /** Where a function of one number bends: at its ends, where it is put together, and in a table at a few places. */
  private placesOf(fn: Pdf.PDFObject | undefined, from: number, to: number): number[] {
    const dict = this.dictOf(fn);
    const kind = this.objects.number(this.get(dict, 'FunctionType'));
    if (kind === 3) return [from, ...this.numbers(this.get(dict, 'Bounds')).slice(0, 60), to];
    const parts =
      kind === 0 ? Math.min(16, Math.max(1, (this.numbers(this.get(dict, 'Size'))[0] ?? 2) - 1)) : 1;
    return Array.from({ length: parts + 1 }, (_, i) => from + ((to - from) * i) / parts);
  }

  /** The colours of a shading, and a gradient of them. */
  private shade(
    shading: Pdf.PDFObject | undefined,
    alpha: number,
    add: (color: Color | null, alpha: number) => void,
  ) {
    if (!shading || this.shadings.has(shading)) return;
    this.shadings.add(shading);
    this.draft.step(10);
    const stops = this.stopsOf(shading);
    if (!stops) {
      this.passed.shadings.add(shading);
      return;
    }
    for (const { color } of stops) add(color, alpha);
    this.draft.addGradient({ name: `Gradient ${++this.gradients}`, way: 'srgb', stops });
  }

  /** The spot inks of every separation in the file, each once. */
  inks(): { name: string; color: Color }[] {
    const found = new Map<string, { name: string; color: Color }>();
    const mixed: { name: string; color: Color | null }[] = [];
    const put = (name: string | null, color: Color | null) => {
      if (name === null || PROCESS.has(name)) return;
      if (!color) this.unread++;
      else found.set(`${name}\n${color.space} ${color.components}`, { name, color });
    };
    const visited = new Set<Pdf.PDFObject>();
    const open: Pdf.PDFObject[] = this.context.enumerateIndirectObjects().map(([, object]) => object);
    for (let object = open.pop(); object; object = open.pop()) {
      // what is referred to is in the list by itself
      if (object instanceof this.lib.PDFRef || visited.has(object)) continue;
      this.draft.step();
      if (object instanceof this.lib.PDFArray) {
        visited.add(object);
        const names = object.size() >= 4 ? this.inkNames(object) : null;
        if (names) {
          const tinted = this.tinted(object);
          names.forEach((name, which) => {
            const color = tinted?.(names.map((_, i) => (i === which ? 1 : 0))) ?? null;
            if (names.length === 1) put(name, color);
            else if (name !== null) mixed.push({ name, color });
          });
        }
        open.push(...object.asArray());
      } else if (object instanceof this.lib.PDFDict || object instanceof this.lib.PDFStream) {
        visited.add(object);
        const dict = object instanceof this.lib.PDFDict ? object : object.dict;
        open.push(...dict.values());
      }
    }
    // an ink that has a separation of its own says there what stands for it, in whatever mixtures it is, too
    const alone = new Set([...found.values()].map((f) => f.name));
    for (const { name, color } of mixed) if (!alone.has(name)) put(name, color);
    return [...found.values()].reverse();
  }

  /** The process colours a page is painted with, in order, those of forms and patterns in it too; none that was seen before. */
  paints(page: Pdf.PDFPageLeaf, seen: Set<string>): Painted[] {
    const found: Painted[] = [];
    const add = (color: Color | null, alpha: number) => {
      if (!color) return;
      const key = `${color.space} ${color.components} ${alpha}`;
      if (seen.has(key) || found.length >= MAX_PAGE_COLORS) return;
      seen.add(key);
      found.push({ color, ...(alpha < 1 ? { alpha } : {}) });
    };
    const contents = this.at(page.get(this.lib.PDFName.of('Contents')));
    const parts = contents instanceof this.lib.PDFArray ? contents.asArray() : [contents];
    const text = parts.map((p) => this.text(p)).join('\n');
    this.paintsIn(text, this.dictOf(page.Resources()), add, new Set(), PLAIN_STATE);
    return found;
  }

  private text(object: Pdf.PDFObject | undefined): string {
    const bytes = this.streamBytes(object);
    this.content += bytes.length;
    if (this.content > MAX_CONTENT_BYTES)
      throw new FormatError(
        'its pages hold more than Papillon looks through. Take out the pages that matter.',
      );
    return new TextDecoder('latin1').decode(bytes);
  }

  private paintsIn(
    text: string,
    resources: Pdf.PDFDict | null,
    add: (color: Color | null, alpha: number) => void,
    inside: Set<Pdf.PDFObject>,
    begin: State,
  ): void {
    const of = (kind: string, name: string | undefined) =>
      name === undefined ? undefined : this.get(this.dictOf(this.get(resources, kind)), name);
    const known = new Map<string, Reading | null>();
    const spaceOf = (name: string) => {
      let found = known.get(name);
      if (found === undefined) {
        found = this.reading(of('ColorSpace', name) ?? this.lib.PDFName.of(name));
        known.set(name, found);
      }
      return found;
    };
    let now: State = { ...begin };
    const before: State[] = [];
    const paint = (sides: readonly ('fill' | 'stroke')[]) => {
      for (const side of sides) add(now[side], side === 'fill' ? now.fillAlpha : now.strokeAlpha);
    };
    const enter = (object: Pdf.PDFObject, own: State) => {
      if (inside.has(object) || inside.size > 20) return;
      this.draft.step();
      const resourcesThere = this.dictOf(this.get(this.dictOf(object), 'Resources')) ?? resources;
      this.paintsIn(this.text(object), resourcesThere, add, new Set([...inside, object]), own);
    };
    const plain = (space: Space, count: number, values: number[]) =>
      this.colorOf({ space, count } as Plain, values);
    const patterned = (side: 'fill' | 'stroke', name: string, values: number[]) => {
      const pattern = of('Pattern', name);
      const alpha = side === 'fill' ? now.fillAlpha : now.strokeAlpha;
      now[side] = null;
      if (!pattern) return;
      const dict = this.dictOf(pattern);
      if (this.objects.number(this.get(dict, 'PatternType')) === 2) {
        this.shade(this.get(dict, 'Shading'), alpha, add);
        return;
      }
      // one without colours is painted in what stands before its name
      if (this.objects.number(this.get(dict, 'PaintType')) === 2) {
        const under = side === 'fill' ? now.fillSpace : now.strokeSpace;
        now[side] = under?.(values) ?? null;
      } else enter(pattern, { ...PLAIN_STATE, fillAlpha: alpha, strokeAlpha: alpha });
    };
    let operands: string[] = [];
    for (const token of tokensOf(text)) {
      if (/^[-+.\d/]/.test(token)) {
        operands.push(token);
        if (operands.length > 64) operands = operands.slice(-32);
        continue;
      }
      const values = operands.filter((o) => !o.startsWith('/')).map(Number);
      const name = operands.findLast((o) => o.startsWith('/'))?.slice(1);
      operands = [];
      const side = token === token.toUpperCase() ? 'stroke' : 'fill';
      const sides = PAINTS[token] ?? (TEXT_OPERATORS.has(token) ? TEXT_PAINTS[now.textMode] : undefined);
      if (sides) {
        paint(sides);
        continue;
      }
      switch (token) {
        case 'q':
          if (before.length < MAX_STATES) before.push({ ...now });
          break;
        case 'Q':
          now = before.pop() ?? now;
          break;
        case 'g':
        case 'G':
          now[side] = plain('gray', 1, values);
          break;
        case 'rg':
        case 'RG':
          now[side] = plain('rgb', 3, values);
          break;
        case 'k':
        case 'K':
          now[side] = plain('cmyk', 4, values);
          break;
        case 'cs':
        case 'CS':
          now[side] = null;
          now[`${side}Space`] =
            name === undefined ? null : (this.underPattern(of('ColorSpace', name)) ?? spaceOf(name));
          break;
        case 'sc':
        case 'scn':
        case 'SC':
        case 'SCN':
          if (name !== undefined) patterned(side, name, values);
          else now[side] = now[`${side}Space`]?.(values) ?? null;
          break;
        case 'gs': {
          const state = this.dictOf(of('ExtGState', name));
          now.fillAlpha = this.objects.number(this.get(state, 'ca')) ?? now.fillAlpha;
          now.strokeAlpha = this.objects.number(this.get(state, 'CA')) ?? now.strokeAlpha;
          break;
        }
        case 'Tr':
          now.textMode = values[0] !== undefined && TEXT_PAINTS[values[0]] ? values[0] : 0;
          break;
        case 'sh':
          this.shade(of('Shading', name), now.fillAlpha, add);
          break;
        case 'EI':
          this.inline++;
          break;
        case 'Do': {
          const object = of('XObject', name);
          const dict = this.dictOf(object);
          const kind = this.nameOf(this.get(dict, 'Subtype'));
          if (object && kind === 'Form') enter(object, { ...now });
          else if (object && kind === 'Image') {
            // a stencil is painted with the colour of the moment
            if (String(this.get(dict, 'ImageMask')) === 'true') paint(['fill']);
            else this.passed.pictures.add(object);
          }
          break;
        }
      }
    }
  }

  /** The space of a pattern that has none of its own, `[/Pattern space]`. */
  private underPattern(object: Pdf.PDFObject | undefined): Reading | null {
    const space = this.at(object);
    if (!(space instanceof this.lib.PDFArray) || this.nameOf(space.get(0)) !== 'Pattern') return null;
    return space.size() > 1 ? this.reading(space.get(1)) : null;
  }
}

import type * as Pdf from '@cantoo/pdf-lib';
import type { Color } from '../../color/index.ts';
import {
  type Paint,
  PdfInterpreter,
  type Placed,
  type Shape,
  type State,
  type Writing,
} from '../../pdf/interpreter.ts';
import { damagedPdf, loadPdf } from '../../pdf/load.ts';
import type { PdfLib, Reading } from '../../pdf/objects.ts';
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
  const perPage = pages.slice(0, MAX_PAGES).map((page) => reader.paints(page));
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

class Reader extends PdfInterpreter {
  private unread = 0;
  private readonly pictures = new Set<Pdf.PDFObject>();
  private readonly strangeShadings = new Set<Pdf.PDFObject>();
  private readonly unreadSpaces = new Set<string>();
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
    const images = this.pictures.size + this.inline;
    if (images > 0)
      this.draft.warn(
        `${plural(images, 'picture in it was', 'pictures in it were')} passed over; take colours from pictures in Gather.`,
      );
    if (this.strangeShadings.size > 0)
      this.draft.warn(
        `${plural(this.strangeShadings.size, 'shading', 'shadings')} whose colours lie on a net or follow a program ${this.strangeShadings.size === 1 ? 'was' : 'were'} left out.`,
      );
    for (const space of this.unreadSpaces)
      this.draft.warn(`Left out: what is painted in ${space}, which has no values that are read.`);
  }

  /** Spot inks are swatches already, and have no color here. */
  protected override inked(space: Pdf.PDFArray, names: readonly (string | null)[]): Reading | null {
    if (!names.every((name) => name !== null && PROCESS.has(name)) || names.every((n) => n === 'None'))
      return null;
    return this.tinted(space) ?? this.unreadable('process inks');
  }

  /** It is reported once something is painted in it. */
  protected override unreadable(what: string): Reading {
    return () => {
      this.unreadSpaces.add(what);
      return null;
    };
  }

  /** The colours of a shading, and a gradient of them. */
  private shade(shading: Pdf.PDFObject | undefined, alpha: number): void {
    const one = this.at(shading);
    if (!one || this.shadings.has(one)) return;
    this.shadings.add(one);
    this.draft.step(10);
    const space = this.at(this.get(this.dictOf(one), 'ColorSpace'));
    const isInk = space instanceof this.lib.PDFArray && this.inkNames(space);
    // of a gradient the spots are colours, too
    const read = isInk ? this.tinted(space) : this.reading(space);
    const stops = (this.stopsOf(one) ?? []).flatMap(({ at, values }): Omit<Stop, 'ref'>[] => {
      const color = read?.(values);
      return color ? [{ color, at }] : [];
    });
    if (stops.length < 2) {
      this.strangeShadings.add(one);
      return;
    }
    for (const { color } of stops) this.add(color, alpha);
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
  paints(page: Pdf.PDFPage): Painted[] {
    this.found = [];
    // where things lie does not matter: a raster of a pixel
    this.follow(page, page.getMediaBox(), 1);
    return this.found;
  }
  private found: Painted[] = [];
  private readonly seen = new Set<string>();
  private readonly tiled = new Set<Pdf.PDFObject>();

  private add(color: Color | null, alpha: number): void {
    if (!color) return;
    const key = `${color.space} ${color.components} ${alpha}`;
    if (this.seen.has(key) || this.found.length >= MAX_PAGE_COLORS) return;
    this.seen.add(key);
    this.found.push({ color, ...(alpha < 1 ? { alpha } : {}) });
  }

  private paint({ pattern, space, values, site }: Paint, alpha: number): void {
    // black that nobody chose
    if (!site) return;
    const dict = this.dictOf(pattern?.object);
    if (this.objects.number(this.get(dict, 'PatternType')) === 2)
      this.shade(this.get(dict, 'Shading'), alpha);
    // one with colours of its own is looked through
    else if (!pattern || this.objects.number(this.get(dict, 'PaintType')) === 2)
      this.add(this.colorIn(space, values), alpha);
  }

  override textOf(object: Pdf.PDFObject | undefined): string {
    const text = super.textOf(object);
    this.content += text.length;
    if (this.content > MAX_CONTENT_BYTES)
      throw new FormatError(
        'its pages hold more than Papillon looks through. Take out the pages that matter.',
      );
    return text;
  }
  private content = 0;

  protected override tiles(pattern: Pdf.PDFObject): boolean {
    const isNew = !this.tiled.has(pattern);
    this.tiled.add(pattern);
    return isNew;
  }

  protected override shape({
    fill,
    stroke,
    state,
  }: Pick<Shape, 'stroke' | 'state'> & { fill: unknown }): void {
    this.draft.step();
    if (fill) this.paint(state.fill, state.fillAlpha);
    if (stroke) this.paint(state.stroke, state.strokeAlpha);
  }

  protected override writing(writing: Writing): void {
    this.shape(writing);
  }

  protected override shading(shading: Pdf.PDFObject, _: string, { fillAlpha }: State): void {
    this.shade(shading, fillAlpha);
  }

  protected override picture({ object, stencil, state, operator }: Placed): void {
    // a stencil is painted with the colour of the moment
    if (stencil) this.paint(state.fill, state.fillAlpha);
    else if (operator.data === undefined) this.pictures.add(object);
    else this.inline++;
  }
}

import type * as Pdf from '@cantoo/pdf-lib';
import type { Color, Space } from '../../color/index.ts';
import { FormatError } from '../../text/error.ts';
import { plural } from '../../text/text.ts';
import type { Draft } from '../draft.ts';
import { tintFunction } from './functions.ts';

// Colour spaces and operators: ISO 32000-1, 8.6.

type Lib = typeof Pdf;

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

/** A colour space as far as it has numbers that we read. */
interface Plain {
  space: Space;
  /** Lab's a* and b* are numbers as they are; all others go from 0 to 1. */
  count: number;
}

/**
 * The colours of a PDF: the spot inks of its separations with what stands for them elsewhere, and the process colours its pages
 * are painted with.
 * @throws FormatError when it does not open
 */
export async function readPdf(bytes: Uint8Array, draft: Draft): Promise<void> {
  const lib: Lib = await import('@cantoo/pdf-lib');
  const document = await load(lib, bytes);
  try {
    readDocument(lib, document, draft);
  } catch (error) {
    // the package stumbles over parts that are not what they should be
    throw error instanceof FormatError ? error : damaged();
  }
}

const damaged = () => new FormatError('the PDF is damaged. Export or download it again.');

function readDocument(lib: Lib, document: Pdf.PDFDocument, draft: Draft): void {
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
    for (const color of colors) draft.add({ color });
  });
  reader.tell();
  draft.name = document.getTitle() ?? '';
  if (draft.count === 0)
    throw new FormatError(
      'nothing in it is painted with a colour of its own; pictures in it are opened in Gather.',
    );
}

async function load(lib: Lib, bytes: Uint8Array): Promise<Pdf.PDFDocument> {
  try {
    return await lib.PDFDocument.load(bytes, { updateMetadata: false, throwOnInvalidObject: false });
  } catch (error) {
    if (error instanceof lib.EncryptedPDFError)
      throw new FormatError('it is locked with a password. Save it without one and open it again.');
    throw damaged();
  }
}

class Reader {
  private content = 0;
  private unread = 0;

  constructor(
    private readonly lib: Lib,
    private readonly context: Pdf.PDFContext,
    private readonly draft: Draft,
  ) {}

  tell(): void {
    if (this.unread > 0)
      this.draft.warn(
        `${plural(this.unread, 'ink has', 'inks have')} no values that Papillon reads in another colour space, and ${this.unread === 1 ? 'was' : 'were'} left out.`,
      );
  }

  private at(object: Pdf.PDFObject | undefined): Pdf.PDFObject | undefined {
    return object instanceof this.lib.PDFRef ? this.context.lookup(object) : object;
  }

  /** A name's text: UTF-8 where it is, else Latin-1 (ISO 32000-1, 7.3.5). */
  private nameOf(object: Pdf.PDFObject | undefined): string | null {
    const name = this.at(object);
    if (!(name instanceof this.lib.PDFName)) return null;
    const bytes = name.asBytes();
    try {
      return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    } catch {
      return new TextDecoder('latin1').decode(bytes);
    }
  }

  private numbers(object: Pdf.PDFObject | undefined): number[] {
    const array = this.at(object);
    if (!(array instanceof this.lib.PDFArray)) return [];
    return array.asArray().map((o) => {
      const number = this.at(o);
      return number instanceof this.lib.PDFNumber ? number.asNumber() : Number.NaN;
    });
  }

  private dictOf(object: Pdf.PDFObject | undefined): Pdf.PDFDict | null {
    const found = this.at(object);
    if (found instanceof this.lib.PDFDict) return found;
    return found instanceof this.lib.PDFStream ? found.dict : null;
  }

  private get(dict: Pdf.PDFDict | null, key: string): Pdf.PDFObject | undefined {
    return this.at(dict?.get(this.lib.PDFName.of(key)));
  }

  private streamBytes(object: Pdf.PDFObject | undefined): Uint8Array {
    const stream = this.at(object);
    try {
      if (stream instanceof this.lib.PDFRawStream) return this.lib.decodePDFRawStream(stream).decode();
    } catch {
      // a filter that is not known, or damage inside of it
    }
    return new Uint8Array();
  }

  /** A space that has numbers as we know them; null for patterns, tables of colours and inks. */
  private plain(object: Pdf.PDFObject | undefined): Plain | null {
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

  private colorOf(space: Plain, values: number[]): Color | null {
    const components = values.slice(0, space.count);
    if (components.length !== space.count || !components.every(Number.isFinite)) return null;
    if (space.space === 'lab') return { space: 'lab', components };
    // beyond its range a value counts as its end (ISO 32000-1, 8.6.4)
    return { space: space.space, components: components.map((v) => Math.min(1, Math.max(0, v))) };
  }

  /** What an ink at full strength, alone, becomes in the alternate space. */
  private alternate(array: Pdf.PDFArray, inks: number, which: number): Color | null {
    const space = this.plain(array.get(2));
    const tint = tintFunction(
      {
        number: (o) => {
          const n = this.at(o as Pdf.PDFObject | undefined);
          return n instanceof this.lib.PDFNumber ? n.asNumber() : null;
        },
        numbers: (o) => this.numbers(o as Pdf.PDFObject | undefined),
        entry: (o, key) => this.get(this.dictOf(o as Pdf.PDFObject | undefined), key),
        list: (o) => {
          const list = this.at(o as Pdf.PDFObject | undefined);
          return list instanceof this.lib.PDFArray ? list.asArray() : [];
        },
        bytes: (o) => this.streamBytes(o as Pdf.PDFObject | undefined),
      },
      array.get(3),
    );
    if (!space || !tint) return null;
    const values = tint(Array.from({ length: inks }, (_, i) => (i === which ? 1 : 0)));
    return values && this.colorOf(space, values);
  }

  /** The spot inks of every separation in the file, each once. */
  inks(): { name: string; color: Color }[] {
    const found = new Map<string, { name: string; color: Color }>();
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
        const kind = object.size() >= 4 ? this.nameOf(object.get(0)) : null;
        if (kind === 'Separation') put(this.nameOf(object.get(1)), this.alternate(object, 1, 0));
        else if (kind === 'DeviceN') {
          const names = this.at(object.get(1));
          if (names instanceof this.lib.PDFArray)
            names.asArray().forEach((n, i, all) => {
              put(this.nameOf(n), this.alternate(object as Pdf.PDFArray, all.length, i));
            });
        }
        open.push(...object.asArray());
      } else if (object instanceof this.lib.PDFDict || object instanceof this.lib.PDFStream) {
        visited.add(object);
        const dict = object instanceof this.lib.PDFDict ? object : object.dict;
        open.push(...dict.values());
      }
    }
    return [...found.values()].reverse();
  }

  /** The process colours a page is painted with, in order, those of forms in it too; none that was seen before. */
  paints(page: Pdf.PDFPageLeaf, seen: Set<string>): Color[] {
    const found: Color[] = [];
    const add = (color: Color | null) => {
      if (!color) return;
      const key = `${color.space} ${color.components}`;
      if (seen.has(key) || found.length >= MAX_PAGE_COLORS) return;
      seen.add(key);
      found.push(color);
    };
    const contents = this.at(page.get(this.lib.PDFName.of('Contents')));
    const parts = contents instanceof this.lib.PDFArray ? contents.asArray() : [contents];
    const text = parts.map((p) => this.text(p)).join('\n');
    this.paintsIn(text, this.dictOf(page.Resources()), add, new Set(), 0);
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
    add: (color: Color | null) => void,
    inside: Set<Pdf.PDFObject>,
    depth: number,
  ): void {
    const named = this.dictOf(this.get(resources, 'ColorSpace'));
    const forms = this.dictOf(this.get(resources, 'XObject'));
    const spaceOf = (name: string) => this.plain(this.get(named, name) ?? this.lib.PDFName.of(name));
    const current: Record<'fill' | 'stroke', Plain | null> = { fill: null, stroke: null };
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
      switch (token) {
        case 'g':
        case 'G':
          add(this.colorOf({ space: 'gray', count: 1 }, values));
          break;
        case 'rg':
        case 'RG':
          add(this.colorOf({ space: 'rgb', count: 3 }, values));
          break;
        case 'k':
        case 'K':
          add(this.colorOf({ space: 'cmyk', count: 4 }, values));
          break;
        case 'cs':
        case 'CS':
          current[side] = name === undefined ? null : spaceOf(name);
          break;
        case 'sc':
        case 'scn':
        case 'SC':
        case 'SCN':
          if (current[side]) add(this.colorOf(current[side], values));
          break;
        case 'Do': {
          const form = name === undefined ? undefined : this.get(forms, name);
          const dict = this.dictOf(form);
          if (!form || this.nameOf(this.get(dict, 'Subtype')) !== 'Form' || inside.has(form) || depth > 20)
            break;
          this.draft.step();
          const own = this.dictOf(this.get(dict, 'Resources')) ?? resources;
          this.paintsIn(this.text(form), own, add, new Set([...inside, form]), depth + 1);
          break;
        }
      }
    }
  }
}

/** The words of a content stream: numbers, names and operators; texts, arrays, dictionaries and pictures inside are passed over. */
function* tokensOf(text: string): Generator<string> {
  const pattern = /%[^\r\n]*|<<|>>|<[^>]*>|\[|\]|\(|\/[^\s/<>()[\]{}%]*|[^\s/<>()[\]{}%]+/g;
  for (let match = pattern.exec(text); match; match = pattern.exec(text)) {
    const token = match[0];
    if (token === '(') {
      let depth = 1;
      let at = pattern.lastIndex;
      for (; at < text.length && depth > 0; at++) {
        const c = text[at];
        if (c === '\\') at++;
        else if (c === '(') depth++;
        else if (c === ')') depth--;
      }
      pattern.lastIndex = at;
    } else if (token === 'ID') {
      // a picture written into the stream ends with EI on its own
      const end = /\sEI(?=\s|$)/g;
      end.lastIndex = pattern.lastIndex;
      pattern.lastIndex = end.exec(text) ? end.lastIndex : text.length;
    } else if (!/^[%<>[\]]/.test(token)) yield token;
  }
}

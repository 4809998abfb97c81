import type * as Pdf from '@cantoo/pdf-lib';
import type { Color, Condition } from '../color/index.ts';
import type { Edit } from '../text/edit.ts';
import { short } from '../text/text.ts';
import type { PdfArtwork, Place, Shade } from './artwork.ts';
import { type Content, editedPieces } from './content.ts';
import { InkSpaces, type PdfColor, type Reinking } from './ink-spaces.ts';
import type { Paint, Site } from './interpreter.ts';
import { PROCESS } from './plates.ts';
import { appended, WHOLE } from './save.ts';

// Parts of a PDF painted with something else. What is changed is rewritten; all other operators keep their bytes.

/** What becomes of a part. */
export interface Becoming {
  /** What it was by default. */
  color?: PdfColor;
  /** It is printed over what lies below. */
  over?: boolean;
  /** It is a line along its shape, points wide. */
  line?: number;
  /** It is not painted at all. */
  gone?: boolean;
}

export interface Rewriting {
  /** How process colours are separated where a gradient has spot inks, too. */
  condition: Condition;
  /** A new file without what was there before, instead of an update behind the old one. */
  fresh?: boolean;
  /** Pictures are left out. */
  noPictures?: boolean;
  /** What becomes of the inks of pictures that have this one. */
  reink?: Reinking;
  /** Closed lines that are laid over pages. */
  lines?: readonly PdfLine[];
}

/** A line over a page, points. */
export interface PdfLine {
  page: number;
  paths: readonly (readonly (readonly [number, number])[])[];
  width: number;
  color: PdfColor;
  over: boolean;
}

const OPERATORS = { gray: 'g', rgb: 'rg', cmyk: 'k' } as const;
const numbers = (values: readonly number[]) => values.map((v) => short(v, 5)).join(' ');

/**
 * A PDF with other colours. Where all that one operator sets changes alike, that operator is rewritten; where only some of it does,
 * the colour is set before those parts and set back behind them.
 *
 * @param changes what becomes of parts, by their ids; parts that are not in it stay as they are
 * @throws FormatError when it cannot be written
 */
export async function repainted(
  artwork: PdfArtwork,
  changes: ReadonlyMap<number, Becoming>,
  rewriting: Rewriting,
): Promise<Uint8Array<ArrayBuffer>> {
  const lib = await import('@cantoo/pdf-lib');
  // the file's objects are exchanged while it is written: one after the other
  const made = artwork.written.then(() => new Repainter(lib, artwork, rewriting).write(changes));
  artwork.written = made.catch(() => undefined);
  return made;
}

/** What is put into the resources of a page or form. */
interface Additions {
  content: Content;
  spaces: Map<string, Pdf.PDFObject>;
  states: Map<string, Pdf.PDFObject>;
  pictures: Map<string, Pdf.PDFObject>;
}

class Repainter extends InkSpaces {
  private readonly edits = new Map<string, { content: Content; edits: Edit[] }>();
  private readonly additions = new Map<string, Additions>();
  private readonly states = new Map<string, Pdf.PDFObject>();
  private readonly replaced = new Map<Pdf.PDFRef, Pdf.PDFObject>();

  constructor(
    lib: typeof Pdf,
    private readonly artwork: PdfArtwork,
    private readonly rewriting: Rewriting,
  ) {
    super(lib, artwork.document.context, rewriting.condition);
  }

  async write(changes: ReadonlyMap<number, Becoming>): Promise<Uint8Array<ArrayBuffer>> {
    const { document, bytes } = this.artwork;
    const { largestObjectNumber: last, header } = this.context;
    const snapshot = document.takeSnapshot();
    try {
      const apart = this.rewriteSites(changes);
      this.rewritePlaces(changes, apart);
      for (const shade of this.artwork.shades.values()) this.rewriteShade(shade, changes);
      if (this.rewriting.reink) this.reinkPictures();
      this.layLines();
      this.replaceStreams();
      if (this.replaced.size === 0) return bytes.slice() as Uint8Array<ArrayBuffer>;
      const old = [...this.replaced].map(([ref]) => [ref, this.context.lookup(ref)] as const);
      for (const [ref, object] of this.replaced) this.context.assign(ref, object);
      try {
        if (this.rewriting.fresh) return (await document.save(WHOLE)) as Uint8Array<ArrayBuffer>;
        return await appended(document, bytes, [...this.replaced.keys()], snapshot);
      } finally {
        for (const [ref, object] of old) if (object) this.context.assign(ref, object);
      }
    } finally {
      // the artwork stays as it was opened
      for (const [ref] of this.context.enumerateIndirectObjects())
        if (ref.objectNumber > last) this.context.delete(ref);
      this.context.largestObjectNumber = last;
      this.context.header = header;
    }
  }

  private edit(content: Content, edit: Edit): void {
    const known = this.edits.get(content.key) ?? { content, edits: [] };
    this.edits.set(content.key, known);
    known.edits.push(edit);
  }

  // --- where a colour is set

  /** Rewrites the operators that set what changes alike; the parts that are left are painted apart. */
  private rewriteSites(changes: ReadonlyMap<number, Becoming>): Set<number> {
    const sites = new Map<string, { site: Site; paint: Paint; stroke: boolean; parts: Set<number> }>();
    const apart = new Set<number>();
    const keyOf = ({ content, from }: Site) => `${content.key}:${from}`;
    for (const { id, role } of this.artwork.parts)
      for (const { paint } of this.artwork.places[id]!) {
        if (!paint.site) {
          apart.add(id);
          continue;
        }
        const key = keyOf(paint.site);
        const known = sites.get(key) ?? {
          site: paint.site,
          paint,
          stroke: role === 'stroke',
          parts: new Set(),
        };
        sites.set(key, known);
        known.parts.add(id);
      }
    const plain = (b: Becoming | undefined) => b?.color && !b.over && !b.line && !b.gone;
    const isAlike = (parts: ReadonlySet<number>) => {
      const [first, ...rest] = [...parts].map((id) => changes.get(id));
      return plain(first) && rest.every((b) => plain(b) && sameColor(b!.color!, first!.color!));
    };
    const alike = new Set([...sites].filter(([, s]) => isAlike(s.parts)).map(([key]) => key));
    // a part that is set in several places is rewritten in all of them, or apart
    for (;;) {
      const mixed = [...sites].filter(
        ([key, s]) => !alike.has(key) && [...s.parts].some((id) => changes.has(id)),
      );
      for (const [, s] of mixed) for (const id of s.parts) apart.add(id);
      const also = [...alike].filter((key) => [...sites.get(key)!.parts].some((id) => apart.has(id)));
      if (also.length === 0) break;
      for (const key of also) alike.delete(key);
    }
    const spaceless = new Set<string>();
    for (const key of alike) {
      const { site, paint, stroke, parts } = sites.get(key)!;
      const color = changes.get([...parts][0]!)!.color!;
      this.edit(site.content, {
        from: site.from,
        to: site.to,
        text: this.setting(site.content, color, stroke, paint.pattern?.name),
      });
      spaceless.add(`${site.content.key}:${site.space?.from ?? site.from}`);
    }
    // what referred to the same space as an operator that is another now says its space again
    for (const [key, { site }] of sites)
      if (!alike.has(key) && site.space && spaceless.has(`${site.content.key}:${site.space.from}`)) {
        const { text } = site.content;
        this.edit(site.content, {
          from: site.from,
          to: site.from,
          text: `${text.slice(site.space.from, site.space.to)} `,
        });
      }
    return apart;
  }

  // --- single places

  private rewritePlaces(changes: ReadonlyMap<number, Becoming>, apart: ReadonlySet<number>): void {
    const places = new Map<string, { place: Place; fill?: [Becoming, Paint]; stroke?: [Becoming, Paint] }>();
    for (const { id, role } of this.artwork.parts) {
      const becoming = changes.get(id);
      if (!becoming || !apart.has(id) || role === 'stop') continue;
      for (const place of this.artwork.places[id]!) {
        const key = `${place.content.key}:${place.operator.from}`;
        const known = places.get(key) ?? { place };
        places.set(key, known);
        known[role] = [becoming, place.paint];
      }
    }
    for (const { place, fill, stroke } of places.values()) this.rewritePlace(place, fill, stroke);
    if (this.rewriting.noPictures)
      for (const { content, operator } of this.artwork.pictureOperators)
        this.edit(content, { from: operator.from, to: operator.to, text: '' });
  }

  private rewritePlace(place: Place, fill?: [Becoming, Paint], stroke?: [Becoming, Paint]): void {
    const { content, from, operator, kind, lineWidth, textMode, scale } = place;
    const before: string[] = [];
    const after: string[] = [];
    // a shape that becomes a line is stroked with what it was to be filled with
    const line = fill?.[0].line ? fill : stroke?.[0].line ? stroke : undefined;
    const sides = line
      ? ([[line, true]] as const)
      : ([
          [fill, false],
          [stroke, true],
        ] as const);
    for (const [given, isStroke] of sides) {
      if (!given || given[0].gone) continue;
      const [{ color, over }, paint] = given;
      if (color) {
        before.push(this.setting(content, color, isStroke, paint.pattern?.name));
        after.push(this.before(content, line ? place.stroke : paint, isStroke));
      }
      const was = isStroke ? place.strokeOver : place.fillOver;
      if (over === undefined || over === was) continue;
      before.push(`/${this.state(content, isStroke, over)} gs`);
      after.push(`/${this.state(content, isStroke, was)} gs`);
    }
    if (line) {
      before.push(`${short(line[0].line! / scale, 5)} w`);
      after.push(`${short(lineWidth, 5)} w`);
    }
    const goes = { fill: fill?.[0].gone || !!line, stroke: stroke?.[0].gone && !line };
    let text = content.text.slice(operator.from, operator.to);
    if (goes.fill || goes.stroke || line) {
      if (kind === 'stencil') text = '';
      else if (kind === 'path')
        text = pathOperator(operator.name, { fill: !goes.fill, stroke: !goes.stroke, line: !!line });
      else {
        const mode = textModeOf(textMode, { fill: !goes.fill, stroke: !goes.stroke, line: !!line });
        before.push(`${mode} Tr`);
        after.push(`${textMode} Tr`);
      }
    }
    if (before.length > 0) this.edit(content, { from, to: from, text: `${before.join(' ')}\n` });
    const rest = after.length > 0 ? `\n${after.reverse().join(' ')}` : '';
    if (rest || text !== content.text.slice(operator.from, operator.to))
      this.edit(content, { from: operator.from, to: operator.to, text: text + rest });
  }

  /** What sets a colour back to what it was. */
  private before(content: Content, { site, space, values, pattern }: Paint, stroke: boolean): string {
    if (!site) return stroke ? '0 G' : '0 g';
    const { text } = content;
    if (site.content.key === content.key) {
      const own = text.slice(site.from, site.to);
      return site.space ? `${text.slice(site.space.from, site.space.to)} ${own}` : own;
    }
    // it was set where the form is drawn
    const [cs, scn] = stroke ? ['CS', 'SCN'] : ['cs', 'scn'];
    return `/${this.space(content, space)} ${cs} ${numbers(values)}${pattern ? ` /${pattern.name}` : ''} ${scn}`;
  }

  /** What sets a colour. @param pattern of one colour, that is painted in it */
  private setting(content: Content, color: PdfColor, stroke: boolean, pattern?: string): string {
    const cased = (operator: string) => (stroke ? operator.toUpperCase() : operator);
    if ('plate' in color || 'amounts' in color) {
      const isMixed = 'amounts' in color;
      const own = isMixed ? this.mixture([...color.amounts.keys()], color.labs) : this.ink(color);
      const values = isMixed ? [...color.amounts.values()] : [color.tint];
      const space = pattern === undefined ? own : this.context.obj(['Pattern', own]);
      const name = this.space(content, space);
      return `/${name} ${cased('cs')} ${numbers(values)}${pattern === undefined ? '' : ` /${pattern}`} ${cased('scn')}`;
    }
    const { space, components } = color;
    if (pattern === undefined) return `${numbers(components)} ${cased(OPERATORS[space])}`;
    const device = { gray: 'DeviceGray', rgb: 'DeviceRGB', cmyk: 'DeviceCMYK' }[space];
    const name = this.space(content, this.context.obj(['Pattern', device]));
    return `/${name} ${cased('cs')} ${numbers(components)} /${pattern} ${cased('scn')}`;
  }

  // --- resources

  private addedTo(content: Content): Additions {
    const known = this.additions.get(content.key) ?? {
      content,
      ...{ spaces: new Map(), states: new Map(), pictures: new Map() },
    };
    this.additions.set(content.key, known);
    return known;
  }

  /** A name that the resources do not have yet. */
  private free(content: Content, kind: string, stem: string, taken: ReadonlyMap<string, unknown>): string {
    const there = this.dictOf(this.get(content.resources, kind));
    for (let n = taken.size + 1; ; n++) {
      const name = `${stem}${n}`;
      if (!taken.has(name) && !there?.has(this.lib.PDFName.of(name))) return name;
    }
  }

  private space(content: Content, object: Pdf.PDFObject): string {
    const { spaces } = this.addedTo(content);
    const text = String(object);
    for (const [name, known] of spaces) if (known === object || String(known) === text) return name;
    const name = this.free(content, 'ColorSpace', 'Swatch', spaces);
    spaces.set(name, object);
    return name;
  }

  private state(content: Content, stroke: boolean, over: boolean): string {
    const { states } = this.addedTo(content);
    const key = `${stroke ? 'OP' : 'op'} ${over}`;
    let object = this.states.get(key);
    if (!object) {
      // OP alone counts for both (8.4.5)
      object = this.context.register(
        this.context.obj({ Type: 'ExtGState', OPM: 1, [stroke ? 'OP' : 'op']: over }),
      );
      this.states.set(key, object);
    }
    for (const [name, known] of states) if (known === object) return name;
    const name = this.free(content, 'ExtGState', 'Print', states);
    states.set(name, object);
    return name;
  }

  // --- gradients

  private rewriteShade({ ref, shading, stops }: Shade, changes: ReadonlyMap<number, Becoming>): void {
    if (!stops.some((s) => changes.has(s.part))) return;
    const colors = stops.map(
      ({ part }): PdfColor | Color => changes.get(part)?.color ?? this.artwork.parts[part]!.color,
    );
    const { space, values } = this.mixed(
      colors,
      stops.map((s) => s.values),
      shading,
      stops.map((s) => changes.has(s.part)),
    );
    const [from = 0, to = 1] = this.numbers(this.get(shading, 'Domain'));
    const at = stops.map((s) => from + s.at * (to - from));
    const pieces = values.slice(1).map((after, i) => ({
      ...{ FunctionType: 2, Domain: [0, 1], N: 1 },
      ...{ C0: values[i]!.map(rounded), C1: after.map(rounded) },
    }));
    const own = shading.clone(this.context);
    const { PDFName } = this.lib;
    own.set(PDFName.of('ColorSpace'), space);
    own.delete(PDFName.of('Background'));
    own.set(
      PDFName.of('Function'),
      this.context.obj({
        ...{ FunctionType: 3, Domain: [from, to], Functions: pieces },
        Bounds: at.slice(1, -1),
        Encode: pieces.flatMap(() => [0, 1]),
      }),
    );
    const holder = this.context.lookup(ref);
    const pattern =
      holder instanceof this.lib.PDFDict && holder.has(PDFName.of('PatternType'))
        ? holder.clone(this.context)
        : null;
    pattern?.set(PDFName.of('Shading'), own);
    this.replaced.set(ref, pattern ?? own);
  }

  // --- pictures in inks

  /** Pictures that have an ink in their space, in what becomes of it. */
  private reinkPictures(): void {
    const { PDFName, PDFRawStream } = this.lib;
    for (const { content, operator, object } of this.artwork.pictureOperators) {
      // one in the content stream becomes an object of its own
      if (operator.data === undefined || !(object instanceof PDFRawStream)) continue;
      const made = this.reinkedPicture(object);
      if (!made) continue;
      made.dict.set(PDFName.of('Subtype'), PDFName.of('Image'));
      const { pictures } = this.addedTo(content);
      const name = this.free(content, 'XObject', 'Picture', pictures);
      pictures.set(name, this.context.register(made));
      this.edit(content, { from: operator.from, to: operator.to, text: `/${name} Do` });
    }
    for (const [ref, object] of this.context.enumerateIndirectObjects()) {
      if (!(object instanceof PDFRawStream) || this.nameOf(this.get(object.dict, 'Subtype')) !== 'Image')
        continue;
      const made = this.reinkedPicture(object);
      if (made) this.replaced.set(ref, made);
    }
  }

  /** A picture in what becomes of its inks; null for one that has not the ink, or stays. */
  private reinkedPicture(picture: Pdf.PDFRawStream): Pdf.PDFRawStream | null {
    const { ink, labs, map } = this.rewriting.reink!;
    const { PDFArray, PDFName, PDFRawStream, PDFHexString } = this.lib;
    const space = this.get(picture.dict, 'ColorSpace');
    if (!(space instanceof PDFArray)) return null;
    const isTable = this.nameOf(space.get(0)) === 'Indexed';
    const base = isTable ? this.at(space.get(1)) : space;
    const names = base instanceof PDFArray ? this.inkNames(base) : null;
    if (!names?.includes(ink)) return null;
    const bytes = isTable ? this.tableBytes(space) : this.plainPixels(picture);
    if (bytes.length === 0) {
      this.artwork.warnings.push(`A picture in ${names.join(' and ')} stays as it is.`);
      return null;
    }
    const { next, made } = this.reinkedBytes(
      bytes,
      names.map((n) => n ?? ''),
      map,
    );
    const isProcess = next.every((n) => PROCESS.includes(n)) && next.length === 4;
    const target = isProcess ? PDFName.of('DeviceCMYK') : this.spaceOf(next, labs);
    const dict = picture.dict.clone(this.context);
    if (isTable) {
      const table = PDFArray.withContext(this.context);
      const hex = [...made].map((v) => v.toString(16).padStart(2, '0')).join('');
      for (const part of [PDFName.of('Indexed'), target, space.get(2), PDFHexString.of(hex)])
        table.push(part);
      dict.set(PDFName.of('ColorSpace'), table);
      return PDFRawStream.of(dict, picture.contents);
    }
    const packed = this.context.flateStream(made);
    for (const [key, value] of dict.entries()) if (!STREAM_KEYS.has(String(key))) packed.dict.set(key, value);
    packed.dict.set(PDFName.of('ColorSpace'), target);
    packed.dict.delete(PDFName.of('Decode'));
    return PDFRawStream.of(packed.dict, packed.contents);
  }

  // --- lines over pages

  private layLines(): void {
    const pages = this.artwork.document.getPages();
    for (const { page, paths, width, color, over } of this.rewriting.lines ?? []) {
      const content = this.artwork.pageContent(pages[page]!);
      const known = this.laid.get(content.key) ?? { content, text: [] };
      this.laid.set(content.key, known);
      const outline = paths.map((p) => {
        const points = p.map(([x, y]) => `${short(x, 4)} ${short(y, 4)}`);
        return `${points.map((at, i) => `${at} ${i === 0 ? 'm' : 'l'}`).join(' ')} h`;
      });
      const state = this.state(content, true, over);
      known.text.push(
        `q /${state} gs ${this.setting(content, color, true)} ${short(width, 4)} w ${outline.join('\n')} S Q`,
      );
    }
  }
  private readonly laid = new Map<string, { content: Content; text: string[] }>();

  // --- streams

  /** Puts edited contents and what they need in place of the old ones. */
  private replaceStreams(): void {
    const { PDFName, PDFRawStream } = this.lib;
    for (const { content, edits } of this.edits.values())
      for (const [ref, text] of editedPieces(content, edits)) {
        const old = this.dictOf(ref);
        const bytes = Uint8Array.from(text, (c) => c.charCodeAt(0));
        const made = this.context.flateStream(bytes);
        // all that a form says of itself stays
        for (const [key, value] of old?.entries() ?? [])
          if (!STREAM_KEYS.has(String(key))) made.dict.set(key, value);
        this.replaced.set(ref, PDFRawStream.of(made.dict, made.contents));
      }
    for (const { content, spaces, states, pictures } of this.additions.values()) {
      const owner = this.replaced.get(content.owner) ?? this.context.lookup(content.owner);
      const resources = content.resources?.clone(this.context) ?? this.context.obj({});
      for (const [kind, added] of [
        ['ColorSpace', spaces],
        ['ExtGState', states],
        ['XObject', pictures],
      ] as const) {
        if (added.size === 0) continue;
        const own = this.dictOf(resources.get(PDFName.of(kind)))?.clone(this.context) ?? this.context.obj({});
        for (const [name, object] of added) own.set(PDFName.of(name), object);
        resources.set(PDFName.of(kind), own);
      }
      if (owner instanceof this.lib.PDFRawStream) {
        const dict = owner.dict.clone(this.context);
        dict.set(PDFName.of('Resources'), resources);
        this.replaced.set(content.owner, PDFRawStream.of(dict, owner.contents));
      } else if (owner instanceof this.lib.PDFDict) {
        const dict = owner.clone(this.context);
        dict.set(PDFName.of('Resources'), resources);
        const lines = this.laid.get(content.key);
        if (lines) {
          // whatever the page leaves behind, its own content is shut in
          const begin = this.context.register(this.context.stream('q\n'));
          const end = this.context.register(this.context.flateStream(`\nQ\n${lines.text.join('\n')}\n`));
          dict.set(
            PDFName.of('Contents'),
            this.context.obj([begin, ...content.pieces.map((p) => p.ref), end]),
          );
        }
        this.replaced.set(content.owner, dict);
      }
    }
  }
}

const STREAM_KEYS = new Set(['/Length', '/Filter', '/DecodeParms']);
const asText = (color: PdfColor) => JSON.stringify('amounts' in color ? [...color.amounts] : color);
const sameColor = (a: PdfColor, b: PdfColor) => a === b || asText(a) === asText(b);
const rounded = (v: number) => Number(short(v, 5));
/** How a path is painted when some of it goes, or becomes a line. */
function pathOperator(was: string, keeps: { fill: boolean; stroke: boolean; line: boolean }): string {
  const closes = /^[sb]/.test(was) ? 'h ' : '';
  const even = was.includes('*') ? '*' : '';
  const fill = keeps.fill && /^[fFbB]/.test(was);
  const stroke = keeps.line || (keeps.stroke && /^[sSbB]/.test(was));
  return closes + (fill && stroke ? `B${even}` : fill ? `f${even}` : stroke ? 'S' : 'n');
}

/** The same of text (9.3.6): 0 filled, 1 stroked, 2 both, 3 none; 4 more where it clips. */
function textModeOf(was: number, keeps: { fill: boolean; stroke: boolean; line: boolean }): number {
  const fill = keeps.fill && was % 4 !== 1 && was % 4 !== 3;
  const stroke = keeps.line || (keeps.stroke && (was % 4 === 1 || was % 4 === 2));
  return (fill && stroke ? 2 : fill ? 0 : stroke ? 1 : 3) + (was > 3 ? 4 : 0);
}

import type * as Pdf from '@cantoo/pdf-lib';
import { type Color, type Condition, convert, type Lab, toLab } from '../color/index.ts';
import type { Edit } from '../text/edit.ts';
import { short } from '../text/text.ts';
import type { PdfArtwork, Place, Shade } from './artwork.ts';
import { type Content, editedPieces } from './content.ts';
import type { Paint, Site } from './interpreter.ts';
import { PdfObjects } from './objects.ts';
import { appended } from './save.ts';

// Parts of a PDF painted with something else. What is changed is written anew; all other operators keep their bytes.

/** A colour as it is written into a PDF: in a device's own space, or on a plate of its own. */
export type PdfColor =
  | { space: 'gray' | 'rgb' | 'cmyk'; components: readonly number[] }
  | { plate: string /** 0–1. */; tint: number /** Of the whole ink. */; lab: Lab };

/** What becomes of a part. */
export interface Becoming {
  color: PdfColor;
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
 * A PDF with other colours. Where all that one operator sets changes alike, that operator is written anew; where only some of it does,
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
  return new Repainter(lib, artwork, rewriting).write(changes);
}

/** What is put into the resources of a page or form. */
interface Additions {
  content: Content;
  spaces: Map<string, Pdf.PDFObject>;
  states: Map<string, Pdf.PDFObject>;
}

class Repainter extends PdfObjects {
  private readonly edits = new Map<string, { content: Content; edits: Edit[] }>();
  private readonly additions = new Map<string, Additions>();
  /** Spaces of inks, one of each for the whole file. */
  private readonly inks = new Map<string, Pdf.PDFObject>();
  private readonly states = new Map<string, Pdf.PDFObject>();
  private readonly replaced = new Map<Pdf.PDFRef, Pdf.PDFObject>();

  constructor(
    lib: typeof Pdf,
    private readonly artwork: PdfArtwork,
    private readonly rewriting: Rewriting,
  ) {
    super(lib, artwork.document.context);
  }

  async write(changes: ReadonlyMap<number, Becoming>): Promise<Uint8Array<ArrayBuffer>> {
    const { document, bytes } = this.artwork;
    const { largestObjectNumber: last, header } = this.context;
    const snapshot = document.takeSnapshot();
    try {
      const apart = this.rewriteSites(changes);
      this.rewritePlaces(changes, apart);
      for (const shade of this.artwork.shades.values()) this.rewriteShade(shade, changes);
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

  /** Writes the operators anew that set what changes alike; the parts that are left are painted apart. */
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
    const plain = (b: Becoming | undefined) => b && !b.over && !b.line && !b.gone;
    const isAlike = (parts: ReadonlySet<number>) => {
      const [first, ...rest] = [...parts].map((id) => changes.get(id));
      return (
        plain(first) &&
        rest.every((b) => plain(b) && JSON.stringify(b!.color) === JSON.stringify(first!.color))
      );
    };
    const alike = new Set([...sites].filter(([, s]) => isAlike(s.parts)).map(([key]) => key));
    // a part that is set in several places is written anew in all of them, or apart
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
      const { color } = changes.get([...parts][0]!)!;
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
      before.push(this.setting(content, color, isStroke, paint.pattern?.name));
      after.push(this.before(content, line ? place.stroke : paint, isStroke));
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
    if ('plate' in color) {
      const ink = this.ink(color);
      const space = pattern === undefined ? ink : this.context.obj(['Pattern', ink]);
      const name = this.space(content, space);
      return `/${name} ${cased('cs')} ${numbers([color.tint])}${pattern === undefined ? '' : ` /${pattern}`} ${cased('scn')}`;
    }
    const { space, components } = color;
    if (pattern === undefined) return `${numbers(components)} ${cased(OPERATORS[space])}`;
    const device = { gray: 'DeviceGray', rgb: 'DeviceRGB', cmyk: 'DeviceCMYK' }[space];
    const name = this.space(content, this.context.obj(['Pattern', device]));
    return `/${name} ${cased('cs')} ${numbers(components)} /${pattern} ${cased('scn')}`;
  }

  // --- resources

  private addedTo(content: Content): Additions {
    const known = this.additions.get(content.key) ?? { content, spaces: new Map(), states: new Map() };
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

  /** The space of an ink: the file's own where it has one of that name, so that all of it looks alike. */
  private ink({ plate, lab }: { plate: string; lab: Lab }): Pdf.PDFObject {
    const known = this.inks.get(plate);
    if (known) return known;
    const own = this.context
      .enumerateIndirectObjects()
      .find(
        ([, o]) =>
          o instanceof this.lib.PDFArray &&
          o.size() >= 4 &&
          this.nameOf(o.get(0)) === 'Separation' &&
          this.nameOf(o.get(1)) === plate,
      );
    const ref =
      own?.[0] ??
      this.context.register(
        this.context.obj([
          'Separation',
          this.asName(plate),
          LAB,
          { FunctionType: 2, Domain: [0, 1], C0: [100, 0, 0], C1: lab.map((v) => Number(short(v, 3))), N: 1 },
        ] as never),
      );
    this.inks.set(plate, ref);
    return ref;
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

  /** A space that the colours of a gradient have in common, and their values in it. */
  private mixed(
    colors: readonly (PdfColor | Color)[],
    old: readonly number[][],
    shading: Pdf.PDFDict,
    changed: readonly boolean[],
  ): { space: Pdf.PDFObject; values: number[][] } {
    const { condition } = this.rewriting;
    const given = this.at(shading.get(this.lib.PDFName.of('ColorSpace')));
    const names = given instanceof this.lib.PDFArray ? this.inkNames(given) : null;
    const plates = new Map<string, Lab>();
    for (const color of colors) if ('plate' in color) plates.set(color.plate, color.lab);
    // what stays in its inks keeps them
    if (names && changed.includes(false))
      for (const name of names)
        if (name !== null && !PROCESS.includes(name) && name !== 'None' && !plates.has(name)) {
          const alone = this.tinted(given as Pdf.PDFArray)?.(names.map((n) => (n === name ? 1 : 0)));
          if (alone) plates.set(name, toLab(alone, condition));
        }
    const inksOf = (i: number): Map<string, number> => {
      const color = colors[i]!;
      if ('plate' in color) return new Map([[color.plate, color.tint]]);
      if (!changed[i] && names) return new Map(names.map((n, k) => [n ?? '', old[i]![k] ?? 0]));
      const { components } = convert(asColor(color), 'cmyk', condition);
      return new Map(PROCESS.map((p, k) => [p, Math.min(1, Math.max(0, components[k]!))]));
    };
    if (plates.size === 0 && !(names && changed.includes(false))) {
      const isInked = colors.some((c) => 'space' in c && c.space === 'cmyk');
      const target = isInked ? 'cmyk' : 'rgb';
      return {
        space: this.lib.PDFName.of(isInked ? 'DeviceCMYK' : 'DeviceRGB'),
        values: colors.map((c) => [
          ...convert(asColor(c as Exclude<PdfColor, { plate: string }>), target, condition).components,
        ]),
      };
    }
    const amounts = colors.map((_, i) => inksOf(i));
    const all = [...PROCESS.filter((p) => amounts.some((a) => (a.get(p) ?? 0) > 0)), ...plates.keys()];
    return {
      space: this.mixture(all, plates),
      values: amounts.map((a) => all.map((name) => a.get(name) ?? 0)),
    };
  }

  /** A space in which inks are mixed; what stands for them is what they are in process inks, one laid over the other. */
  private mixture(names: readonly string[], plates: ReadonlyMap<string, Lab>): Pdf.PDFObject {
    const { condition } = this.rewriting;
    const parts = names.map((name) => {
      const lab = plates.get(name);
      if (!lab) return PROCESS.map((p) => (p === name ? 1 : 0));
      const { components } = convert({ space: 'lab', components: [...lab] }, 'cmyk', condition);
      return components.map((v) => Math.min(1, Math.max(0, v)));
    });
    // the amounts stay on the stack below what was made of them: 1 − ∏ (1 − t a)
    const n = names.length;
    const outputs = PROCESS.map((_, k) => {
      const factors = parts.map(
        (own, i) => `${n - 1 - i + k + 1} index ${short(own[k]!, 4)} mul 1 exch sub mul`,
      );
      return `1 ${factors.join(' ')} 1 exch sub`;
    });
    const program = `{ ${outputs.join(' ')} ${n + 4} 4 roll ${'pop '.repeat(n)}}`;
    const range = (count: number) => Array.from({ length: 2 * count }, (_, i) => i % 2);
    const tint = this.context.flateStream(program, { FunctionType: 4, Domain: range(n), Range: range(4) });
    const colorants = this.context.obj({});
    for (const [name, lab] of plates) colorants.set(this.asName(name), this.ink({ plate: name, lab }));
    const space = this.lib.PDFArray.withContext(this.context);
    space.push(this.lib.PDFName.of('DeviceN'));
    space.push(this.context.obj(names.map((name) => this.asName(name))));
    space.push(this.lib.PDFName.of('DeviceCMYK'));
    space.push(this.context.register(tint));
    const attributes = this.context.obj({});
    attributes.set(this.lib.PDFName.of('Colorants'), colorants);
    space.push(attributes);
    return this.context.register(space);
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
    for (const { content, spaces, states } of this.additions.values()) {
      const owner = this.replaced.get(content.owner) ?? this.context.lookup(content.owner);
      const resources = content.resources?.clone(this.context) ?? this.context.obj({});
      for (const [kind, added] of [
        ['ColorSpace', spaces],
        ['ExtGState', states],
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

/** Every object written anew. */
const WHOLE = { rewrite: true, updateFieldAppearances: false, addDefaultPage: false };
const PROCESS = ['Cyan', 'Magenta', 'Yellow', 'Black'];
const LAB = ['Lab', { WhitePoint: [0.9642, 1, 0.8249], Range: [-128, 127, -128, 127] }];
const STREAM_KEYS = new Set(['/Length', '/Filter', '/DecodeParms']);
const rounded = (v: number) => Number(short(v, 5));
const asColor = ({ space, components }: { space: Color['space']; components: readonly number[] }): Color => ({
  space,
  components: [...components],
});

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

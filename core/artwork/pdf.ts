import { type Condition, carried, convert, toLab } from '../color/index.ts';
import { registerFonts, writeLine } from '../pdf/letters.ts';
import { type Document, documentOf, intend, painter } from '../pdf/paint.ts';
import { Plates } from '../pdf/plates.ts';
import { asX4 } from '../pdf/x4.ts';
import type { Services } from '../services.ts';
import { allSwatches, type Library, type Swatch } from '../swatch/model.ts';
import { short } from '../text/text.ts';
import { flattened } from './flat.ts';
import { linesOf, type Making } from './made.ts';
import type { Artwork } from './parts.ts';
import { StopInks } from './stop-inks.ts';

/** Points in a millimetre, and in a pixel of CSS. */
const POINTS = { mm: 72 / 25.4, px: 72 / 96 };

/** The colour that stands for the nth paint while the drawing is laid out; no drawing has that many. */
const standIn = (n: number) => `#${(n + 1).toString(16).padStart(6, '0')}`;
const PAINT = /^paint (\d+)$/;

/** A drawing with what becomes of its parts, and what that is called. */
export interface ArtworkPage {
  artwork: Artwork;
  makings: readonly Making[];
  name: string;
}

/** Swatches by the stand-ins that parts are laid out in. */
class Inks {
  readonly swatches: Swatch[] = [];
  private readonly byKey = new Map<string, number>();
  constructor(private readonly condition: Condition) {}

  /** Process colours are inks of the press from here on. */
  press(swatch: Swatch): Swatch {
    return {
      ...swatch,
      color: carried(convert(swatch.color, 'cmyk', this.condition), ['cmyk'], this.condition),
    };
  }

  readonly stops = new StopInks();

  numberOf(swatch: Swatch): number {
    const { name, kind, color, tint } = swatch;
    const key = JSON.stringify([kind === 'process' ? '' : name, kind, color, tint]);
    const known = this.byKey.get(key);
    if (known !== undefined) return known;
    const n = this.swatches.push(swatch) - 1;
    this.byKey.set(key, n);
    return n;
  }
}

/**
 * Drawings as PDF, each on a page of its own size: process colours as inks through the print condition, every spot and technical swatch on a
 * plate of its exact name, tints as that part of their ink's, in gradients, too. Technical inks are printed over what lies below (common
 * practice, no source).
 *
 * @param library where the inks of tints are looked up
 * @param sheet adds pages that show all of them small, with their swatches, names and codes
 * @returns the file, and what is not as the drawings have it, in words
 */
export async function artworkPdf(
  pages: readonly ArtworkPage[],
  library: Library,
  title: string,
  services: Pick<Services, 'condition' | 'loadFont' | 'profile' | 'now'>,
  {
    sheet = false,
    only = false,
    x4 = false,
  }: { sheet?: boolean /** Nothing but the sheet. */; only?: boolean /** As PDF/X-4. */; x4?: boolean } = {},
): Promise<{ bytes: Uint8Array<ArrayBuffer>; warnings: string[] }> {
  const [{ default: Kit }, { default: layOut }] = await Promise.all([
    import('pdfkit'),
    import('svg-to-pdfkit'),
  ]);
  const { condition, loadFont } = services;
  const warnings = new Set<string>();
  const inks = new Inks(condition);
  const { swatches } = inks;

  // every colour gets a stand-in, which leads back to what it is painted with
  const drawings = pages.map(({ artwork, makings }) => {
    const changes = new Map<number, string>();
    const standIns: Making[] = [];
    for (const making of makings) {
      const { from, color, swatch } = making;
      const plain: Swatch = { id: '', name: '', kind: 'process', color };
      const own = swatch && swatch.kind !== 'process' ? swatch : inks.press(swatch ?? plain);
      for (const part of from.parts) {
        // stops are laid out in process inks, and put on their plates when the file is there
        const isStop = part.role === 'stop' && own.kind !== 'process';
        const to = standIn(inks.numberOf(isStop ? inks.stops.standInOf(own) : own));
        changes.set(part.id, to);
        if (making.line) standIns.push({ ...making, to, from: { ...from, parts: [part] } });
      }
    }
    return flattened(artwork, changes, { lines: linesOf({ artwork, makings: standIns }) });
  });
  const sizes = pages.map(({ artwork: { size } }): [number, number] => [
    size.width * POINTS[size.unit],
    size.height * POINTS[size.unit],
  ]);
  if (pages.some((p) => p.artwork.size.unit === 'px'))
    warnings.add('The drawing states pixels alone; 96 of them were taken for an inch.');
  const plates = new Plates([
    ...swatches.filter((s) => s.kind !== 'process'),
    ...allSwatches(library).filter((s) => s.kind !== 'process'),
  ]);
  const masked = drawings.some((flat) => /<(?:\w+:)?mask\b/.test(flat));
  if (masked) warnings.add('What is seen through masks is mixed in RGB.');

  class Plated extends (Kit as unknown as new (options: Record<string, unknown>) => Document) {
    /** Set when the document is there. */
    paintOf: ((swatch: Swatch) => string) | null = null;
    private readonly spaces: Record<string, unknown> = {};

    override ref(data?: unknown): ReturnType<Document['ref']> {
      const group = (data as { Group?: { CS?: string } } | undefined)?.Group;
      // what is mixed before it is laid down is of the inks it is printed with
      if (group?.CS === 'DeviceRGB' && !masked) group.CS = 'DeviceCMYK';
      const made = super.ref(data);
      // it has resources of its own, whose spaces nobody else fills in
      if (data === undefined) {
        const end = made.end.bind(made);
        const { data: resources } = made;
        made.end = (more) => {
          if (this.mixed.has(made)) Object.assign(resources, { ColorSpace: { ...this.spaces } });
          end(more);
        };
        this.latest = made;
      }
      if (group && this.latest) this.mixed.add(this.latest);
      return made;
    }
    private latest: ReturnType<Document['ref']> | null = null;
    /** The resources of what is mixed before it is laid down. */
    private readonly mixed = new Set<unknown>();

    private ink(color: unknown, stroke: boolean): boolean {
      const n = typeof color === 'string' ? PAINT.exec(color)?.[1] : undefined;
      if (n === undefined || !this.paintOf) return false;
      const swatch = swatches[Number(n)]!;
      const { page } = this;
      page.colorSpaces ??= {};
      const operators = this.paintOf(swatch);
      Object.assign(this.spaces, page.colorSpaces);
      this.addContent(stroke ? operators.replace(/\b(?:cs|scn|k|g)\b/g, (o) => o.toUpperCase()) : operators);
      this.printOver(swatch.kind === 'technical', stroke);
      return true;
    }

    /** Whether what follows is printed over what lies below, or in its place (ISO 32000-1, 8.6.7). */
    private printOver(over: boolean, stroke: boolean): void {
      if (!swatches.some((s) => s.kind === 'technical')) return;
      const name = `Over${over ? 1 : 0}${stroke ? 'S' : 'F'}`;
      const { page } = this;
      let state = this.states.get(name);
      if (!state) {
        state = this.ref({
          Type: 'ExtGState',
          OPM: 1,
          [stroke ? 'OP' : 'op']: over,
          ...(stroke ? { op: over } : {}),
        });
        state.end();
        this.states.set(name, state);
      }
      page.ext_gstates[name] = state;
      this.addContent(`/${name} gs`);
    }
    private readonly states = new Map<string, ReturnType<Document['ref']>>();

    override fillColor(color: number[] | string, opacity?: number): this {
      if (!this.ink(color, false)) return super.fillColor(color, opacity);
      return opacity === undefined ? this : this.fillOpacity(opacity);
    }
    override strokeColor(color: number[] | string, opacity?: number): this {
      if (!this.ink(color, true)) return super.strokeColor(color, opacity);
      return opacity === undefined ? this : this.strokeOpacity(opacity);
    }
  }

  const hasText = pages.some(({ artwork }) =>
    artwork.parts.some((p) => p.node.name === 'text' || p.node.name === 'tspan'),
  );
  if (hasText)
    warnings.add(
      'Text is set in the font that comes with Papillon; turn it into outlines first to keep its own.',
    );
  // opacity needs 1.4 (ISO 32000-1, 11)
  const { doc, done } = documentOf(Plated, {
    autoFirstPage: false,
    pdfVersion: '1.6',
    // not the name that sheets of swatches have
    info: { Title: title, Creator: PRODUCER, Producer: PRODUCER },
  });
  intend(doc, condition);
  doc.paintOf = painter(doc, condition, plates);
  if (hasText || sheet)
    await registerFonts(
      doc,
      loadFont,
      `${title} ${JSON.stringify(swatches)} ${pages.map((p) => p.name).join(' ')}`,
    );
  const byStandIn = new Map(swatches.map((_, n) => [Number.parseInt(standIn(n).slice(1), 16), n]));
  const unknown = new Set<string>();
  const draw = (flat: string, x: number, y: number, width: number, height: number) =>
    layOut(doc, flat, x, y, {
      ...{ width, height, assumePt: false, precision: 6 },
      colorCallback(paint) {
        if (!paint || !Array.isArray(paint[0])) return paint;
        const [[r = 0, g = 0, b = 0], opacity] = paint as [number[], number];
        const n = byStandIn.get((r << 16) | (g << 8) | b);
        if (n === undefined) return paint;
        const { color, kind } = swatches[n]!;
        // gradients want numbers, which a shape takes just as well
        return kind === 'process' ? [color.components.map((v) => v * 100), opacity] : [`paint ${n}`, opacity];
      },
      fontCallback: (_family, bold) => (bold ? 'semibold' : 'regular'),
      warningCallback: (text) => unknown.add(text),
    });
  const begin = (size: [number, number]) => {
    doc.addPage({ size, margin: 0 });
    const { page } = doc;
    page.dictionary.data.TrimBox = [0, 0, ...size];
  };
  if (!only)
    drawings.forEach((flat, i) => {
      begin(sizes[i]!);
      draw(flat, 0, 0, ...sizes[i]!);
    });
  if (sheet) {
    let y = Number.POSITIVE_INFINITY;
    pages.forEach(({ name, makings }, i) => {
      const [w, h] = sizes[i]!;
      const scale = Math.min(PICTURE / w, PICTURE / h);
      const lines = listed(makings);
      const columns = [lines.slice(0, Math.ceil(lines.length / 2)), lines.slice(Math.ceil(lines.length / 2))];
      const height = Math.max(h * scale, 22 + columns[0]!.length * ENTRY) + GAP;
      if (y + height > A4[1] - MARGIN) {
        begin(A4);
        y = MARGIN;
        if (i === 0) {
          writeLine(doc, title, 'semibold', 16, MARGIN, y, A4[0] - 2 * MARGIN);
          y += 34;
        }
      }
      draw(drawings[i]!, MARGIN, y, w * scale, h * scale);
      const left = MARGIN + PICTURE + 20;
      writeLine(doc, name, 'semibold', 11, left, y, A4[0] - MARGIN - left);
      columns.forEach((column, c) => {
        const wide = (A4[0] - MARGIN - left) / 2;
        column.forEach(({ color, swatch }, r) => {
          const [x, top] = [left + c * wide, y + 22 + r * ENTRY];
          const plain: Swatch = { id: '', name: '', kind: 'process', color };
          const own = swatch && swatch.kind !== 'process' ? swatch : inks.press(swatch ?? plain);
          doc.addContent(`q ${doc.paintOf!(own)} ${short(x, 2)} ${short(top, 2)} ${CHIP} ${CHIP} re f Q`);
          // white would vanish on the page
          if (toLab(color, condition)[0] > PALE)
            doc.addContent(`q 0 0 0 0.25 K 0.3 w ${short(x, 2)} ${short(top, 2)} ${CHIP} ${CHIP} re S Q`);
          const said = [swatch?.code, swatch?.name].filter(Boolean).join('  ') || notationOf(own);
          writeLine(doc, said, 'regular', 7.5, x + CHIP + 6, top + 1, wide - CHIP - 12);
        });
      });
      y += height;
    });
  }
  if (unknown.size > 0)
    warnings.add(
      `Not laid out: ${[...unknown]
        .map((t) => t.replace(/^SVGElem\w+:\s*/, ''))
        .join('; ')
        .slice(0, 300)}.`,
    );
  let bytes = done();
  bytes = await inks.stops.placed(bytes, plates, condition);
  const all = [...swatches, ...inks.stops.swatches];
  if (x4) bytes = await asX4(bytes, title, all, services);
  return { bytes, warnings: [...warnings] };
}

const PRODUCER = 'Papillon artwork';

// the sheet of colourways, points
const A4: [number, number] = [595.28, 841.89];
const MARGIN = 42;
const PICTURE = 190;
const GAP = 26;
const ENTRY = 15;
const CHIP = 11;
const MAX_LISTED = 40;
/** L* from which a chip gets a hairline round it. */
const PALE = 92;

/** What stands beside a colourway: each swatch or colour once. */
function listed(makings: readonly Making[]): Making[] {
  const seen = new Set<string>();
  return makings
    .filter(({ swatch, to }) => {
      const key = swatch ? swatch.id : to;
      return !seen.has(key) && seen.add(key);
    })
    .slice(0, MAX_LISTED);
}

const notationOf = ({ color }: Swatch) =>
  `CMYK ${color.components.map((v) => Math.round(v * 100)).join(' ')}`;

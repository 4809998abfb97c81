import { type Condition, convert, toHex, toLab } from '../color/index.ts';
import type { PdfArtwork, PdfPart } from '../pdf/artwork.ts';
import type { PdfColor } from '../pdf/ink-spaces.ts';
import { kindOfInk } from '../pdf/inks.ts';
import { Plates, PROCESS } from '../pdf/plates.ts';
import { type Becoming, repainted } from '../pdf/recolor.ts';
import { allSwatches, type Library, type Swatch } from '../swatch/model.ts';
import { type ArtworkFacts, type ColorFacts, grouped, type Order, partsOf } from './colorway.ts';
import { type Coverage, inksOf, type OutlineInk, type Plate, platesOf, processPlates } from './made.ts';
import { type DrawnOutline, lineAround, noShape, type Point } from './outline.ts';
import type { ColorOrder } from './parts.ts';
import type { ArtworkSize } from './size.ts';

// The pages of a PDF as artwork: what is known of them, and what becomes of their parts.

const MM = 25.4 / 72;

const sizeOf = ({ width, height }: { width: number; height: number }): ArtworkSize => ({
  ...{ width: width * MM, height: height * MM, unit: 'mm' },
  view: [0, 0, width, height],
});

/** Every colour of a PDF once, the largest first; order `position` as they are painted. */
export function pageColors({ parts }: PdfArtwork, order: ColorOrder = 'area'): ColorFacts[] {
  const whole = parts.reduce((sum, p) => sum + p.area, 0) || 1;
  const byHex = grouped(parts, (p) => p.hex);
  const colors = [...byHex].map(([hex, own]): ColorFacts => {
    const shares = own.map((p) => p.area / whole);
    return {
      ...{ hex, color: own[0]!.color },
      share: shares.reduce((a, b) => a + b, 0),
      names: [...new Set(own.flatMap((p) => p.name || []))],
      ...inkOf(own),
      written: own[0]!.space,
      parts: own.map(({ id, key, role, layer, name, gradient, page }, i) => ({
        ...{ id, key, role, layer, name, page },
        share: shares[i]!,
        ...(gradient === undefined ? {} : { gradient }),
      })),
    };
  });
  return order === 'area' ? colors.sort((a, b) => b.share - a.share) : colors;
}

/** The ink that all parts of a colour are, where it is one alone. */
function inkOf(parts: readonly PdfPart[]): Pick<ColorFacts, 'ink'> {
  const [first] = parts;
  const [only, ...rest] = first?.inks ?? [];
  if (!only || rest.length > 0 || !parts.every((p) => p.name === first!.name)) return {};
  const [name, amount] = only;
  const kind = kindOfInk(name);
  return kind === 'process' || name === 'All'
    ? {}
    : { ink: { name, kind, percent: Math.round(amount * 1e4) / 100 } };
}

export function pagesFacts(pdf: PdfArtwork): ArtworkFacts {
  const pages = pdf.pages.map(sizeOf);
  return { form: 'pages', size: pages[0]!, pages, colors: pageColors(pdf), parts: pdf.parts.length };
}

/** How a colour is written into a PDF: spot and technical swatches on their plates, all else in the space that the part is in. */
export function asWritten(
  { color, swatch }: Pick<Order, 'color' | 'swatch'>,
  plates: Plates,
  condition: Condition,
  inInks: boolean,
): PdfColor {
  if (swatch && swatch.kind !== 'process') {
    const { tint } = swatch;
    const solid = (tint && plates.inkNamed(tint.of)) || swatch;
    return {
      plate: tint ? plates.named(tint.of, swatch) : plates.of(swatch),
      tint: tint ? tint.percent / 100 : 1,
      lab: toLab(solid.color, condition),
    };
  }
  if (inInks || color.space === 'cmyk') return { space: 'cmyk', components: inksOf(color, condition) };
  const { components } = convert(color, 'rgb', condition);
  return { space: 'rgb', components: components.map((v) => Math.min(1, Math.max(0, v))) };
}

const platesIn = (orders: readonly Pick<Order, 'swatch'>[], library: Library) =>
  new Plates(
    [...orders.flatMap((o) => o.swatch ?? []), ...allSwatches(library)].filter((s) => s.kind !== 'process'),
  );

const isKept = ({ from, to, swatch, line }: Order) => from === to && !swatch && !line;

/** What the parts of a PDF become, as it goes out. */
function becomingOf(
  pdf: PdfArtwork,
  orders: readonly Order[],
  plates: Plates,
  condition: Condition,
): Map<number, Becoming> {
  const found = partsOf(pdf.parts, (p) => p.hex, orders);
  const changes = new Map<number, Becoming>();
  orders.forEach((order, i) => {
    if (isKept(order)) return;
    const color = asWritten(order, plates, condition, pdf.inInks);
    for (const part of found[i]!) changes.set(part.id, { color, ...mannerOf(part, order) });
  });
  return changes;
}

/** Whether a part is printed over others, and how wide it is as a line. */
const mannerOf = ({ role }: PdfPart, { line, swatch }: { line?: number; swatch?: Swatch }) => ({
  // a gradient has no line
  ...(line && role !== 'stop' ? { line: line / MM } : {}),
  ...(swatch?.kind === 'technical' && role !== 'stop' ? { over: true } : {}),
});

const asRgb = (hex: string): PdfColor => {
  const n = Number.parseInt(hex.slice(1), 16);
  return { space: 'rgb', components: [n >> 16, (n >> 8) & 255, n & 255].map((v) => v / 255) };
};

/** A line around parts of a page, with what it is painted with. */
export interface PageLine extends OutlineInk {
  page: number;
  paths: Point[][];
  /** Points. */
  width: number;
}

/** The lines around parts of a PDF. @throws FormatError where one cannot be drawn */
export async function pageLines(
  pdf: PdfArtwork,
  outlines: readonly (DrawnOutline & OutlineInk)[],
): Promise<PageLine[]> {
  const lines: PageLine[] = [];
  for (const { of, offset, width, ...ink } of outlines) {
    const { page, shapes } = await pdf.shapesOf(of);
    if (!shapes) throw noShape();
    lines.push({ ...ink, page, width: width / MM, paths: await lineAround(shapes, offset, MM) });
  }
  return lines;
}

/** A PDF as a screen shows it: everything in RGB, under one condition, whatever a reader thinks of inks. */
export const shownPdf = (
  pdf: PdfArtwork,
  orders: readonly Order[],
  condition: Condition,
  lines: readonly PageLine[] = [],
) =>
  repainted(pdf, shownAs(pdf, orders), {
    condition,
    lines: lines.map((line) => ({ ...line, color: asRgb(line.to), over: false })),
  });

function shownAs(pdf: PdfArtwork, orders: readonly Order[]): Map<number, Becoming> {
  const changes = new Map<number, Becoming>(pdf.parts.map((part) => [part.id, { color: asRgb(part.hex) }]));
  const found = partsOf(pdf.parts, (p) => p.hex, orders);
  orders.forEach((order, i) => {
    const { line } = order;
    if (order.to === order.from && !line) return;
    const color = asRgb(order.to);
    for (const part of found[i]!) changes.set(part.id, { color, ...mannerOf(part, line ? { line } : {}) });
  });
  return changes;
}

/**
 * A PDF in a colourway: an update behind the old file, or a new one without what was there before.
 * @param library where the inks of tints are looked up
 * @throws FormatError when it cannot be written
 */
export function madePdf(
  pdf: PdfArtwork,
  orders: readonly Order[],
  library: Library,
  condition: Condition,
  { lines = [], fresh = false }: { lines?: readonly PageLine[]; fresh?: boolean } = {},
): Promise<Uint8Array<ArrayBuffer>> {
  const plates = platesIn([...orders, ...lines], library);
  return repainted(pdf, becomingOf(pdf, orders, plates, condition), {
    condition,
    fresh,
    lines: lines.map((line) => ({
      ...line,
      color: asWritten(line, plates, condition, pdf.inInks),
      over: line.swatch?.kind === 'technical',
    })),
  });
}

/** The plates of a PDF, each as a PDF in greys: black where all of its ink goes; pictures are left out. See `separated`. */
export async function pagePlates(
  pdf: PdfArtwork,
  orders: readonly Order[],
  library: Library,
  condition: Condition,
  lines: readonly PageLine[] = [],
): Promise<(Plate & { pdf: Uint8Array<ArrayBuffer> })[]> {
  const found = partsOf(pdf.parts, (p) => p.hex, orders);
  const changed = orders.map((order) => !isKept(order));
  const own = orders.filter((_, i) => changed[i]);
  const made = platesOf([...own, ...lines], library, condition);
  // what stays is on the plates it was on
  const parts = new Map<number, { coverage: Coverage; order: Order }>();
  let at = 0;
  orders.forEach((order, i) => {
    const becomes = changed[i] ? made.coverage[at++] : undefined;
    for (const part of found[i]!)
      parts.set(part.id, { order, coverage: becomes ?? part.inks ?? mixedOf(part, condition) });
  });
  const ofLines = made.coverage.slice(own.length);
  const coverage = [...[...parts.values()].map((p) => p.coverage), ...ofLines];
  const plates = new Map(
    [...processPlates(coverage, condition), ...made.plates.filter((p) => p.kind !== 'process')].map((p) => [
      p.name,
      p,
    ]),
  );
  for (const [name, color] of pdf.solids)
    if (!plates.has(name) && coverage.some((c) => c.has(name)))
      plates.set(name, { name, kind: kindOfInk(name), hex: toHex(color, condition) });
  const each: (Plate & { pdf: Uint8Array<ArrayBuffer> })[] = [];
  for (const plate of plates.values()) {
    const changes = new Map<number, Becoming>();
    for (const [id, { coverage, order }] of parts) {
      const share = coverage.get(plate.name) ?? coverage.get('All') ?? 0;
      const { line, swatch } = order;
      const isStop = pdf.parts[id]!.role === 'stop';
      const isOver = share === 0 && (swatch ? swatch.kind === 'technical' : pdf.isOver(id));
      changes.set(id, {
        color: { space: 'gray', components: [1 - share] },
        ...(isOver && !isStop ? { gone: true } : {}),
        ...(line && !isStop ? { line: line / MM } : {}),
      });
    }
    const laid = lines.flatMap((line, i) => {
      const share = ofLines[i]!.get(plate.name) ?? 0;
      // a technical line takes nothing away on other plates
      if (share === 0 && line.swatch?.kind === 'technical') return [];
      return [{ ...line, color: { space: 'gray', components: [1 - share] } as const, over: false }];
    });
    each.push({ ...plate, pdf: await repainted(pdf, changes, { condition, noPictures: true, lines: laid }) });
  }
  return each;
}

const mixedOf = ({ color }: PdfPart, condition: Condition): Coverage => {
  const inks = inksOf(color, condition);
  return new Map(PROCESS.map((name, i) => [name, inks[i]!]));
};

import { type Color, type Condition, carried, convert, toHex } from '../color/index.ts';
import { Plates, PROCESS } from '../pdf/plates.ts';
import { allSwatches, type Library, type Swatch } from '../swatch/model.ts';
import { type Assignment, changesOf, linksOf } from './assign.ts';
import { assignmentsOf, type Order } from './colorway.ts';
import type { Artwork, ArtworkColor, Part } from './parts.ts';
import { recolored, type Writing } from './recolor.ts';
import { type ArtworkSize, unitOf } from './size.ts';

/** What becomes of some parts; with `line` they are lines as wide as a number of mm along their shapes. */
export type Making = Assignment<ArtworkColor> & { line?: number };

/** A drawing with what becomes of its parts. */
export interface MadeArtwork {
  artwork: Artwork;
  makings: Making[];
}

/** What an outline is painted with. */
export interface OutlineInk {
  color: Color;
  to: string;
  swatch?: Swatch;
}

/** A drawing as a colourway has it. @param outlines what each of the lines of `withOutlines` is painted with, by their keys */
export function madeOf(
  artwork: Artwork,
  orders: readonly Order[],
  outlines: readonly (OutlineInk & { key: string })[] = [],
): MadeArtwork {
  const drawn: Order[] = outlines.map(({ key, ...ink }) => ({
    ...ink,
    ...{ from: '#000000', parts: [key], deltaE00: 0 },
  }));
  return { artwork, makings: assignmentsOf(artwork, [...orders, ...drawn]) };
}

/** How much larger a part is drawn than it is written. */
function scaleOf({ drawn }: Part): number {
  const matrix = drawn[0]?.matrix;
  return matrix ? Math.sqrt(Math.abs(matrix[0] * matrix[3] - matrix[1] * matrix[2])) || 1 : 1;
}

/** How parts that are lines are drawn, for `recolored`. */
export function linesOf({ artwork, makings }: MadeArtwork): NonNullable<Writing['lines']> {
  const unit = unitOf(artwork.size);
  const lines = new Map<number, { hex: string; width: number }>();
  for (const { line, to, from } of makings)
    if (line)
      // a gradient has no line
      for (const part of from.parts)
        if (part.role !== 'stop') lines.set(part.id, { hex: to, width: line / unit / scaleOf(part) });
  return lines;
}

/** A drawing as SVG. @param size what it states, where that is known */
export function madeSvg(
  made: MadeArtwork,
  { links, size }: { links?: 'classes' | 'variables'; size?: ArtworkSize } = {},
): string {
  return recolored(made.artwork, changesOf(made.makings), {
    lines: linesOf(made),
    ...(links ? { links: { as: links, of: linksOf(made.makings) } } : {}),
    ...(size?.unit === 'mm' ? { size } : {}),
  });
}

// --- plates

/** A plate as it would be made. */
export interface Plate {
  name: string;
  kind: Swatch['kind'];
  /** What its ink looks like, `#rrggbb`. */
  hex: string;
}

/** How much of each plate something is painted with, 0–1. */
export type Coverage = ReadonlyMap<string, number>;

/** A colour in the inks of a press, 0–1 each. */
export const inksOf = (color: Color, condition: Condition): number[] =>
  carried(convert(color, 'cmyk', condition), ['cmyk'], condition).components.map((v) =>
    Math.min(1, Math.max(0, v)),
  );

/**
 * The plates that colours are printed from, process inks through the condition first, and how much of each every colour is.
 * @param library where the inks of tints are looked up
 */
export function platesOf(
  colors: readonly { color: Color; swatch?: Swatch }[],
  library: Library,
  condition: Condition,
): { plates: Plate[]; coverage: Coverage[] } {
  const own = colors.flatMap((c) => (c.swatch && c.swatch.kind !== 'process' ? [c.swatch] : []));
  const names = new Plates([...own, ...allSwatches(library).filter((s) => s.kind !== 'process')]);
  const plates = new Map<string, Plate>();
  const coverage = colors.map(({ color, swatch }) => {
    const shares = new Map<string, number>();
    if (swatch && swatch.kind !== 'process') {
      const { tint } = swatch;
      const name = tint ? names.named(tint.of, swatch) : names.of(swatch);
      const solid = tint ? (names.inkNamed(tint.of) ?? swatch) : swatch;
      if (!plates.has(name))
        plates.set(name, { name, kind: swatch.kind, hex: toHex(solid.color, condition) });
      shares.set(name, tint ? tint.percent / 100 : 1);
    } else for (const [i, v] of inksOf(color, condition).entries()) shares.set(PROCESS[i]!, v);
    return shares;
  });
  return { plates: [...processPlates(coverage, condition), ...plates.values()], coverage };
}

/** The plates of process inks that there is anything on. */
export const processPlates = (coverage: readonly Coverage[], condition: Condition): Plate[] =>
  PROCESS.filter((name) => coverage.some((c) => (c.get(name) ?? 0) > 0)).map((name) => ({
    name,
    kind: 'process',
    hex: toHex({ space: 'cmyk', components: PROCESS.map((p) => (p === name ? 1 : 0)) }, condition),
  }));

const greyOf = (share: number) => {
  const v = Math.round(255 * (1 - share))
    .toString(16)
    .padStart(2, '0');
  return `#${v}${v}${v}`;
};

/**
 * The plates of a drawing, each as a drawing in greys: black where all of its ink goes. What is painted takes away what lies below it on
 * other plates, but for technical inks, which are printed over it.
 */
export function separated(
  { artwork, makings }: MadeArtwork,
  library: Library,
  condition: Condition,
): (Plate & { svg: string })[] {
  const { plates, coverage } = platesOf(makings, library, condition);
  const lines = linesOf({ artwork, makings });
  return plates.map((plate) => {
    const changes = new Map<number, string>();
    const without = new Set<number>();
    const drawn = new Map<number, { hex: string; width: number }>();
    makings.forEach(({ from, swatch }, i) => {
      const share = coverage[i]!.get(plate.name) ?? 0;
      const over = swatch?.kind === 'technical' && share === 0;
      for (const { id, role } of from.parts) {
        const line = lines.get(id);
        if (over && role !== 'stop') without.add(id);
        else if (line) drawn.set(id, { ...line, hex: greyOf(share) });
        else changes.set(id, greyOf(share));
      }
    });
    return { ...plate, svg: recolored(artwork, changes, { lines: drawn, without }) };
  });
}

// --- pointing

/** Opaque, sharp and without effects, so that every pixel is of one part. */
const MAP_RULES =
  '*{opacity:1!important;fill-opacity:1!important;stroke-opacity:1!important;stop-opacity:1!important;filter:none!important;mask:none!important;mix-blend-mode:normal!important;shape-rendering:crispEdges!important}image{visibility:hidden!important}';

/** Odd, so that every number below 2^24 has one of its own; far apart for neighbours, so that what is mixed at an edge is no other's. */
const SPREAD = 0x9e3779;
const SPREAD_BACK = (() => {
  // the inverse modulo 2^24, by Newton's steps
  let inverse = 1;
  for (let i = 0; i < 5; i++) inverse = Math.imul(inverse, 2 - Math.imul(SPREAD, inverse)) & 0xffffff;
  return inverse;
})();

/** The colour that stands for a part in {@link partMap}, 24 bits of RGB. */
export const codeOfPart = (id: number) => Math.imul(id + 1, SPREAD) & 0xffffff;

/** A drawing in which the colour of a pixel says which part it is of; see {@link partAt}. */
export function partMap(made: MadeArtwork): string {
  const code = (id: number) => `#${codeOfPart(id).toString(16).padStart(6, '0')}`;
  const lines = linesOf(made);
  const changes = new Map<number, string>();
  const drawn = new Map<number, { hex: string; width: number }>();
  for (const { id, gradient = id } of made.artwork.parts) {
    const line = lines.get(id);
    if (line) drawn.set(id, { ...line, hex: code(id) });
    // a gradient is flat here: the first of its stops stands for all
    else changes.set(id, code(gradient));
  }
  return recolored(made.artwork, changes, { lines: drawn, opaque: true, rules: MAP_RULES });
}

/** The number of the part that a pixel of {@link partMap} is of; null for none, or a mixture. @param value 24 bits of RGB */
export function partAt(value: number, parts: number): number | null {
  const n = (Math.imul(value, SPREAD_BACK) & 0xffffff) - 1;
  return n >= 0 && n < parts ? n : null;
}

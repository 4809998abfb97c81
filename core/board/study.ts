import { type Color, type Condition, deltaE00, toLab } from '../color/index.ts';
import type { Board } from '../swatch/board.ts';
import { areasOf } from './areas.ts';
import type { ColorThing, Thing } from './things.ts';

/** How much of something a color covers, 0–1. */
export interface Covered {
  color: Color;
  share: number;
}

/** A color of a board beside what a picture or artwork has of it. */
export interface Proportion {
  /** Of the board's object. */
  of: string;
  thing: ColorThing;
  /** Of what colors cover on the board, 0–1. */
  here: number;
  /** Of what the colors of the picture that are nearest to it cover there. */
  there: number;
}

/** Colors that are further apart than this have nothing to do with each other, ΔE00. */
const FAR = 20;

/** The areas of a board's colors next to those of a picture or artwork, each of whose colors counts for the nearest of the board. */
export function proportions(
  things: readonly Thing[],
  covered: readonly Covered[],
  condition: Condition,
): { rows: Proportion[] /** What nothing on the board is near to. */; rest: number } {
  const colors = things.filter((t): t is ColorThing => t.is === 'color');
  const areas = areasOf(colors);
  const labs = colors.map((t) => toLab(t.swatch.color, condition));
  const there = new Float64Array(colors.length);
  let rest = 0;
  for (const { color, share } of covered) {
    const lab = toLab(color, condition);
    let [best, distance] = [-1, FAR];
    labs.forEach((own, i) => {
      const d = deltaE00(own, lab);
      if (d < distance) [best, distance] = [i, d];
    });
    if (best < 0) rest += share;
    else there[best]! += share;
  }
  const rows = colors.map((thing, i) => ({ of: thing.of, thing, here: areas[i]!, there: there[i]! }));
  return { rows, rest };
}

/** The smallest part that a color gets which a picture does not have. */
const LEAST = 0.01;

/** Exact shares of the area for objects that are one color each, as much as the picture has of them. */
export function sharesFrom(board: Board, rows: readonly Proportion[]): Map<string, number> {
  const single = new Set(board.data.objects.filter((o) => o.of === 'swatch').map((o) => o.id));
  const own = rows.filter((r) => single.has(r.of));
  const sum = own.reduce((all, r) => all + Math.max(LEAST, r.there), 0);
  return new Map(own.map((r) => [r.of, Math.max(LEAST, r.there) / sum]));
}

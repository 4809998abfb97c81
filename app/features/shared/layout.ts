import type { Group, Library, Swatch } from '#core/swatch/index';
import { isLoose } from '#core/swatch/index';

export type View = 'mosaic' | 'list';

/** One line of the scrolled stage: a group's heading or a run of its swatches. */
export type Line =
  | { kind: 'head'; group: Group; index: number; top: number; height: number }
  | { kind: 'run'; group: Group; from: number; swatches: Swatch[]; top: number; height: number }
  | { kind: 'empty'; group: Group; top: number; height: number };

export interface Geometry {
  columns: number;
  lineHeight: number;
  headHeight: number;
}

/** A group's part of the stage. */
interface Part {
  group: Group;
  index: number;
  /** Its heading's place among the lines, and from the top, px. */
  line: number;
  top: number;
  runs: number;
}

const EMPTY_HEIGHT = 34;
const MARGIN_TOP = 6;

/** The library in lines from the top, with `columns` swatches to a line. Lines are made as they are asked for. */
export interface Layout {
  readonly count: number;
  /** The same for two layouts whose lines stand in the same places. */
  readonly shape: string;
  heightAt(line: number): number;
  line(line: number): Line;
  /** The line of a swatch, by its group and place in it. */
  lineOf(group: string, place: number): number;
  headOf(group: string): number;
  /** The last line that begins at or above a height; the first one above all. */
  lineAtHeight(y: number): number;
}

export function layOut(library: Library, { columns, lineHeight, headHeight }: Geometry): Layout {
  const parts: Part[] = [];
  let line = 0;
  let top = MARGIN_TOP;
  library.groups.forEach((group, index) => {
    if (isLoose(library, group) && group.swatches.length === 0) return;
    const runs = Math.ceil(group.swatches.length / columns);
    parts.push({ group, index, line, top, runs });
    line += 1 + Math.max(1, runs);
    top += headHeight + (runs > 0 ? runs * lineHeight : EMPTY_HEIGHT);
  });
  const byGroup = new Map(parts.map((p) => [p.group.id, p]));
  const partAt = (fits: (p: Part) => boolean): Part | undefined => {
    let [low, high] = [0, parts.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (fits(parts[middle])) low = middle + 1;
      else high = middle;
    }
    return parts[Math.max(0, low - 1)];
  };
  const heightIn = (part: Part, run: number) =>
    run < 0 ? headHeight : part.runs > 0 ? lineHeight : EMPTY_HEIGHT;
  return {
    count: line,
    shape: `${columns} ${lineHeight} ${headHeight} ${parts.map((p) => `${p.group.id}:${p.runs}`).join()}`,
    heightAt(i) {
      const part = partAt((p) => p.line <= i);
      return part ? heightIn(part, i - part.line - 1) : 0;
    },
    line(i) {
      const part = partAt((p) => p.line <= i)!;
      const { group, index } = part;
      const run = i - part.line - 1;
      if (run < 0) return { kind: 'head', group, index, top: part.top, height: headHeight };
      const at = part.top + headHeight + run * lineHeight;
      if (part.runs === 0) return { kind: 'empty', group, top: at, height: EMPTY_HEIGHT };
      const from = run * columns;
      const swatches = group.swatches.slice(from, from + columns);
      return { kind: 'run', group, from, swatches, top: at, height: lineHeight };
    },
    lineOf(group, place) {
      const part = byGroup.get(group);
      return part ? part.line + 1 + Math.floor(place / columns) : -1;
    },
    headOf: (group) => byGroup.get(group)?.line ?? -1,
    lineAtHeight(y) {
      const part = partAt((p) => p.top <= y);
      if (!part) return -1;
      const below = y - part.top - headHeight;
      const runs = Math.max(1, part.runs);
      return below < 0 ? part.line : part.line + 1 + Math.min(runs - 1, Math.floor(below / lineHeight));
    },
  };
}

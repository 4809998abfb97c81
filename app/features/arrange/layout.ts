import type { Group, Library, Swatch } from '#core/swatch/index';
import { isLoose } from '#core/swatch/index';

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

/** Lays the library out in lines from the top, with `columns` swatches to a line. */
export function layOut(library: Library, { columns, lineHeight, headHeight }: Geometry): Line[] {
  const lines: Line[] = [];
  let top = 6;
  const put = (
    line:
      | { kind: 'head'; group: Group; index: number }
      | { kind: 'run'; group: Group; from: number; swatches: Swatch[] }
      | { kind: 'empty'; group: Group },
    height: number,
  ) => {
    lines.push({ ...line, top, height } as Line);
    top += height;
  };
  library.groups.forEach((group, index) => {
    if (isLoose(library, group) && group.swatches.length === 0) return;
    put({ kind: 'head', group, index }, headHeight);
    for (let from = 0; from < group.swatches.length; from += columns)
      put({ kind: 'run', group, from, swatches: group.swatches.slice(from, from + columns) }, lineHeight);
    if (group.swatches.length === 0) put({ kind: 'empty', group }, 34);
  });
  return lines;
}

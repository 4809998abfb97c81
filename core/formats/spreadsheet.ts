import { fromCss, screenOnly, toHex } from '../color/index.ts';
import { FormatError } from '../text/error.ts';
import { fillFromRows } from './csv/csv.ts';
import type { Draft } from './draft.ts';

/** A cell of a spreadsheet: its text, and the colour it is filled with. */
export interface Cell {
  text: string;
  fill?: string;
}

/** A sheet, row by row; rows that are empty are left out. */
export interface Sheet {
  name: string;
  rows: { number: number; cells: Cell[] }[];
}

/** More than any table of colours has. */
export const MAX_CELLS = 2_000_000;
/** What sheets of swatches in no group are called when they are written. */
export const NO_GROUP = 'Swatches';
const isNoGroup = new RegExp(`^${NO_GROUP}(?: \\d+)?$`);
const isWhite = (hex: string) => /^#f{6}$/i.test(hex);

/** Swatches from filled cells: each is named by its own text, or else by the text beside it. */
function fillFromCells({ rows }: Sheet, draft: Draft, group: string | undefined): number {
  let found = 0;
  for (const { cells } of rows)
    cells.forEach((cell, i) => {
      draft.step();
      if (!cell?.fill || isWhite(cell.fill)) return;
      const beside = [cells[i + 1], cells[i - 1]].find((c) => c && c.text.trim() !== '' && !c.fill);
      const text = cell.text.trim();
      // a code in a cell of its colour is not a name
      const named = text !== '' && !fromCss(text) ? text : (beside?.text.trim() ?? '');
      const read = fromCss(cell.fill);
      if (!read) return;
      if (found++ === 0 && group !== undefined) draft.enter(group);
      draft.add({ name: named, ...read });
    });
  return found;
}

/**
 * Fills a draft from the sheets of a spreadsheet: columns as in a CSV table, else filled cells. Each sheet is a group where
 * several have colours and none says groups itself.
 * @throws FormatError when no sheet has colours
 */
export function fillFromSheets(sheets: readonly Sheet[], draft: Draft): void {
  const several = sheets.filter((s) => s.rows.length > 0).length > 1;
  const without: string[] = [];
  let tables = 0;
  for (const sheet of sheets) {
    if (sheet.rows.length === 0) continue;
    const called = isNoGroup.test(sheet.name) ? '' : sheet.name;
    const group = several ? { group: called } : {};
    const place = several ? `sheet “${sheet.name.slice(0, 40)}”, row` : 'row';
    const rows = sheet.rows.map(({ number, cells }) => ({
      number,
      cells: Array.from(cells, (c) => c?.text ?? ''),
    }));
    // a table may begin under a title
    const from = rows.findIndex((_, i) => i < 20 && tableBegins(rows[i]!.cells));
    if (from >= 0 && fillFromRows(rows.slice(from), draft, { ...group, place, isFirst: draft.isEmpty })) {
      tables++;
      continue;
    }
    if (fillFromCells(sheet, draft, several ? called : undefined) === 0) without.push(sheet.name);
  }
  if (draft.count === 0 && tables === 0)
    throw new FormatError(
      'no sheet of it has a column of colours or filled cells. Give a table a first row of headings such as Name, Hex or Red, Green, Blue.',
    );
  if (without.length > 0)
    draft.warn(
      `Without colours, so left out: ${without
        .slice(0, 5)
        .map((n) => `“${n.slice(0, 40)}”`)
        .join(', ')}.`,
    );
}

const tableBegins = (cells: string[]) => {
  const written = cells.filter((c) => c.trim() !== '').length;
  return written > 1;
};

/** A fill as six digits with the mark, from a colour in eight or six. */
export const fillOf = (digits: string | undefined): string | undefined => {
  const rgb = /^(?:#|[\da-f]{2}(?=[\da-f]{6}$))?([\da-f]{6})$/i.exec(digits ?? '')?.[1];
  return rgb ? `#${rgb.toLowerCase()}` : undefined;
};

/** A colour as a theme or an office program tints it: towards white, or black, in lightness (ECMA-376-1, 18.8.19). */
export function tinted(hex: string, tint: number): string {
  const read = fromCss(hex);
  if (!read || tint === 0) return hex;
  const [r = 0, g = 0, b = 0] = read.color.components;
  const [high, low] = [Math.max(r, g, b), Math.min(r, g, b)];
  const l = (high + low) / 2;
  const to = tint < 0 ? l * (1 + tint) : l * (1 - tint) + tint;
  const s = high === low ? 0 : (high - low) / (1 - Math.abs(2 * l - 1));
  const d = high - low;
  const h =
    d === 0
      ? 0
      : high === r
        ? (((g - b) / d + 6) % 6) * 60
        : high === g
          ? ((b - r) / d + 2) * 60
          : ((r - g) / d + 4) * 60;
  return toHex({ space: 'hsl', components: [h, s, to] }, screenOnly);
}

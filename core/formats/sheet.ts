import { allSwatches, type Library, type Swatch } from '../swatch/model.ts';
import type { OptionDeclaration } from './format.ts';

export interface Chip {
  swatch: Swatch;
  column: number;
  row: number;
}

/** The swatches laid out in library order, row by row. */
export function chipsOf(library: Library, columns: number): { chips: Chip[]; rows: number } {
  const chips = allSwatches(library).map((swatch, i) => ({
    swatch,
    column: i % columns,
    row: Math.floor(i / columns),
  }));
  return { chips, rows: Math.ceil(chips.length / columns) };
}

export const columnsOption: OptionDeclaration = {
  id: 'columns',
  label: 'Columns',
  type: 'number',
  min: 1,
  max: 100,
  initial: 8,
};

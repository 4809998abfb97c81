import { type Condition, toHex } from '../color/index.ts';
import type { OptionDeclaration } from '../options.ts';
import type { Chip } from '../services.ts';
import { allSwatches, type Library, swatchLabel } from '../swatch/model.ts';

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

/** What stands under a chip on a sheet with names. */
export const chipLabel = ({ swatch }: Chip, condition: Condition) => ({
  name: swatchLabel(swatch, condition),
  code: swatch.name ? (swatch.code ?? toHex(swatch.color, condition).toUpperCase()) : '',
});

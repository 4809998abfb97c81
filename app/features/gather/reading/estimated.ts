import { nanoid } from 'nanoid';
import { keptLab } from '#core/reading/swatches';
import type { Spectrum, Swatch } from '#core/swatch/index';

/** A colour that was computed and not measured, as a swatch that says so. */
export const estimated = (name: string, spectrum: Spectrum, note: string): Swatch => ({
  id: nanoid(12),
  name,
  kind: 'process',
  color: { space: 'lab', components: keptLab(spectrum) },
  note,
  origin: { from: 'reading', name: note },
});

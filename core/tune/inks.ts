import { type Condition, convert, screenOnly } from '../color/index.ts';
import type { Draft, Op } from '../swatch/index.ts';
import type { Swatch } from '../swatch/model.ts';

// What an ink can become instead of another colour: that is for a person to choose.

/** Prints an ink with those of the press instead: as near as they come to it. It keeps its name and where it is from. */
export function toProcess(swatches: readonly Swatch[], condition: Condition): Draft {
  const inks = swatches.filter((s) => s.kind === 'spot' || s.tint);
  return {
    label:
      inks.length === 1 ? `convert “${inks[0]!.name}” to process` : `convert ${inks.length} inks to process`,
    ops: inks.map(
      (s): Op => ({
        op: 'set',
        of: 'swatch',
        id: s.id,
        fields: {
          kind: 'process',
          color: convert(s.color, condition === screenOnly ? 'rgb' : 'cmyk', condition),
          alternates: null,
          spectrum: null,
          tint: null,
          recipe: null,
          special: null,
        },
      }),
    ),
  };
}

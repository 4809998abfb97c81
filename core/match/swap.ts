import type { Draft, Op, Swatch } from '../swatch/index.ts';

/** What makes a swatch this ink and no other; role, note and opacity are its own whatever ink it is. */
const OF_INK = ['kind', 'code', 'alternates', 'spectrum', 'tint', 'recipe', 'special', 'origin'] as const;

/**
 * Swatches become another: its colour, and where wanted its name, number and all that makes it that ink. One step, undone in
 * one.
 *
 * @param to as it is taken from its book or library
 * @param whole name and number too, not the colour alone
 */
export function swapFor(ids: readonly string[], to: Swatch, whole: boolean): Draft {
  const fields: Record<string, unknown> = { color: to.color };
  if (whole) {
    fields.name = to.name;
    for (const field of OF_INK) fields[field] = to[field] ?? null;
  } else {
    // what was measured of another colour is not true of this one
    for (const field of ['alternates', 'spectrum', 'tint', 'recipe', 'special'] as const)
      fields[field] = null;
  }
  return {
    label: `swap ${ids.length === 1 ? '' : `${ids.length} swatches `}for ${to.name || to.code || 'another colour'}`,
    ops: ids.map((id): Op => ({ op: 'set', of: 'swatch', id, fields })),
  };
}

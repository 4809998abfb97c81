import { type Condition, toHex } from '../color/index.ts';
import { addGroups, type Draft, freeGroupName, type LibraryRows, type Op } from '../swatch/index.ts';
import type { Swatch } from '../swatch/model.ts';
import { plural } from '../text/text.ts';
import { EVEN, type Tuned, type Tuning } from './tune.ts';

const signed = (v: number, decimals: number) =>
  `${v > 0 ? '+' : '−'}${Math.abs(v).toFixed(decimals).replace(/\.0$/, '')}`;

/** What a tuning does, for the history: “lightness +3.5, chroma × 1.22”. Empty where it does nothing. */
export function tuningWords(tuning: Tuning, condition: Condition): string {
  const {
    values,
    relight,
    match,
    even = {},
    lightness = 0,
    chroma = 1,
    hue = 0,
    warmth = 0,
    blend,
    reverse,
  } = tuning;
  return [
    values && `values to ${toHex(values, condition).toUpperCase()}`,
    relight && relight.from !== relight.to && `light ${relight.from} to ${relight.to}`,
    match && match.percent > 0 && `${match.percent} % like others`,
    ...EVEN.map((what) => (even[what] ? `even ${what} ${even[what]} %` : false)),
    lightness !== 0 && `lightness ${signed(lightness, 1)}`,
    chroma !== 1 && `chroma × ${chroma.toFixed(2)}`,
    hue !== 0 && `hue ${signed(hue, 0)}°`,
    warmth !== 0 && `warmth ${signed(warmth, 1)}`,
    blend &&
      blend.percent > 0 &&
      `${blend.percent} % towards ${toHex(blend.toward, condition).toUpperCase()}`,
    reverse && 'reversed',
  ]
    .filter(Boolean)
    .join(', ');
}

/** Moves swatches, as one change. */
export function tuneSwatches(tuned: readonly Tuned[], words: string): Draft {
  const moved = tuned.filter((t) => t.color !== t.swatch.color);
  return {
    label: `tune ${plural(moved.length, 'swatch', 'swatches')}: ${words}`,
    ops: moved.map(
      ({ swatch, color }): Op => ({
        op: 'set',
        of: 'swatch',
        id: swatch.id,
        fields: {
          color,
          // what it was in other spaces, or measured, is not what it is now
          ...(swatch.alternates ? { alternates: null } : {}),
          ...(swatch.spectrum ? { spectrum: null } : {}),
        },
      }),
    ),
  };
}

/** A swatch with its new color: what it was in other spaces, or measured, is not what it is now. */
function tunedSwatch({ swatch, color }: Tuned): Swatch {
  const { alternates: _, spectrum: __, ...rest } = swatch;
  return { ...rest, color };
}

/** The same swatches in their order, with those that were moved as they are now. */
export function tunedSwatches(swatches: readonly Swatch[], tuned: readonly Tuned[]): Swatch[] {
  const byId = new Map(tuned.map((t) => [t.swatch.id, t]));
  return swatches.map((s) => {
    const found = byId.get(s.id);
    return found && found.color !== s.color ? tunedSwatch(found) : s;
  });
}

/** Puts the tuned colours into a group of their own, whose swatches know what they come from. */
export function tunedGroup(
  rows: LibraryRows,
  tuned: readonly Tuned[],
  words: string,
  name: string,
  newId: () => string,
): Draft & { made: string[] } {
  const swatches = tuned.map(
    (t): Swatch => ({
      ...tunedSwatch(t),
      id: newId(),
      origin: { from: 'tune', name: `${t.swatch.name}, ${words}`.slice(0, 500) },
    }),
  );
  const group = { id: newId(), name: freeGroupName(rows.library, name), swatches };
  const { ops } = addGroups(rows, [group]);
  return {
    label: `tune ${plural(swatches.length, 'swatch', 'swatches')} into the group “${group.name}”: ${words}`,
    ops,
    made: swatches.map((s) => s.id),
  };
}

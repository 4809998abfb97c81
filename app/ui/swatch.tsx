import type { CSSProperties } from 'react';
import { type Condition, inkOn, toHex } from '#core/color/index';
import type { Library, Swatch } from '#core/swatch/index';

export { swatchLabel } from '#core/swatch/model';

import { useCondition } from './condition';
import css from './swatch.module.css';

const letters = { process: '', spot: 'S', technical: 'T' } as const;

/** A swatch's flat face with its kind: S spot, T technical and hatched. */
export function SwatchFace({
  swatch,
  className = '',
  style,
}: {
  swatch: Swatch;
  className?: string;
  style?: CSSProperties;
}) {
  const condition = useCondition();
  const letter = letters[swatch.kind];
  return (
    <span
      className={`${css.face} ${swatch.kind === 'technical' ? css.technical : ''} ${className}`}
      style={{ background: toHex(swatch.color, condition), opacity: swatch.alpha, ...style }}
    >
      {letter && (
        <span className={css.letter} aria-hidden style={{ color: inkOn(swatch.color, condition) }}>
          {letter}
        </span>
      )}
    </span>
  );
}

/**
 * Flat colours side by side as one background: thousands of elements fewer than an element for each.
 *
 * @param areas of each, parts of 1; all the same when not given
 */
export function sideBySide(colors: string[], areas?: readonly number[]): string | undefined {
  if (colors.length === 0) return undefined;
  const edges = [0];
  for (const [i] of colors.entries()) edges.push(edges[i]! + (areas?.[i] ?? 1 / colors.length));
  const at = (i: number) => `${(edges[i]! * 100).toFixed(3)}%`;
  return `linear-gradient(to right, ${colors.map((c, i) => `${c} ${at(i)} ${at(i + 1)}`).join(', ')})`;
}

/** A thin strip of colours. */
export function Strip({ colors, height = 7 }: { colors: string[]; height?: number }) {
  return <span className={css.strip} style={{ height, background: sideBySide(colors) }} aria-hidden />;
}

/** A strip shows no more colours than it has pixels for. */
export function stripColors(swatches: Swatch[], condition: Condition, most = 60): string[] {
  const step = Math.max(1, Math.ceil(swatches.length / most));
  const colors: string[] = [];
  for (let i = 0; i < swatches.length; i += step) colors.push(toHex(swatches[i]!.color, condition));
  return colors;
}

export const groupLabel = (library: Library, index: number) =>
  library.groups[index]!.name || (index === 0 ? 'No group' : 'Group without a name');

const grouped = new Intl.NumberFormat('en-GB');
export const count = (n: number, one: string, many = `${one}s`) =>
  `${grouped.format(n)} ${n === 1 ? one : many}`;

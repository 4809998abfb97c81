import { type Color, convert, deltaE00, screenOnly, toLab, toRgb8 } from '../color/index.ts';
import type { PaletteColor } from './reduce.ts';

/** A colour that would go, and the one that stands for it. */
export interface Merge {
  gone: number;
  into: number;
  deltaE00: number;
}

/**
 * Which colours of a palette look alike: each colour within the threshold of one with a larger share goes
 * into the nearest such one. The colours that stay are not altered.
 *
 * @param threshold ΔE00; 0 merges nothing but equal colours
 * @returns merges by index into the palette
 */
export function lookAlikes(colors: PaletteColor[], threshold: number): Merge[] {
  const labs = colors.map((c) => toLab(c.color, screenOnly));
  // a held colour stays, whatever its share
  const byShare = colors
    .map((_, i) => i)
    .sort(
      (a, b) =>
        Number(colors[b].held ?? false) - Number(colors[a].held ?? false) ||
        colors[b].share - colors[a].share ||
        a - b,
    );
  const kept: number[] = [];
  const merges: Merge[] = [];
  for (const i of byShare) {
    let best: Merge | null = null;
    for (const k of kept) {
      const d = deltaE00(labs[i], labs[k]);
      if (d <= threshold && (!best || d < best.deltaE00)) best = { gone: i, into: k, deltaE00: d };
    }
    if (best && !colors[i].held) merges.push(best);
    else kept.push(i);
  }
  return merges;
}

/** What becomes of a pair: the left colour (the one with the larger share), the right one, or their mean. */
export type Keep = 'left' | 'right' | 'mean';

/** Two colours as one, in place of the left; shares are added, and the mean is weighted by them, taken in CIE Lab. */
export function joined(left: PaletteColor, right: PaletteColor, keep: Keep = 'left'): PaletteColor {
  const share = left.share + right.share;
  const stays = keep === 'right' ? right : left;
  const whole = { ...stays, share, first: Math.min(left.first, right.first) };
  if (keep !== 'mean') return whole;
  const part = share > 0 ? right.share / share : 0.5;
  const [a, b] = [toLab(left.color, screenOnly), toLab(right.color, screenOnly)];
  const lab: Color = { space: 'lab', components: a.map((v, i) => v + part * (b[i] - v)) };
  const { held: _, ...rest } = whole;
  return { ...rest, color: convert(lab, 'rgb', screenOnly), rgb: toRgb8(lab, screenOnly) };
}

/** The palette without what {@link lookAlikes} found: each goes into the one that stands for it. */
export function merged(colors: PaletteColor[], merges: Merge[]): PaletteColor[] {
  const next = [...colors];
  for (const { gone, into } of merges) next[into] = joined(next[into], next[gone]);
  const out = new Set(merges.map((m) => m.gone));
  return next.filter((_, i) => !out.has(i));
}

import { deltaE00, fromRgb8, type Lab, toLab } from '../color/index.ts';
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
  const labs = colors.map((c) => toLab(fromRgb8(...c.rgb)) as Lab);
  const byShare = colors.map((_, i) => i).sort((a, b) => colors[b].share - colors[a].share || a - b);
  const kept: number[] = [];
  const merges: Merge[] = [];
  for (const i of byShare) {
    let best: Merge | null = null;
    for (const k of kept) {
      const d = deltaE00(labs[i], labs[k]);
      if (d <= threshold && (!best || d < best.deltaE00)) best = { gone: i, into: k, deltaE00: d };
    }
    if (best) merges.push(best);
    else kept.push(i);
  }
  return merges;
}

/** The palette without what {@link lookAlikes} found; the shares of what goes are added to what stays. */
export function merged(colors: PaletteColor[], merges: Merge[]): PaletteColor[] {
  const next = colors.map((c) => ({ ...c }));
  for (const { gone, into } of merges) {
    next[into].share += next[gone].share;
    next[into].first = Math.min(next[into].first, next[gone].first);
  }
  const out = new Set(merges.map((m) => m.gone));
  return next.filter((_, i) => !out.has(i));
}

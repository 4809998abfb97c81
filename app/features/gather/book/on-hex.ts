import { screenOnly } from '#core/color/condition';
import { fromRgb8, inkOn } from '#core/color/index';

/** Black or white, whichever reads better on `#rrggbb`. */
export function onHex(hex: string): string {
  const n = Number.parseInt(hex.slice(1), 16);
  return inkOn(fromRgb8(n >> 16, (n >> 8) & 255, n & 255), screenOnly);
}

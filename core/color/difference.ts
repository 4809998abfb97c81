import type { Lab } from './model.ts';

const { abs, atan2, cos, exp, hypot, sin, sqrt, PI } = Math;
const POW25_7 = 25 ** 7;
const RAD = PI / 180;

/**
 * The CIEDE2000 colour difference of two CIE Lab colours, with kL = kC = kH = 1.
 *
 * Source: ISO/CIE 11664-6; implementation notes by Sharma, Wu and Dalal (2005), whose equation numbers are
 * given beside the steps.
 */
export function deltaE00([L1, a1, b1]: Lab, [L2, a2, b2]: Lab): number {
  const meanC = (hypot(a1, b1) + hypot(a2, b2)) / 2; // (2), (3)
  const meanC7 = meanC ** 7;
  const G = 0.5 * (1 - sqrt(meanC7 / (meanC7 + POW25_7))); // (4)
  const a1p = (1 + G) * a1; // (5)
  const a2p = (1 + G) * a2;
  const C1 = hypot(a1p, b1); // (6)
  const C2 = hypot(a2p, b2);
  const h1 = hue(a1p, b1); // (7)
  const h2 = hue(a2p, b2);

  const achromatic = C1 * C2 === 0;
  let dh = h2 - h1; // (10)
  if (achromatic) dh = 0;
  else if (dh > 180) dh -= 360;
  else if (dh < -180) dh += 360;
  const dL = L2 - L1; // (8)
  const dC = C2 - C1; // (9)
  const dH = 2 * sqrt(C1 * C2) * sin((dh / 2) * RAD); // (11)

  const L = (L1 + L2) / 2; // (12)
  const C = (C1 + C2) / 2; // (13)
  let h = h1 + h2; // (14)
  if (!achromatic) {
    if (abs(h1 - h2) <= 180) h /= 2;
    else h = h < 360 ? (h + 360) / 2 : (h - 360) / 2;
  }
  const T =
    1 -
    0.17 * cos((h - 30) * RAD) +
    0.24 * cos(2 * h * RAD) +
    0.32 * cos((3 * h + 6) * RAD) -
    0.2 * cos((4 * h - 63) * RAD); // (15)
  const theta = 30 * exp(-(((h - 275) / 25) ** 2)); // (16)
  const C7 = C ** 7;
  const RC = 2 * sqrt(C7 / (C7 + POW25_7)); // (17)
  const L50 = (L - 50) ** 2;
  const SL = 1 + (0.015 * L50) / sqrt(20 + L50); // (18)
  const SC = 1 + 0.045 * C; // (19)
  const SH = 1 + 0.015 * C * T; // (20)
  const RT = -sin(2 * theta * RAD) * RC; // (21)

  const l = dL / SL;
  const c = dC / SC;
  const t = dH / SH;
  return sqrt(l * l + c * c + t * t + RT * c * t); // (22)
}

function hue(a: number, b: number): number {
  if (a === 0 && b === 0) return 0;
  const h = atan2(b, a) / RAD;
  return h < 0 ? h + 360 : h;
}

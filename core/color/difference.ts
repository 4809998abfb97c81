import type { Lab } from './model.ts';

const { abs, atan2, cos, exp, sin, sqrt, PI } = Math;
const POW25_7 = 25 ** 7;
const RAD = PI / 180;
const [C30, S30] = [cos(30 * RAD), sin(30 * RAD)];
const [C6, S6] = [cos(6 * RAD), sin(6 * RAD)];
const [C63, S63] = [cos(63 * RAD), sin(63 * RAD)];

// `hypot` and `**` take ten times as long, and a library is compared with itself by the million
const length = (a: number, b: number) => sqrt(a * a + b * b);
function seventh(v: number): number {
  const cube = v * v * v;
  return cube * cube * v;
}

/**
 * The CIEDE2000 colour difference of two CIE Lab colours, with kL = kC = kH = 1.
 *
 * Source: ISO/CIE 11664-6; implementation notes by Sharma, Wu and Dalal (2005), whose equation numbers are
 * given beside the steps.
 */
export function deltaE00(one: Lab, two: Lab): number {
  partsOf(one, two);
  const c = parts[1]!;
  const t = parts[2]!;
  return sqrt(parts[0]! * parts[0]! + c * c + t * t + parts[3]! * c * t); // (22)
}

/**
 * The difference as three numbers whose length is {@link deltaE00}, for searches that have to know which way to go: lightness,
 * and two of chroma and hue together.
 */
export function residuals00(one: Lab, two: Lab): [number, number, number] {
  partsOf(one, two);
  const [l, c, t, RT] = parts;
  const half = RT! / 2;
  return [l!, c! + half * t!, sqrt(Math.max(0, 1 - half * half)) * t!];
}

/** Of lightness, chroma and hue, each weighed, and the rotation term: written here, as an array for each would be slow. */
const parts = new Float64Array(4);

function partsOf(one: Lab, two: Lab): void {
  // by their places: taking arrays apart is slow where it happens by the million
  const L1 = one[0];
  const a1 = one[1];
  const b1 = one[2];
  const L2 = two[0];
  const a2 = two[1];
  const b2 = two[2];
  const meanC = (length(a1, b1) + length(a2, b2)) / 2; // (2), (3)
  const meanC7 = seventh(meanC);
  const G = 0.5 * (1 - sqrt(meanC7 / (meanC7 + POW25_7))); // (4)
  const a1p = (1 + G) * a1; // (5)
  const a2p = (1 + G) * a2;
  const C1 = length(a1p, b1); // (6)
  const C2 = length(a2p, b2);
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
  // the cosines of multiples of h from its own cosine and sine
  const c1 = cos(h * RAD);
  const s1 = sin(h * RAD);
  const c2 = 2 * c1 * c1 - 1;
  const s2 = 2 * s1 * c1;
  const c3 = c2 * c1 - s2 * s1;
  const s3 = s2 * c1 + c2 * s1;
  const c4 = 2 * c2 * c2 - 1;
  const s4 = 2 * s2 * c2;
  const T =
    1 - 0.17 * (c1 * C30 + s1 * S30) + 0.24 * c2 + 0.32 * (c3 * C6 - s3 * S6) - 0.2 * (c4 * C63 + s4 * S63); // (15)
  const away = (h - 275) / 25;
  const theta = 30 * exp(-away * away); // (16)
  const C7 = seventh(C);
  const RC = 2 * sqrt(C7 / (C7 + POW25_7)); // (17)
  const L50 = (L - 50) * (L - 50);
  const SL = 1 + (0.015 * L50) / sqrt(20 + L50); // (18)
  const SC = 1 + 0.045 * C; // (19)
  const SH = 1 + 0.015 * C * T; // (20)
  const RT = -sin(2 * theta * RAD) * RC; // (21)

  parts[0] = dL / SL;
  parts[1] = dC / SC;
  parts[2] = dH / SH;
  parts[3] = RT;
}

function hue(a: number, b: number): number {
  if (a === 0 && b === 0) return 0;
  const h = atan2(b, a) / RAD;
  return h < 0 ? h + 360 : h;
}

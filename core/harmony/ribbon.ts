import { encodeSrgb, toLinearP3 } from '../color/index.ts';
import { type Circle, turnOf } from './circles.ts';
import type { Gamut } from './gamuts.ts';

/** A picture of four bytes to a pixel, clear where the color does not exist. */
export interface Painting {
  pixels: Uint8ClampedArray;
  width: number;
  height: number;
}

/** What a screen's canvas is encoded in. */
export type Screen = 'rgb' | 'p3';

const LEVELS = 4096;
const ENCODED = Uint8Array.from({ length: LEVELS + 1 }, (_, i) => Math.round(encodeSrgb(i / LEVELS) * 255));
const NOISE = 1e-6;

/** The a and b of OKLab are found at this many places of a picture, and lie straight between them. */
const NODE = 16;

/**
 * Hues from left to right, a whole turn; lightness from 0 at the bottom to 1 at the top; all at one chroma.
 *
 * @param C chroma of OKLCh
 */
export function paintRibbon(painting: Painting, circle: Circle, C: number, screen: Screen): void {
  paint(painting, screen, (x, L) => [C, circle.hueAt(x * 360, L, C)]);
}

/** Chroma from left to right, from none to the most; lightness from 0 at the bottom to 1 at the top; all at one place. */
export function paintSlice(
  painting: Painting,
  circle: Circle,
  place: number,
  most: number,
  screen: Screen,
): void {
  paint(painting, screen, (x, L) => [x * most, circle.hueAt(place, L, x * most)]);
}

/**
 * Paints lightness upwards, with chroma and hue by place: the whole of a screen's own gamut, and clear outside.
 *
 * @param at chroma and hue of a part of the width, 0–1, and a lightness
 */
function paint(
  { pixels, width, height }: Painting,
  screen: Screen,
  at: (x: number, L: number) => [C: number, h: number],
): void {
  const words = new Uint32Array(pixels.buffer, pixels.byteOffset, width * height);
  const across = Math.ceil(width / NODE) + 1;
  const down = Math.ceil(height / NODE) + 1;
  // what a and b come to in the three cone responses: the sums of a pixel are then three
  const nodes = new Float64Array(across * down * 3);
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++) {
      const L = Math.min(0.999, Math.max(0.001, 1 - (j * NODE) / height));
      const [C, h] = at((i * NODE) / width, L);
      const a = C * Math.cos((h * Math.PI) / 180);
      const b = C * Math.sin((h * Math.PI) / 180);
      nodes[(j * across + i) * 3] = 0.3963377773761749 * a + 0.2158037573099136 * b;
      nodes[(j * across + i) * 3 + 1] = -0.1055613458156586 * a - 0.0638541728258133 * b;
      nodes[(j * across + i) * 3 + 2] = -0.0894841775298119 * a - 1.2914855480194092 * b;
    }
  const columns = FROM_CONES.map((column) => toScreen(screen, column));
  const m = [0, 1, 2].flatMap((row) => columns.map((column) => column[row]!));
  const line = new Float64Array(across * 3);
  for (let y = 0; y < height; y++) {
    const L = 1 - (y + 0.5) / height;
    const j = Math.min(down - 2, Math.floor((y + 0.5) / NODE));
    const t = (y + 0.5) / NODE - j;
    const upper = j * across * 3;
    const lower = upper + across * 3;
    for (let k = 0; k < line.length; k++)
      line[k] = L + nodes[upper + k]! + t * (nodes[lower + k]! - nodes[upper + k]!);
    for (let i = 0, x = 0; x < width; i++) {
      const end = Math.min(width, x + NODE);
      let l = line[3 * i]!;
      let mm = line[3 * i + 1]!;
      let s = line[3 * i + 2]!;
      const dl = (line[3 * i + 3]! - l) / NODE;
      const dm = (line[3 * i + 4]! - mm) / NODE;
      const ds = (line[3 * i + 5]! - s) / NODE;
      l += dl / 2;
      mm += dm / 2;
      s += ds / 2;
      for (; x < end; x++) {
        const l3 = l * l * l;
        const m3 = mm * mm * mm;
        const s3 = s * s * s;
        l += dl;
        mm += dm;
        s += ds;
        const r = m[0]! * l3 + m[1]! * m3 + m[2]! * s3;
        const g = m[3]! * l3 + m[4]! * m3 + m[5]! * s3;
        const b = m[6]! * l3 + m[7]! * m3 + m[8]! * s3;
        words[y * width + x] =
          r < -NOISE || g < -NOISE || b < -NOISE || r > 1 + NOISE || g > 1 + NOISE || b > 1 + NOISE
            ? 0
            : 0xff000000 |
              (ENCODED[(b * LEVELS + 0.5) | 0]! << 16) |
              (ENCODED[(g * LEVELS + 0.5) | 0]! << 8) |
              ENCODED[(r * LEVELS + 0.5) | 0]!;
      }
    }
  }
}

const toScreen = (screen: Screen, linear: number[]) => (screen === 'p3' ? toLinearP3(linear) : linear);

/** Cubed cone responses of OKLab to linear sRGB, by column. */
const FROM_CONES = [
  [4.0767416360759583, -1.2684379732850315, -0.0041960761386756],
  [-3.3077115392580629, 2.6097573492876882, -0.7034186179359362],
  [0.2309699031821043, -0.3413193760026573, 1.7076146940746117],
];

/** A stretch of a picture that a gamut reaches, from one edge to the other, in parts of its width and height. */
export interface Reach {
  from: number;
  /** The darkest and lightest that is reached, one pair for each step. */
  edges: [low: number, high: number][];
}

/** Where a gamut lies within the ribbon: its edges over hue, in stretches. */
export function reachOn(circle: Circle, C: number, gamut: Gamut, steps: number): Reach[] {
  const found: Reach[] = [];
  let open: Reach | null = null;
  for (let i = 0; i <= steps; i++) {
    const hue = hueOver(circle, (i / steps) * 360, C);
    const holds = (L: number) => {
      const h = (hue(L) * Math.PI) / 180;
      return gamut.holds(L, C * Math.cos(h), C * Math.sin(h));
    };
    const edge = edgesOf(holds, gamut);
    if (!edge) open = null;
    else {
      if (!open) {
        open = { from: i / steps, edges: [] };
        found.push(open);
      }
      open.edges.push(edge);
    }
  }
  return found;
}

const LIGHTS = 12;

/** The hue of a place over lightness: found at some, and straight between. */
function hueOver(circle: Circle, place: number, C: number): (L: number) => number {
  if (circle.id !== 'screen') {
    const hue = circle.hueAt(place, 0.5, C);
    return () => hue;
  }
  const found = Array.from({ length: LIGHTS + 1 }, (_, i) =>
    circle.hueAt(place, Math.min(0.999, Math.max(0.001, i / LIGHTS)), C),
  );
  return (L) => {
    const i = Math.min(LIGHTS - 1, Math.max(0, Math.floor(L * LIGHTS)));
    return found[i]! + turnOf(found[i]!, found[i + 1]!) * (L * LIGHTS - i);
  };
}

/** Where a gamut ends in the slice: the most chroma for each lightness, as a part of the picture's width. */
export function edgeOf(
  circle: Circle,
  place: number,
  most: number,
  gamut: Gamut,
  steps: number,
): [L: number, part: number][] {
  const edge: [number, number][] = [];
  for (let i = 0; i <= steps; i++) {
    const L = gamut.darkest + ((gamut.lightest - gamut.darkest) * i) / steps;
    let [low, high] = [0, most];
    for (let k = 0; k < 10; k++) {
      const C = (low + high) / 2;
      const h = (circle.hueAt(place, L, C) * Math.PI) / 180;
      if (gamut.holds(L, C * Math.cos(h), C * Math.sin(h))) low = C;
      else high = C;
    }
    edge.push([L, low / most]);
  }
  return edge;
}

const ROWS = 48;

/** The lowest and highest lightness that is held, refined by halving. */
function edgesOf(holds: (L: number) => boolean, { darkest, lightest }: Gamut): [number, number] | null {
  const at = (k: number) => darkest + ((lightest - darkest) * k) / ROWS;
  let first = -1;
  let last = -1;
  for (let k = 0; k <= ROWS; k++)
    if (holds(at(k))) {
      if (first < 0) first = k;
      last = k;
    }
  if (first < 0) return null;
  const refine = (inside: number, outside: number) => {
    for (let k = 0; k < 7; k++) {
      const middle = (inside + outside) / 2;
      if (holds(middle)) inside = middle;
      else outside = middle;
    }
    return inside;
  };
  return [
    first === 0 ? at(0) : refine(at(first), at(first - 1)),
    last === ROWS ? at(ROWS) : refine(at(last), at(last + 1)),
  ];
}

import { encodeSrgb, toLinearP3 } from '../color/index.ts';
import type { Circle } from './circles.ts';
import type { Gamut } from './gamuts.ts';

/** A picture of four bytes to a pixel, clear where there is no such color. */
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

/** Where hue depends on lightness, it is found at so many places of the picture and lies straight between them. */
const NODE = 16;

/**
 * Hues from left to right, a whole turn; lightness from 0 at the bottom to 1 at the top; all at one chroma.
 *
 * @param C chroma of OKLCh
 */
export function paintRibbon({ pixels, width, height }: Painting, circle: Circle, C: number, screen: Screen): void {
  const words = new Uint32Array(pixels.buffer, pixels.byteOffset, width * height);
  words.fill(0);
  const column = columns(circle, C, width, height);
  for (let x = 0; x < width; x++) {
    const at = column(x);
    for (let y = 0; y < height; y++) {
      const L = 1 - (y + 0.5) / height;
      const [a, b] = at(y);
      words[y * width + x] = word(L, a, b, screen);
    }
  }
}

/** The a and b of each column's pixels. */
function columns(circle: Circle, C: number, width: number, height: number): (x: number) => (y: number) => [number, number] {
  const hue = (x: number, L: number) => (circle.hueAt(((x + 0.5) / width) * 360, L, C) * Math.PI) / 180;
  if (circle.id !== 'screen')
    return (x) => {
      const h = hue(x, 0.5);
      const ab: [number, number] = [C * Math.cos(h), C * Math.sin(h)];
      return () => ab;
    };
  const across = Math.ceil(width / NODE) + 1;
  const down = Math.ceil(height / NODE) + 1;
  const nodes = new Float64Array(across * down * 2);
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++) {
      const L = Math.min(0.999, Math.max(0.001, 1 - (j * NODE) / height));
      const h = hue(i * NODE, L);
      nodes[(j * across + i) * 2] = C * Math.cos(h);
      nodes[(j * across + i) * 2 + 1] = C * Math.sin(h);
    }
  const ab: [number, number] = [0, 0];
  return (x) => {
    const i = Math.floor(x / NODE);
    const s = x / NODE - i;
    return (y) => {
      const j = Math.floor(y / NODE);
      const t = y / NODE - j;
      const at = (j * across + i) * 2;
      for (let k = 0; k < 2; k++) {
        const up = nodes[at + k]! + s * (nodes[at + 2 + k]! - nodes[at + k]!);
        const low = nodes[at + across * 2 + k]!;
        ab[k] = up + t * (low + s * (nodes[at + across * 2 + 2 + k]! - low) - up);
      }
      return ab;
    };
  };
}

/** Chroma from left to right, from none to the most; lightness from 0 at the bottom to 1 at the top; all at one place. */
export function paintSlice(
  { pixels, width, height }: Painting,
  circle: Circle,
  place: number,
  most: number,
  screen: Screen,
): void {
  const words = new Uint32Array(pixels.buffer, pixels.byteOffset, width * height);
  for (let y = 0; y < height; y++) {
    const L = 1 - (y + 0.5) / height;
    for (let x = 0; x < width; x++) {
      const C = (most * (x + 0.5)) / width;
      // the hue of a place changes with lightness and chroma only slowly
      const h = (circle.hueAt(place, L, C) * Math.PI) / 180;
      words[y * width + x] = word(L, C * Math.cos(h), C * Math.sin(h), screen);
    }
  }
}

/** A pixel of OKLab, little-endian; 0, which is clear, for what the screen does not have. */
function word(L: number, a: number, b: number, screen: Screen): number {
  const l = L + 0.3963377773761749 * a + 0.2158037573099136 * b;
  const m = L - 0.1055613458156586 * a - 0.0638541728258133 * b;
  const s = L - 0.0894841775298119 * a - 1.2914855480194092 * b;
  const l3 = l * l * l;
  const m3 = m * m * m;
  const s3 = s * s * s;
  let r = 4.0767416360759583 * l3 - 3.3077115392580629 * m3 + 0.2309699031821043 * s3;
  let g = -1.2684379732850315 * l3 + 2.6097573492876882 * m3 - 0.3413193760026573 * s3;
  let bl = -0.0041960761386756 * l3 - 0.7034186179359362 * m3 + 1.7076146940746117 * s3;
  if (screen === 'p3') [r, g, bl] = toLinearP3([r, g, bl]);
  if (r < -NOISE || g < -NOISE || bl < -NOISE || r > 1 + NOISE || g > 1 + NOISE || bl > 1 + NOISE) return 0;
  const red = ENCODED[(r * LEVELS + 0.5) | 0]!;
  const green = ENCODED[(g * LEVELS + 0.5) | 0]!;
  const blue = ENCODED[(bl * LEVELS + 0.5) | 0]!;
  return (0xff000000 | (blue << 16) | (green << 8) | red) >>> 0;
}

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
    const place = (i / steps) * 360;
    const holds = (L: number) => {
      const h = (circle.hueAt(place, L, C) * Math.PI) / 180;
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

/** Where a gamut ends in the slice: the most chroma for each lightness, as a part of the picture's width. */
export function edgeOf(circle: Circle, place: number, most: number, gamut: Gamut, steps: number): [L: number, part: number][] {
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

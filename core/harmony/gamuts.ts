import { type Condition, labToOklab, oklabToLinear, toLinearP3 } from '../color/index.ts';

/** What something can show. The greys between its darkest and lightest, OKLab 0–1, are all inside. */
export interface Gamut {
  id: string;
  name: string;
  darkest: number;
  lightest: number;
  /** Whether it holds a color of OKLab. */
  holds(L: number, a: number, b: number): boolean;
}

/** Rounding of the conversions themselves. */
const NOISE = 1e-7;
const inside = (v: number) => v >= -NOISE && v <= 1 + NOISE;

const screen = (
  id: string,
  name: string,
  toOwn: (linear: readonly number[]) => readonly number[],
): Gamut => ({
  id,
  name,
  darkest: 0,
  lightest: 1,
  holds(L, a, b) {
    const own = toOwn(oklabToLinear(L, a, b));
    return inside(own[0]!) && inside(own[1]!) && inside(own[2]!);
  },
});

export const SRGB = screen('rgb', 'sRGB', (linear) => linear);
export const DISPLAY_P3 = screen('p3', 'Display P3', toLinearP3);

/** The table of a press: this many lightnesses from 0 to 1, and hues around. */
const LIGHTS = 128;
const HUES = 180;
/** Each face of the ink cube in this many steps. */
const STEPS = 32;
/** Between the entries a straight line may run outside by a little, which a little less chroma makes up for. */
const ROOM = 0.985;

/** The faces of the cube of four inks: two inks that vary, and the others all there or not at all. */
function* faces(): Generator<[free: [number, number], fixed: number[]]> {
  for (let i = 0; i < 4; i++)
    for (let j = i + 1; j < 4; j++)
      for (let corner = 0; corner < 4; corner++) {
        const fixed = [0, 0, 0, 0];
        const others = [0, 1, 2, 3].filter((k) => k !== i && k !== j);
        fixed[others[0]!] = corner & 1;
        fixed[others[1]!] = corner >> 1;
        yield [[i, j], fixed];
      }
}

/** Brings a mix within the limit by taking from the colours alike. */
function limited(inks: number[], limit: number): number[] {
  const colors = inks[0]! + inks[1]! + inks[2]!;
  const over = colors + inks[3]! - limit;
  if (over <= 0) return inks;
  const keep = Math.max(0, 1 - over / (colors || 1));
  return [inks[0]! * keep, inks[1]! * keep, inks[2]! * keep, inks[3]!];
}

const tables = new WeakMap<Condition, Gamut>();

/**
 * What a press reaches under a condition, with no more ink than its limit: the outermost of what the faces of the ink cube
 * measure, by lightness and hue. Exact to about what a profile is (`gamuts.test.ts` holds it against the search for the nearest
 * print). Made in some 50 ms, once for a condition.
 */
export function pressGamutOf(condition: Condition): Gamut {
  const made = pressGamutSteps(condition);
  for (;;) {
    const { done, value } = made.next();
    if (done) return value;
  }
}

/** {@link pressGamutOf} in pieces of a few ms, for a page that is not to stand still. */
export function* pressGamutSteps(condition: Condition): Generator<undefined, Gamut> {
  const known = tables.get(condition);
  if (known) return known;
  const limit = condition.setting.inkLimit / 100;
  const side = STEPS + 1;
  const all = [...faces()];
  const inks = new Float32Array(all.length * side * side * 4);
  let at = 0;
  for (const [[i, j], fixed] of all)
    for (let u = 0; u < side; u++)
      for (let v = 0; v < side; v++) {
        const mix = [...fixed];
        mix[i] = u / STEPS;
        mix[j] = v / STEPS;
        inks.set(limited(mix, limit), at);
        at += 4;
      }
  const points = inks.length / 4;
  // lightness in steps of the table, chroma, hue in steps
  const L = new Float64Array(points);
  const a = new Float64Array(points);
  const b = new Float64Array(points);
  const face = side * side;
  for (let from = 0; from < points; from += face) {
    const lab = condition.print(inks.subarray(4 * from, 4 * (from + face)));
    for (let k = 0; k < face; k++) {
      const ok = labToOklab([lab[3 * k]!, lab[3 * k + 1]!, lab[3 * k + 2]!]);
      L[from + k] = ok[0] * LIGHTS;
      a[from + k] = ok[1];
      b[from + k] = ok[2];
    }
    yield;
  }
  const most = new Float64Array((LIGHTS + 1) * HUES).fill(-1);
  const draw = (p: number, q: number, r: number) => drawTriangle(most, [L, a, b], p, q, r);
  for (let f = 0; f < all.length; f++) {
    for (let u = 0; u < STEPS; u++)
      for (let v = 0; v < STEPS; v++) {
        const p = f * face + u * side + v;
        draw(p, p + 1, p + side);
        draw(p + 1, p + side + 1, p + side);
      }
    yield;
  }
  // lightnesses whose greys are inside: around them every hue has something, two steps from either end for certain
  const whole = Array.from({ length: LIGHTS + 1 }, (_, l) => {
    for (let h = 0; h < HUES; h++) if (most[l * HUES + h]! <= 0) return false;
    return true;
  });
  const first = whole.indexOf(true) + 2;
  const last = whole.lastIndexOf(true) - 2;
  const gamut: Gamut = {
    id: condition.setting.profile,
    name: condition.name,
    darkest: first / LIGHTS,
    lightest: last / LIGHTS,
    holds(light, x, y) {
      const row = Math.min(Math.max(light * LIGHTS, 0), LIGHTS);
      if (first >= last || row < first - 1e-6 || row > last + 1e-6) return false;
      const low = Math.min(Math.floor(row), last - 1);
      const angle = ((Math.atan2(y, x) / (2 * Math.PI)) * HUES + HUES) % HUES;
      const left = Math.floor(angle) % HUES;
      const right = (left + 1) % HUES;
      const t = row - low;
      const s = angle - Math.floor(angle);
      const here =
        (1 - t) * ((1 - s) * most[low * HUES + left]! + s * most[low * HUES + right]!) +
        t * ((1 - s) * most[(low + 1) * HUES + left]! + s * most[(low + 1) * HUES + right]!);
      return Math.hypot(x, y) <= here * ROOM;
    },
  };
  tables.set(condition, gamut);
  return gamut;
}

/** Where rays from the grey axis meet a triangle: notes the chroma, where it is the largest so far. */
function drawTriangle(most: Float64Array, [L, a, b]: Float64Array[], p: number, q: number, r: number): void {
  const [Lp, Lq, Lr] = [L![p]!, L![q]!, L![r]!];
  const from = Math.max(0, Math.ceil(Math.min(Lp, Lq, Lr)));
  const to = Math.min(LIGHTS, Math.floor(Math.max(Lp, Lq, Lr)));
  for (let l = from; l <= to; l++) {
    // the level cuts the triangle in a line between two of its sides
    const cut: [number, number][] = [];
    for (const [s, e] of [
      [p, q],
      [q, r],
      [r, p],
    ] as const) {
      const [Ls, Le] = [L![s]!, L![e]!];
      if (Ls === Le || (Ls - l) * (Le - l) > 0) continue;
      const t = (l - Ls) / (Le - Ls);
      cut.push([a![s]! + t * (a![e]! - a![s]!), b![s]! + t * (b![e]! - b![s]!)]);
    }
    if (cut.length < 2) continue;
    const [one, two] =
      cut.length > 2 && apart(cut[0]!, cut[1]!) < apart(cut[0]!, cut[2]!)
        ? [cut[0]!, cut[2]!]
        : [cut[0]!, cut[1]!];
    drawLine(most, l, one, two);
  }
}

const apart = (p: readonly number[], q: readonly number[]) => Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!);

function drawLine(
  most: Float64Array,
  l: number,
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
): void {
  const turn = 2 * Math.PI;
  const start = Math.atan2(ay, ax);
  let sweep = Math.atan2(by, bx) - start;
  if (sweep > Math.PI) sweep -= turn;
  if (sweep < -Math.PI) sweep += turn;
  const [low, high] = sweep < 0 ? [start + sweep, start] : [start, start + sweep];
  for (let h = Math.ceil((low / turn) * HUES); h <= Math.floor((high / turn) * HUES); h++) {
    const [c, s] = [Math.cos((h / HUES) * turn), Math.sin((h / HUES) * turn)];
    // how far along the ray the line through both points lies
    const across = (bx - ax) * s - (by - ay) * c;
    if (Math.abs(across) < 1e-12) continue;
    const chroma = ((bx - ax) * ay - (by - ay) * ax) / across;
    const at = l * HUES + (((h % HUES) + HUES) % HUES);
    if (chroma > most[at]!) most[at] = chroma;
  }
}

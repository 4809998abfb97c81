import { deltaE00, type Lab, type Oklch, oklabToLab, oklchToOklab } from '../color/index.ts';
import type { CircleId, Placed } from './asked.ts';
import { around, type Circle, circleById, turnOf } from './circles.ts';
import { fitted } from './family.ts';
import { type Gamut, SRGB } from './gamuts.ts';
import { type Rule, rules, type Turn } from './rules.ts';

/** The rule that some colors come closest to. */
export interface Found {
  rule: string;
  circle: CircleId;
  /** Degrees, where the rule has one. */
  angle: number | null;
  count: number | null;
  /** Which of the colors is the base. */
  base: number;
  /** For each color what it would be by the rule, and how far it is from that. */
  members: { ideal: Placed; deltaE00: number }[];
  /** Root of the mean square of the differences, ΔE00. */
  off: number;
}

/** Colors under this chroma have no say in hues. */
const NEUTRAL = 0.02;
/** Colors of no more chroma may be neutrals that lean to a hue. */
const LEANING = 0.05;
/** Hues closer than this are one hue to the eye, degrees. */
const ONE_HUE = 12;
/** How far colors lie off a rule that people would still say they follow, ΔE00. */
const LOOSE = 1.3;
/** What a number that is free to choose costs: as much as a color that is off by this many times {@link LOOSE}. */
const FREE = 4;

interface Point {
  index: number;
  placed: Placed;
  /** ΔE00 of one degree on the circle. */
  perDegree: number;
}

interface Try {
  rule: Rule;
  angle: number | null;
  count: number | null;
  base: number;
  ideals: Placed[];
  cost: number;
}

const labOf = (placed: Placed, circle: Circle): Lab => {
  const [L, C, place] = placed;
  const lch: Oklch = [L, C, circle.hueAt(place, L, C)];
  return oklabToLab(oklchToOklab(lch));
};

/**
 * Which rule colors come closest to: the one that says most about them with the fewest numbers to choose. Null for fewer than
 * two.
 *
 * Every rule is tried with every color as its base, and what is left over is weighed against how many numbers were free, as
 * Schwarz's criterion does (1978).
 */
export function findRule(colors: readonly Oklch[], circleId: CircleId): Found | null {
  if (colors.length < 2) return null;
  const circle = circleById(circleId);
  const all: Point[] = colors.map((lch, index) => {
    const placed: Placed = [lch[0], lch[1], circle.placeOf(lch)];
    const turned: Placed = [lch[0], lch[1], around(placed[2] + 4)];
    const perDegree = lch[1] < NEUTRAL ? 0 : deltaE00(labOf(placed, circle), labOf(turned, circle)) / 4;
    return { index, placed, perDegree };
  });
  const labs = all.map((p) => labOf(p.placed, circle));
  const off = (ideals: Placed[]) => ideals.map((ideal, i) => deltaE00(labs[i]!, labOf(ideal, circle)));
  /** With all three dimensions compared, and this many numbers free. */
  const weighed = (
    rule: Rule,
    base: number,
    wanted: Placed[],
    free: number,
    count: number | null = null,
  ): Try => {
    // a rule is followed as far as a screen goes
    const ideals = wanted.map((placed): Placed => {
      const { lch } = fitted(placed, circle, SRGB);
      return [lch[0], lch[1], placed[2]];
    });
    const cost = off(ideals).reduce((sum, d) => sum + (d / LOOSE) ** 2, 0) + FREE * free;
    return { rule, angle: null, count, base, ideals, cost };
  };

  const tries: Try[] = [];
  const colored = all.filter((p) => p.placed[1] >= NEUTRAL);
  for (const rule of rules) {
    if (rule.id === 'freely') continue;
    if ('turns' in rule) tries.push(...turnTries(rule, all, colored, weighed));
    else tries.push(...runTries(rule, all, colored, weighed));
  }
  const best = tries.reduce<Try | null>((a, b) => (a && a.cost <= b.cost ? a : b), null);
  if (!best) return null;
  const differences = off(best.ideals);
  return {
    rule: best.rule.id,
    circle: circleId,
    angle: best.angle,
    count: best.count,
    base: best.base,
    members: best.ideals.map((ideal, i) => ({ ideal, deltaE00: differences[i]! })),
    off: Math.sqrt(differences.reduce((sum, d) => sum + d * d, 0) / differences.length),
  };
}

type Weighed = (rule: Rule, base: number, ideals: Placed[], free: number, count?: number | null) => Try;

/** Companions around each of the colors: only their hues are said, or lightness and chroma as well. */
function turnTries(
  rule: Extract<Rule, { turns: unknown }>,
  all: Point[],
  colored: Point[],
  weighed: Weighed,
): Try[] {
  const found: Try[] = [];
  const counts = rule.count ? [rule.count.min, rule.count.max] : [null];
  for (const count of counts) {
    const turns: Turn[] = [{ role: 'base', turn: 0, bend: 0 }, ...rule.turns(count ?? 0)];
    if (colored.length < turns.length) continue;
    for (const base of colored) {
      const by = (angle: number) => slots(turns, angle, base, colored);
      let best = by(rule.angle?.initial ?? 0);
      let angle = rule.angle ? rule.angle.initial : null;
      if (rule.angle) {
        best.cost = Number.POSITIVE_INFINITY;
        const look = (from: number, to: number, step: number) => {
          for (let v = from; v <= to + 1e-9; v += step) {
            if (Math.abs(v) < ONE_HUE) continue;
            const here = by(v);
            if (here.cost < best.cost) {
              best = here;
              angle = v;
            }
          }
        };
        look(rule.angle.min, rule.angle.max, 2);
        look(Math.max(rule.angle.min, angle! - 2), Math.min(rule.angle.max, angle! + 2), 0.25);
      }
      if (!Number.isFinite(best.cost)) continue;
      const own = rule.angle ? 2 : 1;
      // the base's own hue is off by as much as any other
      const weight = (p: Point) => p.perDegree ** 2;
      const shift =
        colored.reduce((sum, p, i) => sum + weight(p) * turnOf(best.places[i]!, p.placed[2]), 0) /
        colored.reduce((sum, p) => sum + weight(p), 0);
      const places = new Map(colored.map((p, i) => [p.index, around(best.places[i]! + shift)]));
      const loose = all.map(({ placed: [L, C, place], index }): Placed => [L, C, places.get(index) ?? place]);
      found.push({ ...weighed(rule, base.index, loose, own + 2.5 * colored.length, count), angle });
      // as the base in lightness and chroma, too
      const L = mean(colored.map((p) => p.placed[0]));
      const C = strength(colored);
      const strict = all.map(
        ({ placed, index }): Placed => (places.has(index) ? [L, C, places.get(index)!] : placed),
      );
      found.push({ ...weighed(rule, base.index, strict, own + 2, count), angle });
    }
  }
  return found;
}

/** Each color at the companion it stands nearest to; every companion has to have one. */
function slots(turns: Turn[], angle: number, base: Point, colored: Point[]) {
  const wanted = turns.map((t) => around(base.placed[2] + t.turn + t.bend * angle));
  const taken = new Set<number>();
  let cost = 0;
  const places = colored.map((p) => {
    let nearest = 0;
    let least = 360;
    wanted.forEach((place, i) => {
      const away = Math.abs(turnOf(place, p.placed[2]));
      if (away < least) {
        least = away;
        nearest = i;
      }
    });
    taken.add(nearest);
    cost += (least * p.perDegree) ** 2;
    return wanted[nearest]!;
  });
  return { places, cost: taken.size === wanted.length ? cost : Number.POSITIVE_INFINITY };
}

/** The hue of several colors, those with more chroma counting for more. */
function meanPlace(points: Point[]): number {
  let [x, y] = [0, 0];
  for (const { placed } of points) {
    x += placed[1] * Math.cos((placed[2] * Math.PI) / 180);
    y += placed[1] * Math.sin((placed[2] * Math.PI) / 180);
  }
  return around((Math.atan2(y, x) * 180) / Math.PI);
}

const mean = (list: number[]) => list.reduce((a, b) => a + b, 0) / (list.length || 1);

/** The chroma that colors have in common: of the stronger half, as the lightest and darkest may not have had room for it. */
function strength(points: Point[]): number {
  const chromas = points.map((p) => p.placed[1]).sort((a, b) => b - a);
  return mean(chromas.slice(0, Math.ceil(chromas.length / 2)));
}

/** Runs: every color where it comes closest to the way. */
function runTries(
  rule: Extract<Rule, { run: unknown }>,
  all: Point[],
  colored: Point[],
  weighed: Weighed,
): Try[] {
  const n = all.length;
  if (rule.id === 'neutral') {
    const place = meanPlace(all);
    const grey = all.filter((p) => p.placed[1] < LEANING);
    if (grey.length < n) return [];
    const chroma = mean(all.map((p) => p.placed[1]));
    const strongest = all.reduce((a, b) => (b.placed[1] > a.placed[1] ? b : a));
    return [
      weighed(
        rule,
        strongest.index,
        all.map(({ placed: [L] }): Placed => [L, chroma, place]),
        2 + n,
        n,
      ),
    ];
  }
  if (colored.length === 0) return [];
  const place = meanPlace(colored);
  if (rule.id === 'one-hue') {
    const chroma = strength(all);
    if (chroma < LEANING) return [];
    const middle = [...all].sort((a, b) => a.placed[0] - b.placed[0])[Math.floor((n - 1) / 2)]!;
    return [
      weighed(
        rule,
        middle.index,
        all.map(({ placed: [L] }): Placed => [L, chroma, place]),
        2 + n,
        n - 1,
      ),
    ];
  }
  if (rule.id === 'between') {
    if (n < 4) return [];
    // the two that are furthest from each other are its ends
    const apart = (p: Placed, q: Placed) =>
      (p[0] - q[0]) ** 2 +
      p[1] ** 2 +
      q[1] ** 2 -
      2 * p[1] * q[1] * Math.cos((turnOf(p[2], q[2]) * Math.PI) / 180);
    let ends: [Point, Point] = [all[0]!, all[1]!];
    for (const p of all)
      for (const q of all)
        if (apart(p.placed, q.placed) > apart(ends[0].placed, ends[1].placed)) ends = [p, q];
    const line = lineThrough(all, ends[0].placed, ends[1].placed);
    return [
      weighed(
        rule,
        ends[0].index,
        all.map((p) => nearestOn(line, p.placed)),
        8 + n - 2,
        n - 2,
      ),
    ];
  }
  // in lightness and chroma a straight line each: shades come from black, tints from white, tones lie level
  const strongest = all.reduce((a, b) => (b.placed[1] > a.placed[1] ? b : a));
  const from = rule.id === 'shades' ? 0 : 1;
  const level = mean(all.map((p) => p.placed[0]));
  const slope =
    all.reduce((sum, { placed: [L, C] }) => sum + C * (L - from), 0) /
    all.reduce((sum, { placed: [L] }) => sum + (L - from) ** 2, 0);
  const ideals = all.map(({ placed: [L, C] }): Placed => {
    if (rule.id === 'tones') return [level, C, place];
    const t = (L - from + C * slope) / (1 + slope * slope);
    return [from + t, Math.max(0, t * slope), place];
  });
  return [weighed(rule, strongest.index, ideals, 2 + n, n - 1)];
}

/** The straight way that lies closest to colors: by turns each is put on it, and it is laid through them again. */
function lineThrough(all: Point[], from: Placed, to: Placed): (t: number) => Placed {
  const point = ({ placed }: Point): number[] => [placed[0], placed[1], from[2] + turnOf(from[2], placed[2])];
  let [start, slope] = [[...from] as number[], [to[0] - from[0], to[1] - from[1], turnOf(from[2], to[2])]];
  const at = (t: number): Placed => [
    start[0]! + slope[0]! * t,
    Math.max(0, start[1]! + slope[1]! * t),
    around(start[2]! + slope[2]! * t),
  ];
  for (let round = 0; round < 4; round++) {
    const ts = all.map((p) => nearestAt(at, p.placed));
    const t0 = mean(ts);
    const spread = ts.reduce((sum, t) => sum + (t - t0) ** 2, 0);
    if (spread < 1e-6) break;
    const points = all.map(point);
    const next = [0, 1, 2].map((k) => {
      const m = mean(points.map((p) => p[k]!));
      const by = points.reduce((sum, p, i) => sum + (p[k]! - m) * (ts[i]! - t0), 0) / spread;
      return [m - by * t0, by] as const;
    });
    start = next.map((n) => n[0]);
    slope = next.map((n) => n[1]);
  }
  return at;
}

/** The place on a way that a color comes closest to. */
const nearestOn = (at: (t: number) => Placed, color: Placed): Placed => at(nearestAt(at, color));

function nearestAt(at: (t: number) => Placed, [L, C, place]: Placed): number {
  const away = (t: number) => {
    const [l, c, p] = at(t);
    return (L - l) ** 2 + C ** 2 + c ** 2 - 2 * C * c * Math.cos((turnOf(place, p) * Math.PI) / 180);
  };
  let best = 0;
  for (let i = 0; i <= 64; i++) if (away(i / 64) < away(best)) best = i / 64;
  let step = 1 / 128;
  for (let i = 0; i < 12; i++, step /= 2)
    for (const t of [best - step, best + step]) if (t >= 0 && t <= 1 && away(t) < away(best)) best = t;
  return best;
}

/**
 * Colors brought towards the rule that was found for them, inside a gamut.
 *
 * @param amount 0 leaves them, 1 brings them all the way
 */
export function pulled(colors: readonly Oklch[], found: Found, amount: number, gamut: Gamut): Oklch[] {
  const circle = circleById(found.circle);
  return colors.map((lch, i) => {
    if (amount === 0) return lch;
    const { ideal } = found.members[i]!;
    const place = circle.placeOf(lch);
    return fitted(
      [
        lch[0] + (ideal[0] - lch[0]) * amount,
        lch[1] + (ideal[1] - lch[1]) * amount,
        around(place + turnOf(place, ideal[2]) * amount),
      ],
      circle,
      gamut,
    ).lch;
  });
}

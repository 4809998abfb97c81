import { deltaE00, residuals00 } from './difference.ts';
import type { Color, Condition, Lab } from './model.ts';
import { convert, toLab } from './spaces.ts';

/** A difference as small as the tables of a profile are uncertain by: what comes so close counts as reached. */
export const REACHED = 0.5;

/** The nearest a press comes to a color. */
export interface Printed {
  /** C, M, Y, K, 0–1. */
  inks: number[];
  /** What an instrument would measure. */
  lab: Lab;
  /** From the color that was wanted. */
  deltaE00: number;
}

const STEPS = 12;
/** How far inks are moved to feel what they do. */
const NUDGE = 1 / 256;

const total = (inks: readonly number[]) => inks.reduce((a, b) => a + b, 0);

/** The Lab of ink mixes, all in one call. */
function measure(mixes: number[][], condition: Condition): Lab[] {
  const flat = new Float32Array(mixes.length * 4);
  mixes.forEach((inks, i) => {
    flat.set(inks, 4 * i);
  });
  const lab = condition.print(flat);
  return mixes.map((_, i) => [lab[3 * i]!, lab[3 * i + 1]!, lab[3 * i + 2]!]);
}

/** Solves (JᵀJ + λ) x = −Jᵀr, an equation for each ink whose column of J is given. */
function step(J: number[][], r: number[], damping: number): number[] {
  const n = J.length;
  const m = J.map((column, i) => [
    ...J.map((other, j) => column.reduce((s, v, k) => s + v * other[k]!, 0) + (i === j ? damping : 0)),
    -column.reduce((s, v, k) => s + v * r[k]!, 0),
  ]);
  for (let i = 0; i < n; i++) {
    const pivot = m[i]![i]! || 1e-12;
    for (let k = i + 1; k < n; k++) {
      const f = m[k]![i]! / pivot;
      for (let j = i; j <= n; j++) m[k]![j]! -= f * m[i]![j]!;
    }
  }
  const x = Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) {
    let s = m[i]![n]!;
    for (let j = i + 1; j < n; j++) s -= m[i]![j]! * x[j]!;
    x[i] = s / (m[i]![i]! || 1e-12);
  }
  return x;
}

/** An ink mix on its way to a colour. */
interface Search {
  wanted: Lab;
  inks: number[];
  lab: Lab;
  deltaE00: number;
  damping: number;
  /** Inks that may move; black stays where it is to be kept. */
  free: number[];
  limit: number;
}

/** Brings a mix within 0–1 and the limit, by taking from the colours alike. */
function within(inks: number[], limit: number): number[] {
  const clipped = inks.map((v) => Math.min(1, Math.max(0, v)));
  const over = total(clipped) - limit;
  if (over <= 0) return clipped;
  const colors = clipped[0]! + clipped[1]! + clipped[2]!;
  const keep = Math.max(0, 1 - over / (colors || 1));
  return clipped.map((v, i) => (i < 3 ? v * keep : v));
}

/** Moves every mix towards its colour by damped least squares (Levenberg and Marquardt), all of them together. */
function settle(searches: Search[], condition: Condition): void {
  let going = searches;
  for (let round = 0; round < STEPS && going.length > 0; round++) {
    // what each ink does, felt all at once
    const felt = measure(
      going.flatMap(({ inks, free }) =>
        free.map((i) => inks.map((v, j) => (j === i ? v + (v > 0.5 ? -NUDGE : NUDGE) : v))),
      ),
      condition,
    );
    let next = 0;
    const tries = going.map((s) => {
      const r = residuals00(s.wanted, s.lab);
      const J = s.free.map((i) => {
        const by = s.inks[i]! > 0.5 ? -NUDGE : NUDGE;
        const moved = residuals00(s.wanted, felt[next++]!);
        return moved.map((v, k) => (v - r[k]!) / by);
      });
      let moving = s.free.map((_, k) => k);
      for (;;) {
        const dx = step(
          moving.map((k) => J[k]!),
          r,
          s.damping,
        );
        // an ink that is at its end and wants beyond takes no part, so that the others go as far as they should
        const able = moving.filter((k, m) => {
          const v = s.inks[s.free[k]!]!;
          return !((v <= 0 && dx[m]! < 0) || (v >= 1 && dx[m]! > 0));
        });
        if (able.length === moving.length) {
          const inks = [...s.inks];
          moving.forEach((k, m) => {
            inks[s.free[k]!]! += dx[m]!;
          });
          return within(inks, s.limit);
        }
        moving = able;
      }
    });
    const labs = measure(tries, condition);
    going = going.filter((s, k) => {
      const difference = deltaE00(s.wanted, labs[k]!);
      const gained = s.deltaE00 - difference;
      if (gained > 1e-4) {
        Object.assign(s, { inks: tries[k], lab: labs[k], deltaE00: difference, damping: s.damping / 4 });
        return difference > 0.05 && gained > 0.01;
      }
      s.damping *= 6;
      return s.damping < 1000;
    });
  }
}

const SOME = [0, 0.3, 0.65, 1];
const someMixes = [0, 0.5].flatMap((k) =>
  SOME.flatMap((c) => SOME.flatMap((m) => SOME.map((y) => [c, m, y, k]))),
);
const printed = new WeakMap<Condition, Lab[]>();

/** The nearest of some mixes spread over all there are. */
function nearestStart(wanted: Lab, condition: Condition, limit: number): [number[], Lab, number] {
  const labs = printed.get(condition) ?? measure(someMixes, condition);
  printed.set(condition, labs);
  let best = 0;
  let least = Number.POSITIVE_INFINITY;
  labs.forEach((lab, i) => {
    if (total(someMixes[i]!) > limit) return;
    const away = deltaE00(wanted, lab);
    if (away < least) {
      best = i;
      least = away;
    }
  });
  return [someMixes[best]!, labs[best]!, least];
}

/**
 * The nearest a press comes to measured colours: from where the profile's own tables lead, on to the smallest CIEDE2000.
 *
 * @param limit the most ink, 0–4
 */
export function nearestPrints(labs: readonly Lab[], condition: Condition, limit = 4): Printed[] {
  const inks = condition.separate(Float32Array.from(labs.flat()));
  const starts = labs.map((_, i) => within([...inks.subarray(4 * i, 4 * i + 4)], limit));
  const found = measure(starts, condition);
  const searches = starts.map((inks, i): Search => {
    const wanted = labs[i]!;
    return {
      wanted,
      inks,
      lab: found[i]!,
      deltaE00: deltaE00(wanted, found[i]!),
      damping: 0.05,
      free: [0, 1, 2, 3],
      limit,
    };
  });
  settle(
    searches.filter((s) => s.deltaE00 > REACHED / 2),
    condition,
  );
  // there may be more than one place that no small step leads away from: once more from the nearest of some
  const far = searches.filter((s) => s.deltaE00 > REACHED);
  const again = far.map((s): Search => {
    const [inks, lab, difference] = nearestStart(s.wanted, condition, limit);
    return { ...s, inks, lab, deltaE00: difference, damping: 0.05 };
  });
  settle(again, condition);
  again.forEach((s, i) => {
    if (s.deltaE00 < far[i]!.deltaE00) Object.assign(far[i]!, s);
  });
  return searches.map(({ inks, lab, deltaE00 }) => ({ inks, lab, deltaE00 }));
}

/** How far a color lies outside what a press reaches, and the nearest inside. Inks of the condition itself are inside. */
export function pressGamut(color: Color, condition: Condition): Printed {
  return nearestPrints([toLab(color, condition)], condition)[0]!;
}

/**
 * The same color with more black and less of the other inks, so that it keeps the limit: the least black that comes within the
 * difference. Null when no mix does.
 *
 * @param limit the most ink, 0–4
 * @param most ΔE00
 */
export function withLessInk(color: Color, condition: Condition, limit: number, most = 1): Printed | null {
  const inks = convert(color, 'cmyk', condition).components;
  const wanted = toLab({ space: 'cmyk', components: inks }, condition);
  const black = inks[3]!;
  const tries = Array.from({ length: 25 }, (_, n) => black + ((1 - black) * n) / 24).map((k): Search => {
    // as if black took the place of what it hides
    const start = within([...inks.slice(0, 3).map((v) => Math.max(0, v - (k - black))), k], limit);
    return { wanted, inks: start, lab: [0, 0, 0], deltaE00: 0, damping: 0.05, free: [0, 1, 2], limit };
  });
  measure(
    tries.map((t) => t.inks),
    condition,
  ).forEach((lab, i) => {
    tries[i]!.lab = lab;
    tries[i]!.deltaE00 = deltaE00(wanted, lab);
  });
  settle(tries, condition);
  const good = tries.find((t) => t.deltaE00 <= most && total(t.inks) <= limit + 1e-9);
  return good ? { inks: good.inks, lab: good.lab, deltaE00: good.deltaE00 } : null;
}

/** The inks of a color together, %: as it is written, or as the condition separates it. */
export const totalInk = (color: Color, condition: Condition) =>
  total(convert(color, 'cmyk', condition).components) * 100;

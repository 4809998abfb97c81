import { residuals00 } from '../color/difference.ts';
import { DE00 } from '../color/metrics.ts';
import type { Lab } from '../color/model.ts';
import type { Spectrum } from '../swatch/model.ts';
import type { MeasuredInk } from '../swatch/reading.ts';
import { metamerism } from './compare.ts';
import { labOfSpectrum } from './figures.ts';
import { type Film, filmOf, mixedOver } from './mixture.ts';

/** A base ink of a recipe, and its share by thickness of the film, %. What is missing to 100 is transparent medium. */
export interface Share {
  name: string;
  percent: number;
}

export interface Recipe {
  shares: Share[];
  spectrum: Spectrum;
  lab: Lab;
  deltaE00: number;
  /** Special index of metamerism from D65 to A; null where the target has no spectrum. */
  metamerism: number | null;
}

export const MAX_BASES = 4;
/** More than this many bases make too many mixtures to try. */
export const MAX_OFFERED = 14;

const STEPS = 25;
/** Less than this of a base is none. */
const LEAST = 0.002;

/** All sets of one to four out of `count`. */
function* subsets(count: number, from = 0, taken: number[] = []): Generator<number[]> {
  for (let i = from; i < count; i++) {
    const next = [...taken, i];
    yield next;
    if (next.length < MAX_BASES) yield* subsets(count, i + 1, next);
  }
}

/** Solves a small symmetric system by elimination; null where it has no one answer. */
function solve(matrix: number[][], right: number[]): number[] | null {
  const n = right.length;
  const m = matrix.map((row, i) => [...row, right[i]!]);
  for (let c = 0; c < n; c++) {
    let best = c;
    for (let r = c + 1; r < n; r++) if (Math.abs(m[r]![c]!) > Math.abs(m[best]![c]!)) best = r;
    if (Math.abs(m[best]![c]!) < 1e-15) return null;
    [m[c], m[best]] = [m[best]!, m[c]!];
    for (let r = 0; r < n; r++) {
      if (r === c) continue;
      const factor = m[r]![c]! / m[c]![c]!;
      for (let k = c; k <= n; k++) m[r]![k]! -= factor * m[c]![k]!;
    }
  }
  return m.map((row, i) => row[n]! / row[i]!);
}

/** Amounts of at least 0, together at most one film thick. */
function allowed(amounts: number[]): number[] {
  const plain = amounts.map((v) => Math.max(0, v));
  const sum = plain.reduce((a, b) => a + b, 0);
  return sum > 1 ? plain.map((v) => v / sum) : plain;
}

/** The amounts whose film comes nearest to a target, by damped least squares. */
function amountsFor(films: readonly Film[], sheet: Spectrum, target: Lab): number[] {
  const residuals = (amounts: readonly number[]) =>
    residuals00(
      target,
      labOfSpectrum(
        mixedOver(
          sheet,
          films.map((film, i) => ({ film, amount: amounts[i]! })),
        ),
      ),
    );
  let amounts = films.map(() => 0.6 / films.length);
  let now = residuals(amounts);
  let off = now.reduce((sum, v) => sum + v * v, 0);
  let damping = 0.1;
  for (let n = 0; n < STEPS && off > 1e-6; n++) {
    const slopes = amounts.map((v, i) => {
      const h = v > 0.5 ? -1e-4 : 1e-4;
      return residuals(amounts.with(i, v + h)).map((r, k) => (r - now[k]!) / h);
    });
    const square = slopes.map((a, i) =>
      slopes.map(
        (b, j) =>
          a.reduce((sum, v, k) => sum + v * b[k]!, 0) +
          (i === j ? damping * (1 + a.reduce((s, v) => s + v * v, 0)) : 0),
      ),
    );
    const step = solve(
      square,
      slopes.map((a) => -a.reduce((sum, v, k) => sum + v * now[k]!, 0)),
    );
    if (!step) break;
    const next = allowed(amounts.map((v, i) => v + step[i]!));
    const there = residuals(next);
    const far = there.reduce((sum, v) => sum + v * v, 0);
    if (far < off) {
      const gained = off - far;
      [amounts, now, off] = [next, there, far];
      damping /= 4;
      if (gained < 1e-7) break;
    } else {
      damping *= 6;
      if (damping > 1e6) break;
    }
  }
  return amounts;
}

/**
 * Recipes for a target from base inks, on the sheet the bases were measured on: two-constant Kubelka–Munk, at most four bases each,
 * the nearest first and of equally near ones the one with fewer bases.
 *
 * @param target Lab D50 and 2°, or a spectrum, which also gives the metamerism
 * @param bases with solid and sheet over white and black; others are left out, as are all after the first {@link MAX_OFFERED}
 */
export function recipesFor(target: Lab | Spectrum, bases: readonly MeasuredInk[], count = 5): Recipe[] {
  const films = bases.slice(0, MAX_OFFERED).flatMap((ink) => {
    const film = filmOf(ink);
    return film ? [{ ink, film }] : [];
  });
  const sheet = films[0]?.ink.steps.find((s) => s.percent === 0 && s.backing === 'white')?.spectrum;
  if (!sheet) return [];
  const usable = films.filter(
    ({ film }) =>
      film.start === sheet.start &&
      film.step === sheet.step &&
      film.absorption.length === sheet.values.length,
  );
  const spectrum = Array.isArray(target) ? null : target;
  const lab = Array.isArray(target) ? target : labOfSpectrum(target);
  const found = new Map<string, Recipe>();
  for (const chosen of subsets(usable.length)) {
    const own = chosen.map((i) => usable[i]!);
    const amounts = amountsFor(
      own.map((o) => o.film),
      sheet,
      lab,
    );
    const parts = own.flatMap(({ ink, film }, i) =>
      amounts[i]! >= LEAST ? [{ ink, film, amount: amounts[i]! }] : [],
    );
    if (parts.length === 0) continue;
    const key = parts.map((p) => p.ink.name).join('\n');
    const mixed = mixedOver(sheet, parts);
    const mixedLab = labOfSpectrum(mixed);
    const deltaE00 = DE00.difference(lab, mixedLab);
    const known = found.get(key);
    if (known && known.deltaE00 <= deltaE00) continue;
    found.set(key, {
      shares: parts.map(({ ink, amount }) => ({ name: ink.name, percent: 100 * amount })),
      spectrum: mixed,
      lab: mixedLab,
      deltaE00,
      metamerism: spectrum && metamerism(spectrum, mixed),
    });
  }
  // hardly anyone sees a tenth of ΔE00, and everybody weighs one ink less
  const rank = (r: Recipe) => Math.round(r.deltaE00 * 10) + r.shares.length * 0.5;
  return [...found.values()].sort((a, b) => rank(a) - rank(b)).slice(0, count);
}

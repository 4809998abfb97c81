import { fileURLToPath } from 'node:url';
import { checks, runCheck } from '../../core/check/index.ts';
import {
  type Color,
  conditionIn,
  conditionOf,
  deltaE00,
  NearIndex,
  PrintCondition,
  toLab,
} from '../../core/color/index.ts';
import type { Library } from '../../core/swatch/index.ts';
import { loadEngine } from '../../profiles/load.ts';
import { random } from '../fuzz/mutate.ts';
import { quickest, RUNS } from './quickest.ts';

/** As libraries are: every tenth colour near another, a third of them inks, some names used twice. */
function library(count: number): Library {
  const next = random(count);
  const base = Array.from({ length: Math.ceil(count / 10) }, () => [next(), next(), next()]);
  const near = (v: number) => Math.min(1, Math.max(0, v + (next() - 0.5) * 0.3));
  const color = (i: number): Color => {
    const [r, g, b] = base[i % base.length]!.map(near) as [number, number, number];
    return i % 3
      ? { space: 'rgb', components: [r, g, b] }
      : { space: 'cmyk', components: [r, g, b, next() * 0.4] };
  };
  const swatches = Array.from({ length: count }, (_, i) => ({
    id: `s${i}`,
    name: `Name ${i % (count - 3)}`,
    kind: 'process' as const,
    color: color(i),
  }));
  return { id: 'l', name: 'many', groups: [{ id: 'g', name: '', swatches }] };
}

/** Inks through the engine in one call beside one by one, close pairs by the index beside all with all, and every check. */
export async function benchColor(): Promise<void> {
  const engine = await loadEngine(fileURLToPath(new URL('../../profiles/', import.meta.url)));
  const inks = library(60_000)
    .groups[0]!.swatches.map((s) => s.color)
    .filter((c) => c.space === 'cmyk');
  const fresh = () => new PrintCondition(engine, conditionOf({}));
  const together = await quickest(() => fresh().prepare(inks));
  const single = await quickest(() => {
    const condition = fresh();
    for (const c of inks) condition.measured(c);
  });
  console.log(
    `\n${inks.length} inks as shown and as measured: ${together.toFixed(0)} ms in one call, ${single.toFixed(0)} ms one by one`,
  );
  const condition = conditionIn(engine, conditionOf({}));
  const labs = library(5000).groups[0]!.swatches.map((s) => toLab(s.color, condition));
  let pairs = 0;
  const indexed = await quickest(() => {
    const index = new NearIndex(labs);
    pairs = 0;
    labs.forEach((lab, i) => {
      index.within(lab, 2, () => pairs++, i + 1);
    });
  });
  const all = await quickest(() => {
    let n = 0;
    for (let i = 0; i < labs.length; i++)
      for (let j = i + 1; j < labs.length; j++) if (deltaE00(labs[i]!, labs[j]!) <= 2) n++;
    return n;
  }, 1);
  console.log(
    `${pairs} pairs within ΔE00 2 among 5,000: ${indexed.toFixed(0)} ms by the index, ${all.toFixed(0)} ms all with all`,
  );
  for (const count of [1000, 20_000]) {
    const one = library(count);
    const parts: string[] = [];
    let sum = 0;
    for (const check of checks) {
      if (check.needs) continue;
      const ms = await quickest(() => runCheck(check, one, {}, { condition }), count > 5000 ? 1 : RUNS);
      sum += ms;
      parts.push(`${check.id} ${ms.toFixed(0)}`);
    }
    console.log(`${count} swatches checked in ${sum.toFixed(0)} ms: ${parts.join(', ')}`);
  }
}

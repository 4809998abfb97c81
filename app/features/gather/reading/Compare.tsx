import { lazy, Suspense, useMemo, useState } from 'react';
import { batchesOf, compareInks, metamerism, toleranceOf } from '#core/reading/compare';
import { solidOf } from '#core/reading/swatches';
import { Choose } from '~/ui/options';
import { Figures } from './InkView';
import { Ramps } from './Ramp';
import css from './ReadingSource.module.css';
import type { ShownReading } from './use-reading';

const Reflectances = lazy(() => import('./charts').then((m) => ({ default: m.Reflectances })));
const Batches = lazy(() => import('./charts').then((m) => ({ default: m.Batches })));

const called = ({ ink, facts, from }: ShownReading) =>
  [ink.name || 'Ink without a name', facts.date, facts.mode, from].filter(Boolean).join(' · ');

/** What batches of a series have in common. */
const ON = ['substrate', 'mode'] as const;

/** An ink beside another measurement, step by step; and the batches of its name over time. */
export function Compare({ reading, inks }: { reading: ShownReading; inks: readonly ShownReading[] }) {
  const others = inks.filter((r) => r.id !== reading.id);
  // the latest batch of the same ink before anything else
  const usual =
    others.findLast(
      (r) => r.ink.name === reading.ink.name && ON.every((f) => r.facts[f] === reading.facts[f]),
    ) ??
    others.find((r) => r.ink.name === reading.ink.name) ??
    others[0];
  const [id, setId] = useState<string | null>(null);
  const other = others.find((r) => r.id === id) ?? usual;
  const tolerance = toleranceOf(reading.facts);
  const compared = useMemo(
    () => (other ? compareInks(reading.ink, other.ink, 'D50', '2', toleranceOf(reading.facts)) : []),
    [reading, other],
  );
  if (!other)
    return (
      <p className="second">
        Open another measurement of this ink, or measure it again: the two are compared here step by step.
      </p>
    );
  const limit = `${tolerance.metric.name} ≤ ${tolerance.limit}`;
  const failing = compared.filter((c) => !c.isWithin);
  const worst = compared.reduce((m, c) => Math.max(m, c.difference), 0);
  const [one, two] = [solidOf(reading.ink).spectrum, solidOf(other.ink).spectrum];
  return (
    <>
      <div className={css.chartHead}>
        <Choose
          label="with"
          value={other.id}
          values={others.map((r) => [r.id, called(r)] as const)}
          onChange={setId}
        />
        <strong>
          {compared.length === 0
            ? 'No step in common'
            : failing.length === 0
              ? `Passes: every step ${limit}`
              : `Fails: ${failing.length} of ${compared.length} steps above ${limit}`}
        </strong>
      </div>
      <Ramps
        steps={reading.ink.steps}
        figuresAre={tolerance.metric.name}
        figures={(step) => {
          const found = compared.find((c) => c.percent === step.percent && c.backing === step.backing);
          return found ? found.difference.toFixed(1) : '–';
        }}
      />
      <Ramps steps={other.ink.steps} />
      <div className={css.charts}>
        <section aria-label="Reflectance">
          <p className={css.chartHead}>
            <strong>Reflectance</strong>
            <span className="caption">heavy: this one · dotted: the other</span>
          </p>
          <div className={css.chart}>
            <Suspense>
              <Reflectances steps={reading.ink.steps} others={other.ink.steps} />
            </Suspense>
          </div>
        </section>
        <Series reading={reading} inks={inks} limit={limit} />
      </div>
      <Figures
        list={[
          ['largest difference', `${tolerance.metric.name} ${worst.toFixed(2)}`],
          ['metamerism, D65 to A', metamerism(one, two, 'D65', 'A').toFixed(2)],
          ['metamerism, D65 to F11', metamerism(one, two, 'D65', 'F11').toFixed(2)],
        ]}
      />
    </>
  );
}

/** Fewer are compared one by one. */
const MIN_SERIES = 3;

/** Batches of an ink in the order they were measured, from the first of them. */
function Series({
  reading,
  inks,
  limit,
}: {
  reading: ShownReading;
  inks: readonly ShownReading[];
  limit: string;
}) {
  const series = useMemo(() => {
    const own = inks
      .filter((r) => r.ink.name === reading.ink.name && ON.every((f) => r.facts[f] === reading.facts[f]))
      .sort((a, b) => (a.facts.date ?? '').localeCompare(b.facts.date ?? ''));
    const [first] = own;
    if (!first || own.length < MIN_SERIES) return null;
    const tolerance = toleranceOf(first.facts);
    const found = batchesOf(
      first.ink,
      own.map((r) => r.ink),
      tolerance,
    );
    return {
      limit: tolerance.limit,
      batches: found.map((b, i) => ({ ...b, name: own[i]!.facts.date || own[i]!.from })),
    };
  }, [reading, inks]);
  if (!series) return null;
  const out = series.batches.find((b) => !b.isWithin);
  return (
    <section aria-label="Batches">
      <p className={css.chartHead}>
        <strong>{series.batches.length} batches</strong>
        <span className="caption">{out ? `leaves ${limit} on ${out.name}` : `all within ${limit}`}</span>
      </p>
      <div className={css.chart}>
        <Suspense>
          <Batches {...series} />
        </Suspense>
      </div>
    </section>
  );
}

import { lazy, Suspense, useMemo, useState } from 'react';
import { screenOnly } from '#core/color/index';
import { fluorescence } from '#core/reading/compare';
import { figuresOf, type InkFigures, toneAt } from '#core/reading/figures';
import { keptLab } from '#core/reading/swatches';
import { ILLUMINANTS, type Illuminant, type Observer, STATUSES } from '#core/spectral/index';
import { reachesOf } from '~/features/shared/Gamuts';
import { useCondition } from '~/ui/condition';
import { Choose } from '~/ui/options';
import { Nearest } from './Nearest';
import { Ramps, stepText } from './Ramp';
import css from './ReadingSource.module.css';
import type { ShownReading } from './use-reading';

const Reflectances = lazy(() => import('./charts').then((m) => ({ default: m.Reflectances })));
const ToneValues = lazy(() => import('./charts').then((m) => ({ default: m.ToneValues })));

/** An ink with its ramps, its charts, and the figures of the step that is looked at. */
export function InkView({
  reading,
  figures,
  inks,
}: {
  reading: ShownReading;
  figures: InkFigures;
  inks: readonly ShownReading[];
}) {
  const condition = useCondition();
  const { ink } = reading;
  const [light, setLight] = useState<Illuminant>('D50');
  const [observer, setObserver] = useState<Observer>('2');
  const solid = ink.steps.findLastIndex((s) => s.backing === 'white');
  const [chosen, setChosen] = useState(Math.max(0, solid));
  const shown = useMemo(() => figuresOf(ink, light, observer), [ink, light, observer]);
  const { step } = figures.steps[chosen]!;
  const now = shown.steps[chosen]!;
  const reaches = useMemo(
    () =>
      condition === screenOnly
        ? []
        : reachesOf({ space: 'lab', components: keptLab(step.spectrum) }, condition),
    [step, condition],
  );
  const glow = useMemo(
    () => fluorescence(inks.filter((r) => r.ink.name === ink.name).map((r) => r.ink)),
    [inks, ink.name],
  );
  return (
    <>
      <Ramps steps={ink.steps} chosen={chosen} onChoose={setChosen} />
      <div className={css.charts}>
        <section aria-label="Reflectance">
          <p className={css.chartHead}>
            <strong>Reflectance</strong>
            <span className="caption">heavy: 100 % · dashed: over black</span>
          </p>
          <div className={css.chart}>
            <Suspense>
              <Reflectances steps={ink.steps} />
            </Suspense>
          </div>
        </section>
        <section aria-label="Tone value">
          <p className={css.chartHead}>
            <strong>Tone value</strong>
            <span className="caption mono">{tonesText(figures)}</span>
          </p>
          <div className={css.chart}>
            <Suspense>
              <ToneValues steps={figures.steps} />
            </Suspense>
          </div>
        </section>
      </div>
      <div className={css.chartHead}>
        <strong>{stepText(step)}</strong>
        <span className={css.lights}>
          <Choose
            label="under"
            value={light}
            values={ILLUMINANTS.map((l) => [l, l] as const)}
            onChange={(v) => setLight(v as Illuminant)}
          />
          <Choose
            label="observer"
            value={observer}
            values={[
              ['2', '2°'],
              ['10', '10°'],
            ]}
            onChange={(v) => setObserver(v as Observer)}
          />
        </span>
      </div>
      <Figures
        list={[
          [`Lab ${light} ${observer}°`, now.lab.map((v) => v.toFixed(1)).join(' ')],
          ['XYZ', now.xyz.map((v) => v.toFixed(2)).join(' ')],
          ['tone value', now.toneValue === null ? 'not known' : `${now.toneValue.toFixed(1)} %`],
          [`density, ${now.density.band} nm`, now.density.value.toFixed(2)],
          ...STATUSES.map((s): [string, string] => [
            `status ${s}`,
            `${now.status[s].value.toFixed(2)} ${now.status[s].filter}`,
          ]),
          ['opacity', shown.opacity === null ? 'not measured' : shown.opacity.toFixed(2)],
          ...(glow
            ? [
                [
                  `glow, ${glow.modes.join(' − ')}`,
                  `ΔE00 ${glow.deltaE00.toFixed(1)} at ${Number(glow.percent.toFixed(1))} %, ${glow.nm} nm`,
                ] as [string, string],
              ]
            : []),
          ...reaches.map((r): [string, string] => [
            r.name,
            r.inside ? 'inside' : `outside, ΔE00 ${r.deltaE00.toFixed(1)}`,
          ]),
        ]}
      />
      <Nearest spectrum={step.spectrum} />
    </>
  );
}

/** Labelled figures, side by side. */
export function Figures({ list }: { list: readonly (readonly [label: string, value: string])[] }) {
  return (
    <dl className={css.figures}>
      {list.map(([label, value]) => (
        <div key={label}>
          <dt className="caption">{label}</dt>
          <dd className="mono">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Tone values over the quarters of the plate, as much more or less than the plate's: “25 +12 · 50 +16 · 75 +9”. */
function tonesText({ steps }: InkFigures): string {
  const parts = [25, 50, 75].flatMap((percent) => {
    const tone = toneAt(steps, percent);
    if (tone === null) return [];
    const off = tone - percent;
    return [`${percent} ${off >= 0 ? '+' : '−'}${Math.abs(off).toFixed(1)}`];
  });
  return parts.length > 0 ? parts.join(' · ') : 'needs sheet and solid';
}

import Button from '@mui/material/Button';
import { lazy, Suspense, useCallback, useMemo, useState } from 'react';
import { screenOnly, toHex } from '#core/color/index';
import { figuresOf, type InkFigures, type StepFigures, toneAt } from '#core/reading/figures';
import { type Backing, conditionText, type Step } from '#core/reading/model';
import { ILLUMINANTS, type Illuminant, type Observer } from '#core/spectral/index';
import { reachesOf } from '~/features/shared/Gamuts';
import { useFileTaker, useOpenFiles } from '~/features/shared/open/OpenFiles';
import type { KeptReading } from '~/state/readings';
import { useCondition } from '~/ui/condition';
import { Empty } from '~/ui/empty';
import { useOneStop } from '~/ui/one-stop';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import { useJob } from '~/ui/use-job';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import css from './ReadingSource.module.css';
import { labOf, useReading } from './use-reading';

const Reflectances = lazy(() => import('./charts').then((m) => ({ default: m.Reflectances })));
const ToneValues = lazy(() => import('./charts').then((m) => ({ default: m.ToneValues })));

/** Gather › Reading: inks as they were measured. */
export function ReadingSource() {
  const { store, inks, reading, figures } = useReading();
  const openFiles = useOpenFiles();
  const toast = useToast();
  const files = useClient(openFilesClient);
  const { job, start, stop } = useJob(files.stop);
  useFileTaker(
    useCallback(
      async (given) => {
        let rest: typeof given = [];
        await start('Reading measurements', async ({ stage, isWanted }) => {
          const { inks: read, warnings, others } = await files.ask('measure', { files: given }, stage);
          if (!isWanted()) return;
          // what is no measurement is opened as it is anywhere else
          rest = others.map((i) => given[i]!);
          const own = given.filter((_, i) => !others.includes(i));
          if (read.length > 0) store.add(read, own.map((g) => g.path).join(', '));
          if (warnings.length > 0) toast({ text: warnings.slice(0, 4).join(' '), stays: true });
        });
        return rest;
      },
      [files, start, store, toast],
    ),
  );
  const remove = ({ id, ink }: KeptReading) => {
    const back = store.remove(id);
    toast({ text: `${ink.name} is removed.`, action: { label: 'Undo', run: back } });
  };
  return (
    <div className={css.source}>
      {!reading || !figures ? (
        <Empty
          level="h2"
          title="Measured inks"
          text="Drop files of measurements with spectra (CGATS, CxF or CSV): an ink’s tints over white, and over black. Several files for one ink are put together."
        >
          <Button variant="contained" onClick={openFiles}>
            Open measurements…
          </Button>
        </Empty>
      ) : (
        <>
          <nav className={css.inks} aria-label="Inks">
            {inks.map((r) => (
              <PlainButton
                look="tab"
                key={r.id}
                className="cut"
                dir="auto"
                aria-pressed={r.id === reading.id}
                onClick={() => store.look(r.id)}
              >
                {r.ink.name || 'Ink without a name'}
              </PlainButton>
            ))}
            <PlainButton look="tab" onClick={openFiles}>
              Open measurements…
            </PlainButton>
          </nav>
          <Ink key={reading.id} reading={reading} figures={figures} onRemove={() => remove(reading)} />
        </>
      )}
      {job && <Progress {...job} onStop={stop} />}
    </div>
  );
}

function Ink({
  reading,
  figures,
  onRemove,
}: {
  reading: KeptReading;
  figures: InkFigures;
  onRemove(): void;
}) {
  const condition = useCondition();
  const { ink, from } = reading;
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
        : reachesOf({ space: 'lab', components: labOf(step.spectrum) }, condition),
    [step, condition],
  );
  const half = toneAt(figures.steps, 50);
  return (
    <>
      <div className={css.head}>
        <h2 className="title cut" dir="auto">
          {ink.name || 'Ink without a name'}
        </h2>
        <span className="caption cut" title={from}>
          {[
            from,
            count(ink.steps.length, 'patch', 'patches'),
            count(step.spectrum.values.length, 'band'),
            conditionText(ink.conditions),
          ]
            .filter(Boolean)
            .join(' · ')}
        </span>
        <PlainButton look="link" className={css.remove!} onClick={onRemove}>
          Remove
        </PlainButton>
      </div>
      <div className={css.ramps}>
        {(['white', 'black'] as const).map((backing) => (
          <Ramp key={backing} backing={backing} steps={figures.steps} chosen={chosen} onChoose={setChosen} />
        ))}
        <span />
        <Percents steps={ink.steps} />
      </div>
      <div className={css.charts}>
        <section aria-label="Reflectance">
          <p className={css.chartHead}>
            <strong>Reflectance</strong>
            <span className="caption">heavy: 100 % · dashed: over black</span>
          </p>
          <div className={css.chart}>
            <Suspense>
              <Reflectances steps={figures.steps} />
            </Suspense>
          </div>
        </section>
        <section aria-label="Tone value">
          <p className={css.chartHead}>
            <strong>Tone value</strong>
            <span className="caption">
              {half === null
                ? 'needs sheet and solid'
                : `at 50: ${half >= 50 ? '+' : '−'}${Math.abs(half - 50).toFixed(1)}`}
            </span>
          </p>
          <div className={css.chart}>
            <Suspense>
              <ToneValues steps={figures.steps} />
            </Suspense>
          </div>
        </section>
      </div>
      <div className={css.chartHead}>
        <strong>
          {Number(step.percent.toFixed(1))} % over {step.backing}
        </strong>
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
      <dl className={css.figures}>
        {[
          [`Lab ${light} ${observer}°`, now.lab.map((v) => v.toFixed(1)).join(' ')],
          ['XYZ', now.xyz.map((v) => v.toFixed(2)).join(' ')],
          ['tone value', now.toneValue === null ? 'not known' : `${now.toneValue.toFixed(1)} %`],
          [`density, ${now.density.band} nm`, now.density.value.toFixed(2)],
          ['opacity', shown.opacity === null ? 'not measured' : shown.opacity.toFixed(2)],
          ...reaches.map((r) => [r.name, r.inside ? 'inside' : `outside, ΔE00 ${r.deltaE00.toFixed(1)}`]),
        ].map(([label, value]) => (
          <div key={label}>
            <dt className="caption">{label}</dt>
            <dd className="mono">{value}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}

/** The steps over one backing, from the sheet to the solid. */
function Ramp({
  backing,
  steps,
  chosen,
  onChoose,
}: {
  backing: Backing;
  steps: readonly StepFigures[];
  chosen: number;
  onChoose(i: number): void;
}) {
  const condition = useCondition();
  const stop = useOneStop<HTMLFieldSetElement>();
  const own = steps.map((s, i) => ({ ...s, i })).filter((s) => s.step.backing === backing);
  if (own.length === 0) return null;
  return (
    <>
      <span className="caption">over {backing}</span>
      <fieldset {...stop} className={css.ramp} aria-label={`Over ${backing}`} data-no-act>
        {own.map(({ step, i }) => (
          <PlainButton
            key={i}
            aria-pressed={i === chosen}
            aria-label={`${Number(step.percent.toFixed(1))} % over ${backing}`}
            title={step.name}
            style={{ background: toHex({ space: 'lab', components: labOf(step.spectrum) }, condition) }}
            onClick={() => onChoose(i)}
          />
        ))}
      </fieldset>
    </>
  );
}

/** Below the ramps, once where both have the same steps. */
function Percents({ steps }: { steps: readonly Step[] }) {
  const of = (backing: Backing) => steps.filter((s) => s.backing === backing).map((s) => s.percent);
  const [white, black] = [of('white'), of('black')];
  const shown = black.length > white.length ? black : white;
  return (
    <span className={`caption mono ${css.percents}`} aria-hidden>
      {shown.map((percent) => (
        <span key={percent}>{Number(percent.toFixed(1))}</span>
      ))}
    </span>
  );
}

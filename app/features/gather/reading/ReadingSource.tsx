import Button from '@mui/material/Button';
import { lazy, Suspense, useCallback, useState } from 'react';
import type { InkFigures } from '#core/reading/figures';
import { conditionText, type MeasuredInk } from '#core/reading/model';
import { type Given, useFileTaker, useOpenFiles } from '~/features/shared/open/OpenFiles';
import { Empty } from '~/ui/empty';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import { useJob } from '~/ui/use-job';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { Compare } from './Compare';
import { InkView } from './InkView';
import { Mixtures } from './Mixtures';
import css from './ReadingSource.module.css';
import { type ShownReading, useReading, useReadingActs } from './use-reading';

const BenchDialog = lazy(() => import('./BenchDialog').then((m) => ({ default: m.BenchDialog })));

/** Gather › Reading: inks as they were measured. */
export function ReadingSource() {
  const { store, inks, reading, figures } = useReading();
  const { remove } = useReadingActs();
  const openFiles = useOpenFiles();
  const toast = useToast();
  const files = useClient(openFilesClient);
  const { job, start, stop } = useJob(files.stop);
  const [measuring, setMeasuring] = useState<{ again: ShownReading | null } | null>(null);
  const take = useCallback(
    async (given: Given[], ramps: string[] = []) => {
      let rest: typeof given = [];
      await start('Reading measurements', async ({ stage, isWanted }) => {
        const came = await files.ask('measure', { files: given, ramps }, stage);
        if (!isWanted()) return;
        // other files open as they do on any screen
        rest = came.others.map((i) => given[i]!);
        const own = given.filter((_, i) => !came.others.includes(i));
        const added = came.inks.length > 0 ? store.add(came.inks, own.map((g) => g.path).join(', ')) : [];
        if (came.warnings.length > 0) toast({ text: came.warnings.slice(0, 4).join(' '), stays: true });
        const [unsaid] = came.unsaid;
        if (unsaid)
          toast({
            text: `${unsaid.title}: ${count(unsaid.patches, 'patch says', 'patches say')} nothing of tints, and are shown as inks of their own.`,
            stays: true,
            action: {
              label: 'Read as one ramp',
              run: () => {
                for (const id of added) store.remove(id);
                void take(own, [...ramps, unsaid.title]);
              },
            },
          });
      });
      return rest;
    },
    [files, start, store, toast],
  );
  useFileTaker(useCallback((given) => take(given), [take]));
  const add = (ink: MeasuredInk, from: string) => store.add([ink], from);
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
          <Button onClick={() => setMeasuring({ again: null })}>Measure…</Button>
        </Empty>
      ) : (
        <>
          <nav className={css.inks} aria-label="Inks">
            {byName(inks).map(([name, own]) => (
              <PlainButton
                look="tab"
                key={name}
                className="cut"
                dir="auto"
                aria-pressed={name === reading.ink.name}
                onClick={() => store.look(own[0]!.id)}
              >
                {called(name)}
              </PlainButton>
            ))}
            <PlainButton look="tab" onClick={openFiles}>
              Open measurements…
            </PlainButton>
          </nav>
          <Ink
            key={reading.ink.name}
            reading={reading}
            inks={inks}
            figures={figures}
            onRemove={() => remove(reading)}
            onMeasure={() => setMeasuring({ again: reading })}
            onLook={(id) => store.look(id)}
          />
        </>
      )}
      {job && <Progress {...job} onStop={stop} />}
      {measuring && (
        <Suspense>
          <BenchDialog again={measuring.again} onKeep={add} onClose={() => setMeasuring(null)} />
        </Suspense>
      )}
    </div>
  );
}

/** The measurements of each ink, in the order in which the first of each stands. */
function byName(inks: readonly ShownReading[]): [name: string, own: ShownReading[]][] {
  const found = new Map<string, ShownReading[]>();
  for (const r of inks) found.set(r.ink.name, [...(found.get(r.ink.name) ?? []), r]);
  return [...found];
}

const called = (name: string) => name || 'Ink without a name';

/** What tells a measurement from others of the same ink. */
const measuredText = ({ facts, from, item }: ShownReading): string =>
  [[facts.date, facts.substrate, facts.mode].filter(Boolean).join(', ') || from, item ? '' : 'not kept']
    .filter(Boolean)
    .join(' · ');

const VIEWS = [
  ['ramp', 'Ramp'],
  ['compare', 'Compare'],
  ['mix', 'Mixtures'],
] as const;
type View = (typeof VIEWS)[number][0];

function Ink({
  reading,
  inks,
  figures,
  onRemove,
  onMeasure,
  onLook,
}: {
  reading: ShownReading;
  inks: readonly ShownReading[];
  figures: InkFigures;
  onRemove(): void;
  onMeasure(): void;
  onLook(id: string): void;
}) {
  const { ink, from } = reading;
  const alike = inks.filter((r) => r.ink.name === ink.name);
  const [view, setView] = useState<View>('ramp');
  return (
    <>
      <div className={css.head}>
        <h2 className="title cut" dir="auto">
          {called(ink.name)}
        </h2>
        {alike.length > 1 && (
          <Choose
            label="measured"
            value={reading.id}
            values={alike.map((r) => [r.id, measuredText(r)] as const)}
            onChange={onLook}
          />
        )}
        <span className={`caption cut ${css.facts}`} title={from}>
          {[
            from,
            count(ink.steps.length, 'patch', 'patches'),
            count(ink.steps[0]!.spectrum.values.length, 'band'),
            conditionText(ink.conditions),
          ]
            .filter(Boolean)
            .join(' · ')}
        </span>
        <span className={css.acts}>
          <PlainButton look="link" onClick={onRemove}>
            Remove
          </PlainButton>
          <Button size="small" onClick={onMeasure}>
            Measure again
          </Button>
        </span>
      </div>
      <nav className={css.views} aria-label="What is shown">
        {VIEWS.map(([id, label]) => (
          <PlainButton key={id} look="tab" aria-pressed={view === id} onClick={() => setView(id)}>
            {label}
          </PlainButton>
        ))}
      </nav>
      {view === 'ramp' && <InkView key={reading.id} reading={reading} figures={figures} inks={inks} />}
      {view === 'compare' && <Compare key={reading.id} reading={reading} inks={inks} />}
      {view === 'mix' && <Mixtures key={reading.id} reading={reading} inks={inks} />}
    </>
  );
}

import Button from '@mui/material/Button';
import { useMemo, useState } from 'react';
import { type Lab, toHex } from '#core/color/index';
import { labOfSpectrum } from '#core/reading/figures';
import { filmOf, overprint } from '#core/reading/mixture';
import { MAX_OFFERED, type Recipe } from '#core/reading/recipe';
import { solidOf } from '#core/reading/swatches';
import { useToTray } from '~/features/shared/use-to-tray';
import { useCondition } from '~/ui/condition';
import { NumberField } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { useAsked } from '~/ui/use-asked';
import { WingPair } from '~/ui/wing-pair';
import { openMatchClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { estimated } from './estimated';
import css from './ReadingSource.module.css';
import type { ShownReading } from './use-reading';

const called = ({ ink }: ShownReading) => ink.name || 'Ink without a name';
const hexOf = (lab: Lab, condition: Parameters<typeof toHex>[1]) =>
  toHex({ space: 'lab', components: lab }, condition);

/** One measurement of each other ink: one on the same paper that says how it covers, where there is one. */
function basesFor(reading: ShownReading, inks: readonly ShownReading[]): ShownReading[] {
  const usefulness = (r: ShownReading) =>
    (filmOf(r.ink) ? 2 : 0) + (r.facts.substrate === reading.facts.substrate ? 1 : 0);
  const best = new Map<string, ShownReading>();
  for (const r of inks) {
    const known = best.get(r.ink.name);
    if (r.ink.name !== reading.ink.name && (!known || usefulness(r) > usefulness(known)))
      best.set(r.ink.name, r);
  }
  return [...best.values()];
}

/** What two inks make over each other, and what this one can be mixed from: estimates, which say that they are. */
export function Mixtures({ reading, inks }: { reading: ShownReading; inks: readonly ShownReading[] }) {
  const others = useMemo(() => basesFor(reading, inks), [reading, inks]);
  if (others.length === 0)
    return (
      <p className="second">
        Open the measurements of other inks on this paper: what two of them make over each other is estimated
        here, and what this one can be mixed from.
      </p>
    );
  return (
    <>
      <Overprint reading={reading} others={others} />
      <Recipes reading={reading} others={others} />
    </>
  );
}

function Overprint({ reading, others }: { reading: ShownReading; others: readonly ShownReading[] }) {
  const condition = useCondition();
  const toTray = useToTray();
  const [id, setId] = useState('');
  const [own, setOwn] = useState(100);
  const [theirs, setTheirs] = useState(100);
  const other = others.find((r) => r.id === id) ?? others[0]!;
  const estimate = useMemo(
    () => overprint({ ink: reading.ink, percent: own }, { ink: other.ink, percent: theirs }),
    [reading.ink, other.ink, own, theirs],
  );
  const lab = estimate && labOfSpectrum(estimate.spectrum);
  return (
    <section aria-label="Overprint" className={css.mixture}>
      <p className={css.chartHead}>
        <strong>Overprint</strong>
        <span className="caption">estimated: cellular Yule–Nielsen–Neugebauer, opacity from black</span>
      </p>
      <div className={css.asks}>
        <NumberField label={called(reading)} value={own} min={0} max={100} unit="%" onChange={setOwn} />
        <Choose
          label="under"
          value={other.id}
          values={others.map((r) => [r.id, called(r)] as const)}
          onChange={setId}
        />
        <NumberField
          label={`${called(other)} of its plate`}
          silent
          value={theirs}
          min={0}
          max={100}
          unit="%"
          onChange={setTheirs}
        />
      </div>
      {estimate && lab ? (
        <div className={css.result}>
          <span className={css.big} style={{ background: hexOf(lab, condition) }} />
          <span className="mono">Lab {lab.map((v) => v.toFixed(1)).join(' ')}</span>
          <Button
            onClick={() =>
              void toTray([
                estimated(
                  `${called(other)} ${theirs} over ${called(reading)} ${own}`,
                  estimate.spectrum,
                  `estimated: ${estimate.from}`,
                ),
              ])
            }
          >
            Put it in the tray
          </Button>
        </div>
      ) : (
        <p className="second">
          {called(other)} needs its ramp from the sheet on, and sheet and solid over black in the same bands:
          they say how it covers what lies below.
        </p>
      )}
    </section>
  );
}

function Recipes({ reading, others }: { reading: ShownReading; others: readonly ShownReading[] }) {
  const condition = useCondition();
  const match = useClient(openMatchClient);
  const bases = useMemo(() => others.filter((r) => filmOf(r.ink) !== null).slice(0, MAX_OFFERED), [others]);
  const target = solidOf(reading.ink).spectrum;
  const { value, problem } = useAsked<Recipe[]>(
    bases.length > 0 ? () => match.ask('recipes', { target, bases: bases.map((r) => r.ink) }) : null,
    [target, bases],
    { wait: 150 },
  );
  const targetLab = labOfSpectrum(target);
  return (
    <section aria-label="Recipes" className={css.mixture}>
      <p className={css.chartHead}>
        <strong>Mixed from the other inks</strong>
        <span className="caption">
          estimated: two-constant Kubelka–Munk on this paper, at most four bases
        </span>
      </p>
      {bases.length === 0 ? (
        <p className="second">None of the other inks was measured over white and over black.</p>
      ) : problem ? (
        <p className="second">{problem}</p>
      ) : value === null ? (
        <p className="second">Mixing…</p>
      ) : value.length === 0 ? (
        <p className="second">These inks make nothing near it.</p>
      ) : (
        <>
          {value[0]!.deltaE00 > FAR && (
            <p className="second">
              These inks make nothing nearer than ΔE00 {value[0]!.deltaE00.toFixed(1)}.
            </p>
          )}
          {value.map((recipe) => (
            <p key={recipe.shares.map((s) => s.name).join()} className={css.near}>
              <span className={css.wings}>
                <WingPair left={hexOf(targetLab, condition)} right={hexOf(recipe.lab, condition)} />
              </span>
              <span className="cut" title={partsText(recipe)}>
                {partsText(recipe)}
              </span>
              <span className="mono">
                ΔE00 {recipe.deltaE00.toFixed(1)} · metamerism {recipe.metamerism?.toFixed(1) ?? '–'}
              </span>
            </p>
          ))}
        </>
      )}
    </section>
  );
}

/** ΔE00 from which a recipe is none. */
const FAR = 5;

/** “Signal yellow 62 %, Hull navy 4 %, medium 34 %”. */
function partsText({ shares }: Recipe): string {
  const sum = shares.reduce((a, s) => a + s.percent, 0);
  const parts = shares.map((s) => `${s.name} ${s.percent.toFixed(1)} %`);
  return (sum < 99.5 ? [...parts, `medium ${(100 - sum).toFixed(1)} %`] : parts).join(', ');
}

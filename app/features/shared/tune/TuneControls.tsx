import { useMemo, useState } from 'react';
import { differenceInWords, toHex, toLab } from '#core/color/index';
import type { Swatch } from '#core/swatch/index';
import { EVEN } from '#core/tune/index';
import { useCondition } from '~/ui/condition';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { count, swatchLabel } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { WingPair } from '~/ui/wing-pair';
import { BySight } from './BySight';
import { Match } from './Match';
import { NamedTunings } from './NamedTunings';
import css from './Tune.module.css';
import { type TuneState, WITHIN, type Within } from './use-tune';
import { Blend, Equalise, Relight, Shift, Values } from './Ways';

const VIEWS = ['values', 'shift', 'blend', 'equalise', 'reverse', 'relight', 'match'] as const;
type View = (typeof VIEWS)[number];

/** Before and after of the first swatch, and what moves all of them. */
export function TuneControls({ state, chosen }: { state: TuneState; chosen: readonly Swatch[] }) {
  const condition = useCondition();
  const [asked, setView] = useState<View>('shift');
  const [bySight, setBySight] = useState(false);
  const { tuned, tuning, words } = state;
  // several have no values of their own
  const view = asked === 'values' && tuned.length !== 1 ? 'shift' : asked;
  const [first] = tuned;
  const lost = useMemo(() => tuned.filter((t) => t.lostChroma > 0), [tuned]);
  if (!first) return null;
  const hasPart: Record<View, boolean> = {
    values: !!tuning.values,
    shift:
      (tuning.lightness ?? 0) !== 0 ||
      (tuning.chroma ?? 1) !== 1 ||
      (tuning.hue ?? 0) !== 0 ||
      (tuning.warmth ?? 0) !== 0,
    blend: (tuning.blend?.percent ?? 0) > 0,
    equalise: EVEN.some((e) => tuning.even?.[e]),
    reverse: !!tuning.reverse,
    relight: !!tuning.relight && tuning.relight.from !== tuning.relight.to,
    match: (tuning.match?.percent ?? 0) > 0,
  };
  return (
    <>
      <div className={css.pair}>
        <WingPair left={toHex(first.swatch.color, condition)} right={toHex(first.color, condition)} />
      </div>
      <p className={`caption ${css.ends}`}>
        <span className="cut" dir="auto">
          {swatchLabel(first.swatch, condition)}
        </span>
        <span className="mono">ΔE00 {first.deltaE00.toFixed(1)}</span>
      </p>
      <div className={css.words}>
        <h2 className="title">{count(chosen.length, 'swatch', 'swatches')}</h2>
        <p className={`second ${css.said}`}>
          <span>
            {words === ''
              ? 'As they are.'
              : `${differenceInWords(toLab(first.swatch.color, condition), toLab(first.color, condition))}.`}
          </span>
          <PlainButton look="link" onClick={() => setBySight(true)}>
            By sight…
          </PlainButton>
        </p>
        <Choices aria-label="What is done">
          {VIEWS.filter((v) => v !== 'values' || tuned.length === 1).map((v) => (
            <PlainButton look="tab" key={v} aria-pressed={view === v} onClick={() => setView(v)}>
              {v}
              {hasPart[v] && v !== view ? ' ·' : ''}
            </PlainButton>
          ))}
        </Choices>
        <hr />
        {view === 'values' && <Values state={state} swatch={first.swatch} />}
        {view === 'shift' && <Shift state={state} />}
        {view === 'blend' && <Blend state={state} />}
        {view === 'equalise' && <Equalise state={state} />}
        {view === 'reverse' && (
          <>
            <Tick
              checked={!!tuning.reverse}
              onChange={(reverse) => state.set({ reverse })}
              label="light becomes dark"
            />
            <p className="caption">
              For dark surrounds: luminance is mirrored so that the contrast of any two stays what it is.
            </p>
          </>
        )}
        {view === 'relight' && <Relight state={state} />}
        {view === 'match' && <Match state={state} />}
        <hr />
        <Choose
          label="limit to"
          value={state.within}
          values={WITHIN.map(([id, name]) => [id, id === 'press' ? condition.name : name] as const)}
          onChange={(v) => state.setWithin(v as Within)}
        />
        {lost.length > 0 && (
          <p className="caption">
            {count(lost.length, 'swatch', 'swatches')} lost chroma to stay inside:{' '}
            {lost
              .slice(0, 12)
              .map((t) => `${swatchLabel(t.swatch, condition)} ${t.lostChroma.toFixed(3)}`)
              .join(', ')}
            {lost.length > 12 ? '…' : '.'}
          </p>
        )}
        <NamedTunings state={state} />
      </div>
      {bySight && <BySight state={state} onClose={() => setBySight(false)} />}
    </>
  );
}

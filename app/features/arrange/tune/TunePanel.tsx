import Slider from '@mui/material/Slider';
import { useEffect, useState } from 'react';
import {
  convert,
  differenceInWords,
  oklabToLab,
  oklchToOklab,
  parseColor,
  spaces,
  toHex,
  toLab,
  typedColor,
} from '#core/color/index';
import { fitted } from '#core/harmony/family';
import { circleById } from '#core/harmony/index';
import { allSwatches, type Swatch } from '#core/swatch/index';
import { CONES, EVEN, type Even, isTunable, LIGHT_NAMES, type Light, spreadOf } from '#core/tune/index';
import { LibraryChoice } from '~/features/shared/merge/LibraryChoice';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { CommitField } from '~/ui/commit-field';
import { useCondition } from '~/ui/condition';
import { Panel } from '~/ui/Frame';
import { NumberField } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { count, swatchLabel } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useAsked } from '~/ui/use-asked';
import { WingPair } from '~/ui/wing-pair';
import css from './Tune.module.css';
import { type TuneState, WITHIN, type Within } from './use-tune';

const VIEWS = ['values', 'shift', 'blend', 'equalise', 'reverse', 'relight', 'match'] as const;
type View = (typeof VIEWS)[number];

/** Before and after of the first chosen swatch, and what moves all of them. */
export function TunePanel({ state, chosen }: { state: TuneState; chosen: readonly Swatch[] }) {
  const condition = useCondition();
  const [asked, setView] = useState<View>('shift');
  const { tuned, tuning, words } = state;
  // several have no values of their own
  const view = asked === 'values' && tuned.length !== 1 ? 'shift' : asked;
  const [first] = tuned;
  const lost = tuned.filter((t) => t.lostChroma > 0);
  const hasPart: Record<View, boolean> = {
    values: !!tuning.values,
    shift: (tuning.lightness ?? 0) !== 0 || (tuning.chroma ?? 1) !== 1 || (tuning.hue ?? 0) !== 0,
    blend: (tuning.blend?.percent ?? 0) > 0,
    equalise: EVEN.some((e) => tuning.even?.[e]),
    reverse: !!tuning.reverse,
    relight: !!tuning.relight && tuning.relight.from !== tuning.relight.to,
    match: (tuning.match?.percent ?? 0) > 0,
  };
  return (
    <Panel side="readout" label="Tune">
      {first ? (
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
        </>
      ) : (
        <p className={`second ${css.hint}`}>
          Spot and technical inks keep their colours: choose a tint, convert them to process, or pick another
          number.
        </p>
      )}
      <div className={css.words}>
        <h2 className="title">{count(chosen.length, 'swatch', 'swatches')}</h2>
        {first && (
          <p className="second">
            {words === ''
              ? 'As they are.'
              : `${differenceInWords(toLab(first.swatch.color, condition), toLab(first.color, condition))}.`}
          </p>
        )}
        <Choices aria-label="What is done">
          {VIEWS.filter((v) => v !== 'values' || tuned.length === 1).map((v) => (
            <PlainButton look="tab" key={v} aria-pressed={view === v} onClick={() => setView(v)}>
              {v}
              {hasPart[v] && v !== view ? ' ·' : ''}
            </PlainButton>
          ))}
        </Choices>
        <hr />
        {view === 'values' && first && <Values state={state} swatch={first.swatch} />}
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
        <PlainButton look="link" disabled={words === ''} onClick={state.startOver}>
          Start over
        </PlainButton>
      </div>
    </Panel>
  );
}

/** A slider with the colours it leads to, and a field for its number. */
function Track({
  label,
  unit,
  value,
  min,
  max,
  step,
  decimals,
  colors,
  onChange,
}: {
  label: string;
  unit?: string;
  value: number;
  min: number;
  max: number;
  step: number;
  decimals: number;
  colors?: string[];
  onChange(value: number): void;
}) {
  return (
    <div className={css.track}>
      <span id={`tune-${label}`}>{label}</span>
      <Slider
        className={css.slider}
        style={colors ? { backgroundImage: `linear-gradient(90deg, ${colors.join()})` } : undefined}
        data-painted={!!colors}
        aria-labelledby={`tune-${label}`}
        value={value}
        min={min}
        max={max}
        step={step}
        onChange={(_, v) => onChange(v as number)}
      />
      <NumberField
        silent
        label={`${label}${unit ? `, ${unit}` : ''}`}
        value={value}
        min={min}
        max={max}
        step={step}
        decimals={decimals}
        onChange={onChange}
      />
    </div>
  );
}

const STOPS = [0, 1, 2, 3, 4, 5, 6, 7, 8];

function Shift({ state: { tuning, set, tuned, gamut } }: { state: TuneState }) {
  const condition = useCondition();
  const { lightness = 0, chroma = 1, hue = 0 } = tuning;
  const [first] = tuned;
  const [L, C, h] = first ? convert(first.swatch.color, 'oklch', condition).components : [0.5, 0.1, 0];
  const hexAt = (lch: [number, number, number]) =>
    toHex(
      {
        space: 'lab',
        components: oklabToLab(oklchToOklab(fitted(lch, circleById('perceptual'), gamut).lch)),
      },
      condition,
    );
  const way = (of: (part: number) => [number, number, number]) => STOPS.map((i) => hexAt(of(i / 8)));
  const [l, c, t] = [L! + lightness / 100, C! * chroma, h! + hue];
  return (
    <>
      <Track
        label="Lightness"
        value={lightness}
        min={-50}
        max={50}
        step={0.5}
        decimals={1}
        colors={way((p) => [Math.min(1, Math.max(0, L! - 0.5 + p)), c, t])}
        onChange={(v) => set({ lightness: v })}
      />
      <Track
        label="Chroma"
        unit="times"
        value={chroma}
        min={0}
        max={2}
        step={0.01}
        decimals={2}
        colors={way((p) => [l, C! * 2 * p, t])}
        onChange={(v) => set({ chroma: v })}
      />
      <Track
        label="Hue"
        unit="°"
        value={hue}
        min={-180}
        max={180}
        step={1}
        decimals={0}
        colors={way((p) => [l, c, h! - 180 + 360 * p])}
        onChange={(v) => set({ hue: v })}
      />
      <div className={css.quick}>
        {(
          [
            ['Lighter', { lightness: lightness + 2 }],
            ['Darker', { lightness: lightness - 2 }],
            ['Calmer', { chroma: chroma * 0.9 }],
            ['Stronger', { chroma: Math.min(2, chroma * 1.1) }],
          ] as const
        ).map(([label, part]) => (
          <PlainButton key={label} look="tab" onClick={() => set(part)}>
            {label}
          </PlainButton>
        ))}
      </div>
    </>
  );
}

/** The spaces that values can be set in. */
const SPACES = ['rgb', 'cmyk', 'hsb', 'lab', 'oklch'] as const;

/** The numbers of one swatch, each with the colours it leads to; in its own space, unless another is chosen. */
function Values({ state: { tuning, set }, swatch }: { state: TuneState; swatch: Swatch }) {
  const condition = useCondition();
  const color = tuning.values ?? swatch.color;
  const { channels } = spaces[color.space];
  const choices = [...new Set([swatch.color.space, ...SPACES])];
  const put = (i: number, value: number) =>
    set({ values: { ...color, components: color.components.with(i, value) } });
  return (
    <>
      <Choose
        label="in"
        value={color.space}
        values={choices.map((id) => [id, spaces[id].name] as const)}
        onChange={(id) =>
          set({
            values:
              id === swatch.color.space && !tuning.values
                ? swatch.color
                : convert(color, id as (typeof choices)[number], condition),
          })
        }
      />
      {channels.map(({ letter, min, max, shown: { factor, decimals } }, i) => (
        <Track
          key={`${color.space} ${letter}`}
          label={letter}
          value={color.components[i]! * factor}
          min={min * factor}
          max={max * factor}
          step={decimals > 2 ? 0.005 : 1}
          decimals={Math.max(decimals, 1)}
          colors={STOPS.map((k) =>
            toHex({ ...color, components: color.components.with(i, min + ((max - min) * k) / 8) }, condition),
          )}
          onChange={(v) => put(i, v / factor)}
        />
      ))}
      <p className="caption">As typed: what follows in the other ways starts from here.</p>
    </>
  );
}

function Blend({ state: { tuning, set } }: { state: TuneState }) {
  const condition = useCondition();
  const [problem, setProblem] = useState('');
  const { blend = { toward: parseColor('#d9a46a'), percent: 0 } } = tuning;
  return (
    <>
      <div className={css.typed}>
        <i style={{ background: toHex(blend.toward, condition) }} />
        <label htmlFor="tune-toward" className="second">
          towards
        </label>
        <CommitField
          id="tune-toward"
          value={toHex(blend.toward, condition).toUpperCase()}
          onCommit={(text) => {
            const toward = typedColor(text);
            setProblem(toward ? '' : `“${text.slice(0, 40)}” is not a colour. Type one as #D9A46A.`);
            if (toward) set({ blend: { ...blend, toward } });
          }}
        />
      </div>
      {problem && (
        <p className="caption" role="alert">
          {problem}
        </p>
      )}
      <Track
        label="Share"
        unit="%"
        value={blend.percent}
        min={0}
        max={100}
        step={1}
        decimals={0}
        onChange={(percent) => set({ blend: { ...blend, percent } })}
      />
    </>
  );
}

const EVEN_LABELS: Record<Even, string> = { lightness: 'Lightness', chroma: 'Chroma', hue: 'Hue' };

function Equalise({ state: { tuning, set } }: { state: TuneState }) {
  return (
    <>
      {EVEN.map((what) => (
        <Track
          key={what}
          label={EVEN_LABELS[what]}
          unit="%"
          value={tuning.even?.[what] ?? 0}
          min={0}
          max={100}
          step={1}
          decimals={0}
          onChange={(v) => set({ even: { ...tuning.even, [what]: v } })}
        />
      ))}
      <p className="caption">Towards even distances from the least to the most, in the order there is.</p>
    </>
  );
}

const LIGHT_VALUES = LIGHT_NAMES.map((l) => [l, l] as const);
const CONE_LABELS = { bradford: 'Bradford', cat16: 'CAT16' } as const;

function Relight({ state: { tuning, set } }: { state: TuneState }) {
  const { from = 'D65', to = 'D65', cones = 'cat16' } = tuning.relight ?? {};
  const put = (part: { from?: string; to?: string; cones?: string }) =>
    set({ relight: { from, to, cones, ...part } as NonNullable<typeof tuning.relight> });
  return (
    <div className={css.lights}>
      <Choose label="from" value={from} values={LIGHT_VALUES} onChange={(v) => put({ from: v as Light })} />
      <Choose label="to" value={to} values={LIGHT_VALUES} onChange={(v) => put({ to: v as Light })} />
      <Choose
        label="by"
        value={cones}
        values={(Object.keys(CONES) as (keyof typeof CONES)[]).map((id) => [id, CONE_LABELS[id]] as const)}
        onChange={(v) => put({ cones: v })}
      />
      <p className="caption">As they are seen when another light falls on them. A is a lamp, D65 daylight.</p>
    </div>
  );
}

function Match({ state: { tuning, set } }: { state: TuneState }) {
  const stores = useStores();
  const { store } = useLibrary();
  const condition = useCondition();
  const [id, setId] = useState('');
  const percent = tuning.match?.percent ?? 50;
  const { value, problem } = useAsked(
    id ? async () => (await stores.library(id).whole()).library : null,
    [id, stores],
    { fresh: true },
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each library that has come
  useEffect(() => {
    if (!value) return;
    const colors = allSwatches(value)
      .filter(isTunable)
      .map((s) => s.color);
    if (colors.length > 0) set({ match: { spread: spreadOf(colors, condition), percent } });
  }, [value, condition]);
  return (
    <>
      <LibraryChoice without={store.id} value={id} onChange={setId} />
      {problem && (
        <p className="caption" role="alert">
          {problem}
        </p>
      )}
      <Track
        label="Share"
        unit="%"
        value={percent}
        min={0}
        max={100}
        step={1}
        decimals={0}
        onChange={(v) => tuning.match && set({ match: { ...tuning.match, percent: v } })}
      />
      <p className="caption">Takes on the mean and the spread of that library’s colours.</p>
    </>
  );
}

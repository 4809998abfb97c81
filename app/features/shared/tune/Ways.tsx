import { useMemo, useState } from 'react';
import { convert, oklabToLab, oklchToOklab, parseColor, spaces, toHex, typedColor } from '#core/color/index';
import { fitted } from '#core/harmony/family';
import { circleById, DISPLAY_P3, SRGB } from '#core/harmony/index';
import type { Swatch } from '#core/swatch/index';
import { CONES, EVEN, type Even, LIGHT_NAMES, type Light } from '#core/tune/index';
import { placeInSlice, SliceChart } from '~/features/shared/slice/SliceChart';
import slice from '~/features/shared/slice/SliceChart.module.css';
import { CommitField } from '~/ui/commit-field';
import { useCondition } from '~/ui/condition';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { Track } from './Track';
import css from './Tune.module.css';
import type { TuneState } from './use-tune';

// Each way of tuning, with what sets it.

const STOPS = [0, 1, 2, 3, 4, 5, 6, 7, 8];

/** More marks than this hide each other. */
const MAX_MARKS = 60;

export function Shift({ state: { tuning, set, tuned, gamut, press } }: { state: TuneState }) {
  const condition = useCondition();
  const { lightness = 0, chroma = 1, hue = 0, warmth = 0 } = tuning;
  const [first] = tuned;
  const own = first?.swatch.color;
  const [L, C, h] = useMemo(
    () => (own ? convert(own, 'oklch', condition).components : [0.5, 0.1, 0]) as [number, number, number],
    [own, condition],
  );
  const marks = useMemo(
    () =>
      tuned.slice(0, MAX_MARKS).map((t) => ({
        id: t.swatch.id,
        from: convert(t.swatch.color, 'oklch', condition).components,
        to: t.lch,
      })),
    [tuned, condition],
  );
  const edges = useMemo(() => [...(press ? [press] : []), SRGB, DISPLAY_P3], [press]);
  const hexAt = (lch: [number, number, number]) =>
    toHex(
      {
        space: 'lab',
        components: oklabToLab(oklchToOklab(fitted(lch, circleById('perceptual'), gamut).lch)),
      },
      condition,
    );
  const way = (of: (part: number) => [number, number, number]) => STOPS.map((i) => hexAt(of(i / 8)));
  const [l, c, t] = [L + lightness / 100, C * chroma, h + hue];
  const place = first?.lch[2] ?? h;
  return (
    <>
      <SliceChart
        circle={circleById('perceptual')}
        place={place}
        screen="rgb"
        edges={edges}
        onPut={(toL, toC) =>
          set({
            lightness: Math.round((toL - L) * 1000) / 10,
            // what has no chroma has none to multiply
            ...(C > 1e-4 ? { chroma: Math.min(MAX_CHROMA, Math.round((toC / C) * 1000) / 1000) } : {}),
          })
        }
      >
        {marks.map((m) => (
          <span key={m.id} className={css.from} style={placeInSlice(m.from)} />
        ))}
        {marks.map((m, i) => (
          <i key={m.id} data-small={i > 0} style={placeInSlice(m.to)} />
        ))}
      </SliceChart>
      <p className={`caption ${slice.ends}`} aria-hidden>
        <span className="mono">{Math.round(place)}°</span>
        <span>{press ? 'line: the press · dashes: sRGB, P3' : 'line: sRGB · dashes: P3'}</span>
      </p>
      <Track
        label="Lightness"
        value={lightness}
        min={-50}
        max={50}
        decimals={1}
        colors={way((p) => [Math.min(1, Math.max(0, L - 0.5 + p)), c, t])}
        onChange={(v) => set({ lightness: v })}
      />
      <Track
        label="Chroma"
        unit="times"
        value={chroma}
        min={0}
        max={MAX_CHROMA}
        one={0.01}
        decimals={3}
        colors={way((p) => [l, C * MAX_CHROMA * p, t])}
        onChange={(v) => set({ chroma: v })}
      />
      <Track
        label="Hue"
        unit="°"
        value={hue}
        min={-180}
        max={180}
        decimals={1}
        colors={way((p) => [l, c, h - 180 + 360 * p])}
        onChange={(v) => set({ hue: v })}
      />
      <div className={css.quick}>
        {(
          [
            ['Lighter', { lightness: Math.min(50, lightness + 2) }],
            ['Darker', { lightness: Math.max(-50, lightness - 2) }],
            ['Warmer', { warmth: Math.min(50, warmth + 1) }],
            ['Cooler', { warmth: Math.max(-50, warmth - 1) }],
            ['Calmer', { chroma: chroma * 0.9 }],
            ['Stronger', { chroma: Math.min(MAX_CHROMA, chroma * 1.1) }],
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

/** The most that chroma is multiplied by. */
const MAX_CHROMA = 2;

/** The spaces that values can be set in. */
const SPACES = ['rgb', 'cmyk', 'hsb', 'lab', 'oklch'] as const;

/** The numbers of one swatch, each with the colours it leads to; in its own space, unless another is chosen. */
export function Values({ state: { tuning, set }, swatch }: { state: TuneState; swatch: Swatch }) {
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
          one={decimals > 2 ? 0.01 : 1}
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

export function Blend({ state: { tuning, set } }: { state: TuneState }) {
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
        decimals={0}
        onChange={(percent) => set({ blend: { ...blend, percent } })}
      />
    </>
  );
}

const EVEN_LABELS: Record<Even, string> = { lightness: 'Lightness', chroma: 'Chroma', hue: 'Hue' };

export function Equalise({ state: { tuning, set } }: { state: TuneState }) {
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

export function Relight({ state: { tuning, set } }: { state: TuneState }) {
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

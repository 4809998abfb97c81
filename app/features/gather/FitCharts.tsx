import { memo, useEffect, useMemo, useState } from 'react';
import {
  Bar,
  BarChart,
  type BarShapeProps,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from 'recharts';
import { toHex } from '#core/color/index';
import type { Distribution, Fit, PaletteColor } from '#core/picture/index';

const VIEWS = ['coverage', 'lightness', 'chroma'] as const;

/** More bars than this are too thin to tell apart. */
const MOST_BARS = 40;
const SETTLED_MS = 200;

/** The value once it has not changed for a moment, so that charts are not drawn anew under a dragging hand. */
function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}

/** What the palette covers, and what it misses of the picture's lightness and chroma. */
export function FitCharts({ fit, colors }: { fit: Fit | null; colors: PaletteColor[] }) {
  const now = useMemo(() => ({ fit, colors }), [fit, colors]);
  const settled = useSettled(now);
  const [view, setView] = useState<(typeof VIEWS)[number]>('coverage');
  if (!fit || !settled.fit) return null;
  return (
    <section aria-label="What the palette covers" className="fit">
      <p style={{ margin: '0 0 8px' }} role="status">
        <span style={{ textTransform: 'capitalize' }}>{fit.word}.</span>{' '}
        <span className="second">
          ΔE00 {fit.mean.toFixed(1)} on average, 95 % under {fit.p95.toFixed(1)}
        </span>
      </p>
      <div className="choices">
        {VIEWS.map((v) => (
          <button key={v} type="button" className="tab" aria-pressed={view === v} onClick={() => setView(v)}>
            {v}
          </button>
        ))}
      </div>
      <div style={{ height: 76 }}>
        {view === 'coverage' ? (
          <Coverage colors={settled.colors} />
        ) : (
          <Against distribution={settled.fit[view]} unit={view === 'lightness' ? 'L*' : 'C*'} />
        )}
      </div>
      <p className="caption" style={{ margin: '2px 0 0' }}>
        {view !== 'coverage'
          ? 'Above the line the picture, below it the picture drawn with the palette.'
          : colors.length > MOST_BARS
            ? `Part of the picture nearest to each of the ${MOST_BARS} largest colours.`
            : 'Part of the picture that is nearest to each colour.'}
      </p>
    </section>
  );
}

/** A bar in its own colour; the library's own shape costs many times as much. */
const drawBar = ({ x, y, width, height, fill }: BarShapeProps) => (
  <rect x={x} y={y} width={width} height={height} fill={fill} stroke="var(--line)" strokeWidth={0.5} />
);

const Coverage = memo(function Coverage({ colors }: { colors: PaletteColor[] }) {
  const bars =
    colors.length > MOST_BARS ? [...colors].sort((a, b) => b.share - a.share).slice(0, MOST_BARS) : colors;
  return (
    <ResponsiveContainer>
      <BarChart
        data={bars.map((c) => ({ share: c.share * 100, fill: toHex(c.color) }))}
        margin={{ top: 4, right: 0, bottom: 0, left: 0 }}
        barCategoryGap={1}
      >
        <YAxis width={42} tick={TICK} tickFormatter={(v) => `${v} %`} tickCount={3} stroke="var(--line)" />
        <Bar dataKey="share" isAnimationActive={false} shape={drawBar} />
      </BarChart>
    </ResponsiveContainer>
  );
});

const TICK = { fontSize: 10, fill: 'var(--second-ink)', fontFamily: 'Spline Sans Mono' };

/** Picture above, palette below, so that a gap in one shows against the other. */
const Against = memo(function Against({
  distribution: { step, picture, palette },
  unit,
}: {
  distribution: Distribution;
  unit: string;
}) {
  const data = picture.map((p, i) => ({ at: i * step, picture: p * 100, palette: -palette[i] * 100 }));
  return (
    <ResponsiveContainer>
      <BarChart
        data={data}
        stackOffset="sign"
        margin={{ top: 4, right: 0, bottom: 0, left: 0 }}
        barCategoryGap={1}
      >
        <YAxis
          width={42}
          tick={TICK}
          tickFormatter={(v) => `${Math.abs(v)} %`}
          tickCount={3}
          stroke="var(--line)"
        />
        <XAxis
          dataKey="at"
          tick={TICK}
          height={16}
          interval={4}
          stroke="var(--line)"
          tickFormatter={(v) => (v === 0 ? unit : v)}
        />
        <Bar dataKey="picture" stackId="one" fill="var(--ink)" isAnimationActive={false} />
        <Bar
          dataKey="palette"
          stackId="one"
          fill="var(--second-ink)"
          fillOpacity={0.55}
          isAnimationActive={false}
        />
        <ReferenceLine y={0} stroke="var(--line)" />
      </BarChart>
    </ResponsiveContainer>
  );
});

import { memo } from 'react';
import {
  Bar,
  BarChart,
  type BarShapeProps,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from 'recharts';
import { screenOnly, toHex } from '#core/color/index';
import type { Distribution, PaletteColor } from '#core/picture/index';
import { UnseenTable } from '~/ui/unseen-table';
import { MAX_BARS } from './max-bars';

/** A bar in its own colour; the library's own shape costs many times as much. */
const drawBar = ({ x, y, width, height, fill }: BarShapeProps) => (
  <rect x={x} y={y} width={width} height={height} fill={fill} stroke="var(--line)" strokeWidth={0.5} />
);

export const Coverage = memo(function Coverage({ colors }: { colors: PaletteColor[] }) {
  const bars =
    colors.length > MAX_BARS ? [...colors].sort((a, b) => b.share - a.share).slice(0, MAX_BARS) : colors;
  return (
    <>
      <UnseenTable
        caption="Coverage by colour"
        head={['Colour', 'Share %']}
        rows={bars.map((c) => [toHex(c.color, screenOnly).toUpperCase(), (c.share * 100).toFixed(1)])}
      />
      <ResponsiveContainer>
        <BarChart
          data={bars.map((c) => ({ share: c.share * 100, fill: toHex(c.color, screenOnly) }))}
          margin={{ top: 4, right: 0, bottom: 0, left: 0 }}
          barCategoryGap={1}
        >
          <YAxis width={42} tick={TICK} tickFormatter={(v) => `${v} %`} tickCount={3} stroke="var(--line)" />
          <Bar dataKey="share" isAnimationActive={false} shape={drawBar} />
        </BarChart>
      </ResponsiveContainer>
    </>
  );
});

const TICK = { fontSize: 10, fill: 'var(--second-ink)', fontFamily: 'Spline Sans Mono' };

/** Picture above, palette below, so that a gap in one shows against the other. */
export const Against = memo(function Against({
  distribution: { step, picture, palette },
  unit,
}: {
  distribution: Distribution;
  unit: string;
}) {
  const data = picture.map((p, i) => ({ at: i * step, picture: p * 100, palette: -palette[i] * 100 }));
  return (
    <>
      <UnseenTable
        caption="Picture and palette"
        head={[unit, 'Picture %', 'Palette %']}
        rows={data.map((d) => [Math.round(d.at), d.picture.toFixed(1), (-d.palette).toFixed(1)])}
      />
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
    </>
  );
});

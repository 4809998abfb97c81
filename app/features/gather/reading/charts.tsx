import { memo } from 'react';
import { Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { StepFigures } from '#core/reading/figures';
import { UnseenTable } from '~/ui/unseen-table';

const axis = {
  stroke: 'var(--line)',
  tick: { fill: 'var(--second-ink)', fontSize: 11 },
  tickLine: false,
} as const;

/** What every step reflects: the solid heavy, what lies over black dashed. */
export const Reflectances = memo(function Reflectances({ steps }: { steps: readonly StepFigures[] }) {
  const [first] = steps;
  if (!first) return null;
  const { start, step, values } = first.step.spectrum;
  // over black the solid says enough
  const own = steps.filter(
    ({ step: s }) =>
      s.spectrum.start === start && s.spectrum.step === step && (s.backing === 'white' || s.percent === 100),
  );
  const most = Math.max(1, ...own.flatMap((s) => s.step.spectrum.values));
  const data = values.map((_, i) => ({
    nm: start + i * step,
    ...Object.fromEntries(own.map((s, k) => [`s${k}`, s.step.spectrum.values[i]])),
  }));
  const label = ({ step: s }: StepFigures) => `${Number(s.percent.toFixed(1))} % over ${s.backing}`;
  return (
    <>
      <UnseenTable
        caption="Reflectance by wavelength, %"
        head={['nm', ...own.map(label)]}
        rows={data.map((d, i) => [
          d.nm,
          ...own.map((s) => ((s.step.spectrum.values[i] ?? 0) * 100).toFixed(1)),
        ])}
      />
      <ResponsiveContainer>
        <LineChart data={data} margin={{ top: 4, right: 8, bottom: 0, left: 0 }}>
          <XAxis
            dataKey="nm"
            type="number"
            domain={['dataMin', 'dataMax']}
            {...axis}
            unit=" nm"
            ticks={[400, 500, 600, 700].filter(
              (nm) => nm >= start && nm <= start + step * (values.length - 1),
            )}
          />
          <YAxis domain={[0, most]} hide />
          {[0.25, 0.5, 0.75, 1].map((y) => (
            <ReferenceLine key={y} y={y} stroke="var(--soft-line)" />
          ))}
          {own.map(({ step: s }, k) => (
            <Line
              key={`${s.percent} ${s.backing}`}
              dataKey={`s${k}`}
              stroke={s.percent === 100 ? 'var(--ink)' : 'var(--second-ink)'}
              strokeWidth={s.percent === 100 && s.backing === 'white' ? 2.5 : 1}
              {...(s.backing === 'black' ? { strokeDasharray: '4 3' } : {})}
              dot={false}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </>
  );
});

/** Tone value on the sheet against that in the file; the straight line is what the plate says. */
export const ToneValues = memo(function ToneValues({ steps }: { steps: readonly StepFigures[] }) {
  const data = steps
    .filter((s) => s.step.backing === 'white' && s.toneValue !== null)
    .map((s) => ({ percent: s.step.percent, tone: s.toneValue! }));
  if (data.length < 2) return null;
  return (
    <>
      <UnseenTable
        caption="Spot colour tone value"
        head={['In the file, %', 'On the sheet, %']}
        rows={data.map((d) => [Number(d.percent.toFixed(1)), d.tone.toFixed(1)])}
      />
      <ResponsiveContainer>
        <LineChart data={data} margin={{ top: 4, right: 8, bottom: 0, left: 0 }}>
          <XAxis dataKey="percent" type="number" domain={[0, 100]} {...axis} ticks={[0, 25, 50, 75, 100]} />
          <YAxis domain={[0, 100]} hide />
          <ReferenceLine
            segment={[
              { x: 0, y: 0 },
              { x: 100, y: 100 },
            ]}
            stroke="var(--line)"
            strokeDasharray="2 3"
          />
          <Line
            dataKey="tone"
            stroke="var(--ink)"
            strokeWidth={2}
            dot={{ r: 3, fill: 'var(--ink)', strokeWidth: 0 }}
            isAnimationActive={false}
          />
        </LineChart>
      </ResponsiveContainer>
    </>
  );
});

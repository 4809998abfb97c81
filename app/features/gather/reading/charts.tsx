import { memo } from 'react';
import { Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { Batch } from '#core/reading/compare';
import type { StepFigures } from '#core/reading/figures';
import type { Step } from '#core/reading/model';
import { UnseenTable } from '~/ui/unseen-table';

const axis = {
  stroke: 'var(--line)',
  tick: { fill: 'var(--second-ink)', fontSize: 11 },
  tickLine: false,
} as const;

/** What every step reflects: the solid heavy, what lies over black dashed, another measurement dotted. */
export const Reflectances = memo(function Reflectances({
  steps,
  others = NO_STEPS,
}: {
  steps: readonly Step[];
  others?: readonly Step[];
}) {
  // over black the solid says enough
  const isShown = (s: Step) => s.backing === 'white' || s.percent === 100;
  const own = [
    ...steps.filter(isShown).map((step) => ({ step, other: false })),
    ...others.filter(isShown).map((step) => ({ step, other: true })),
  ];
  if (own.length === 0) return null;
  const most = Math.max(1, ...own.flatMap((s) => s.step.spectrum.values));
  const bands = new Map<number, Record<string, number>>();
  own.forEach(({ step: { spectrum } }, k) => {
    spectrum.values.forEach((v, i) => {
      const nm = spectrum.start + i * spectrum.step;
      const row = bands.get(nm) ?? { nm };
      row[`s${k}`] = v;
      bands.set(nm, row);
    });
  });
  const data = [...bands.values()].sort((a, b) => a.nm! - b.nm!);
  const [first, last] = [data[0]!.nm!, data.at(-1)!.nm!];
  const label = ({ step: s, other }: (typeof own)[number]) =>
    `${Number(s.percent.toFixed(1))} % over ${s.backing}${other ? ', the other' : ''}`;
  return (
    <>
      <UnseenTable
        caption="Reflectance by wavelength, %"
        head={['nm', ...own.map(label)]}
        rows={data.map((d) => [
          d.nm!,
          ...own.map((_, k) => (d[`s${k}`] === undefined ? '–' : (d[`s${k}`]! * 100).toFixed(1))),
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
            ticks={[400, 500, 600, 700].filter((nm) => nm >= first && nm <= last)}
          />
          <YAxis domain={[0, most]} hide />
          {[0.25, 0.5, 0.75, 1].map((y) => (
            <ReferenceLine key={y} y={y} stroke="var(--soft-line)" />
          ))}
          {own.map(({ step: s, other }, k) => (
            <Line
              key={`${s.percent} ${s.backing} ${other}`}
              dataKey={`s${k}`}
              stroke={s.percent === 100 ? 'var(--ink)' : 'var(--second-ink)'}
              strokeWidth={s.percent === 100 && s.backing === 'white' && !other ? 2.5 : 1}
              {...(other
                ? { strokeDasharray: '1 3' }
                : s.backing === 'black'
                  ? { strokeDasharray: '4 3' }
                  : {})}
              connectNulls
              dot={false}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </>
  );
});
const NO_STEPS: readonly Step[] = [];

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

/** How far each batch is from the first, with the line it must not cross. */
export const Batches = memo(function Batches({
  batches,
  limit,
}: {
  batches: readonly (Batch & { name: string })[];
  limit: number;
}) {
  const most = Math.max(limit * 1.4, ...batches.map((b) => b.difference * 1.1));
  return (
    <>
      <UnseenTable
        caption="Batches"
        head={['Batch', 'Difference from the first', 'Within its tolerance', 'Tone value at 50 %']}
        rows={batches.map((b) => [
          b.name,
          b.difference.toFixed(2),
          b.isWithin ? 'yes' : 'no',
          b.toneShift === null ? '–' : b.toneShift.toFixed(1),
        ])}
      />
      <ResponsiveContainer>
        <LineChart data={[...batches]} margin={{ top: 4, right: 8, bottom: 0, left: 8 }}>
          <XAxis dataKey="name" {...axis} interval="preserveStartEnd" />
          <YAxis domain={[0, most]} hide />
          <ReferenceLine
            y={limit}
            stroke="var(--ink)"
            strokeDasharray="4 3"
            label={{
              value: `limit ${limit}`,
              position: 'insideBottomLeft',
              fill: 'var(--ink)',
              fontSize: 11,
            }}
          />
          <Line
            dataKey="difference"
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

import { memo } from 'react';
import { Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { Spectrum } from '#core/swatch/index';
import { UnseenTable } from '~/ui/unseen-table';

/** What an ink reflects, the curve of the other paper dashed. */
export const Reflectance = memo(function Reflectance({
  here,
  there,
}: {
  here: Spectrum;
  there: Spectrum | null;
}) {
  const data = here.values.map((value, i) => {
    const nm = here.start + i * here.step;
    const at = there ? Math.round((nm - there.start) / there.step) : -1;
    return { nm, here: value, there: there?.values[at] };
  });
  return (
    <>
      <UnseenTable
        caption="Reflectance by wavelength"
        head={['nm', 'Here %', ...(there ? ['On the other paper %'] : [])]}
        rows={data.map((d) => [
          d.nm,
          (d.here * 100).toFixed(1),
          ...(there ? [d.there === undefined ? '' : (d.there * 100).toFixed(1)] : []),
        ])}
      />
      <ResponsiveContainer>
        <LineChart data={data} margin={{ top: 2, right: 0, bottom: 2, left: 0 }}>
          <XAxis dataKey="nm" type="number" domain={['dataMin', 'dataMax']} hide />
          <YAxis domain={[0, 1]} hide />
          {[0, 0.5].map((y) => (
            <ReferenceLine key={y} y={y} stroke="var(--line)" />
          ))}
          <Line dataKey="here" stroke="var(--ink)" strokeWidth={1.5} dot={false} isAnimationActive={false} />
          {there && (
            <Line
              dataKey="there"
              stroke="var(--ink)"
              strokeWidth={1}
              strokeDasharray="3 3"
              dot={false}
              isAnimationActive={false}
            />
          )}
        </LineChart>
      </ResponsiveContainer>
    </>
  );
});

import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import type { Fit, PaletteColor } from '#core/picture/index';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import css from './FitCharts.module.css';
import { MAX_BARS } from './max-bars';

// the charts' library is fetched when there is a chart to draw
const Coverage = lazy(() => import('./charts').then((m) => ({ default: m.Coverage })));
const Against = lazy(() => import('./charts').then((m) => ({ default: m.Against })));

const VIEWS = ['coverage', 'lightness', 'chroma'] as const;

const SETTLED_MS = 200;

/** The value once it has not changed for a moment, so that charts are not redrawn under a dragging hand. */
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
    <section aria-label="What the palette covers" className={css.fit}>
      <p className={css.said} role="status">
        <span className={css.word}>{fit.word}.</span>{' '}
        <span className="second">
          ΔE00 {fit.mean.toFixed(1)} on average, 95 % under {fit.p95.toFixed(1)}
        </span>
      </p>
      <Choices aria-label="Chart">
        {VIEWS.map((v) => (
          <PlainButton look="tab" key={v} aria-pressed={view === v} onClick={() => setView(v)}>
            {v}
          </PlainButton>
        ))}
      </Choices>
      <div className={css.chart}>
        <Suspense>
          {view === 'coverage' ? (
            <Coverage colors={settled.colors} />
          ) : (
            <Against distribution={settled.fit[view]} unit={view === 'lightness' ? 'L*' : 'C*'} />
          )}
        </Suspense>
      </div>
      <p className={`caption ${css.note}`}>
        {view !== 'coverage'
          ? 'Above the line the picture, below it the picture drawn with the palette.'
          : colors.length > MAX_BARS
            ? `Part of the picture nearest to each of the ${MAX_BARS} largest colours.`
            : 'Part of the picture that is nearest to each colour.'}
      </p>
    </section>
  );
}

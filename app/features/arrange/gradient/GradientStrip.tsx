import { useMemo } from 'react';
import { paintGradient } from '#core/gradient/index';
import { type Gradient, resolvedStops } from '#core/swatch/gradient';
import type { LibraryRows } from '#core/swatch/index';
import { useCondition } from '~/ui/condition';
import { usePainting, useSize } from '~/ui/painting';
import css from './GradientStrip.module.css';

/** Each row of pixels as it will be: 8 bits to a channel, with a chequer where it lets through. */
export function GradientStrip({
  gradient,
  rows,
  height,
}: {
  gradient: Pick<Gradient, 'data' | 'refs'>;
  /** Where its swatches are, or what they would be. */
  rows: Pick<LibraryRows, 'library' | 'find'>;
  height: number;
}) {
  const condition = useCondition();
  const { library } = rows;
  const stops = useMemo(
    // the library is another after each change
    () => library && resolvedStops(gradient, (id) => rows.find(id)?.swatch),
    [gradient, rows, library],
  );
  const [measure, size] = useSize();
  const paint = useMemo(
    () =>
      ({ pixels, width, height }: { pixels: Uint8ClampedArray; width: number; height: number }) => {
        const row = paintGradient(gradient.data, stops, condition, width);
        for (let y = 0; y < height; y++) pixels.set(row, y * width * 4);
      },
    [gradient.data, stops, condition],
  );
  const canvas = usePainting(size, 'rgb', paint);
  return (
    <span ref={measure} className={css.strip} style={{ height }} aria-hidden>
      <canvas ref={canvas} width={size.width} height={size.height} />
    </span>
  );
}

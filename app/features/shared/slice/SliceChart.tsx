import { type ReactNode, useMemo } from 'react';
import { type Circle, edgeOf, type Gamut, paintSlice, type Screen } from '#core/harmony/index';
import { usePainting, useSize } from '~/ui/painting';
import css from './SliceChart.module.css';

/** The most chroma that is shown, OKLCh: a little more than any color of sRGB has. */
export const MAX_SLICE_CHROMA = 0.34;

/** Where a color of OKLCh stands in the chart, as a style. */
export const placeInSlice = ([L, C]: readonly number[]) => ({
  left: `${Math.min(100, (C! / MAX_SLICE_CHROMA) * 100)}%`,
  top: `${(1 - L!) * 100}%`,
});

/** Chroma against lightness at one hue, with the edges of gamuts; a press says a place. */
export function SliceChart({
  circle,
  place,
  screen,
  edges,
  onPut,
  children,
}: {
  circle: Circle;
  /** On the circle, degrees. */
  place: number;
  /** What is painted: all that such a screen shows. */
  screen: Screen;
  edges: readonly Gamut[];
  onPut?(L: number, C: number): void;
  /** Marks, placed by `placeInSlice`. */
  children: ReactNode;
}) {
  const [measure, size] = useSize();
  const near = Math.round(place * 2) / 2;
  const paint = useMemo(
    () => (painting: { pixels: Uint8ClampedArray; width: number; height: number }) =>
      paintSlice(painting, circle, near, MAX_SLICE_CHROMA, screen),
    [circle, near, screen],
  );
  const canvas = usePainting(size, screen, paint);
  const lines = useMemo(
    () =>
      edges.map((gamut) => ({
        id: gamut.id,
        points: edgeOf(circle, near, MAX_SLICE_CHROMA, gamut, 40)
          .map(([L, part]) => `${(part * size.width).toFixed(1)},${((1 - L) * size.height).toFixed(1)}`)
          .join(' '),
      })),
    [edges, circle, near, size],
  );
  const put = (event: React.PointerEvent) => {
    if (!onPut || event.buttons !== 1 || size.width === 0) return;
    const box = event.currentTarget.getBoundingClientRect();
    const L = Math.min(1, Math.max(0, 1 - (event.clientY - box.top) / box.height));
    onPut(L, Math.max(0, ((event.clientX - box.left) / box.width) * MAX_SLICE_CHROMA));
  };
  return (
    <div
      ref={measure}
      className={css.slice}
      aria-hidden
      onPointerDown={(e) => {
        if (onPut) e.currentTarget.setPointerCapture(e.pointerId);
        put(e);
      }}
      onPointerMove={put}
    >
      <canvas ref={canvas} width={size.width} height={size.height} />
      <svg width={size.width} height={size.height} aria-hidden>
        {lines.map(({ id, points }, i) => (
          <polyline key={id} points={points} strokeDasharray={i > 0 ? `${2 + 2 * i} 3` : undefined} />
        ))}
      </svg>
      {children}
    </div>
  );
}

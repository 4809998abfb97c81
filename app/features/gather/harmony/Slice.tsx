import { useMemo } from 'react';
import {
  circleById,
  edgeOf,
  type Gamut,
  type Placed,
  paintSlice,
  type Screen,
  SRGB,
} from '#core/harmony/index';
import { usePainting, useSize } from '~/ui/painting';
import css from './Slice.module.css';
import type { Family } from './use-family';

/** The most chroma that is shown, OKLCh: a little more than any color of sRGB has. */
const MAX_CHROMA = 0.34;

/** Chroma against lightness at the hue of the member that is looked at; a press puts it there. */
export function Slice({
  family,
  chosen,
  onMove,
}: {
  family: Family;
  chosen: string;
  onMove(to: Placed): void;
}) {
  const { take, members, press } = family;
  const member = members.find((m) => m.key === chosen) ?? members[0]!;
  const circle = circleById(take.asked.circle);
  const screen: Screen = take.inside === 'p3' ? 'p3' : 'rgb';
  const place = Math.round(member.place * 2) / 2;
  const [measure, size] = useSize();
  const paint = useMemo(
    () => (painting: { pixels: Uint8ClampedArray; width: number; height: number }) =>
      paintSlice(painting, circle, place, MAX_CHROMA, screen),
    [circle, place, screen],
  );
  const canvas = usePainting(size, screen, paint);
  const edge = (gamut: Gamut) =>
    edgeOf(circle, place, MAX_CHROMA, gamut, 40)
      .map(([L, part]) => `${(part * size.width).toFixed(1)},${((1 - L) * size.height).toFixed(1)}`)
      .join(' ');
  const put = (event: React.PointerEvent) => {
    if (event.buttons !== 1 || size.width === 0) return;
    const box = event.currentTarget.getBoundingClientRect();
    const L = Math.min(1, Math.max(0, 1 - (event.clientY - box.top) / box.height));
    const C = Math.max(0, ((event.clientX - box.left) / box.width) * MAX_CHROMA);
    onMove([L, C, member.place]);
  };
  return (
    <>
      <p className="caption">
        chroma against lightness, hue <span className="mono">{Math.round(member.place)}°</span>
      </p>
      <div
        ref={measure}
        className={css.slice}
        aria-hidden
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          put(e);
        }}
        onPointerMove={put}
      >
        <canvas ref={canvas} width={size.width} height={size.height} />
        <svg width={size.width} height={size.height} aria-hidden>
          {press && <polyline points={edge(press)} />}
        </svg>
        <i
          style={{
            left: `${Math.min(100, (member.lch[1] / MAX_CHROMA) * 100)}%`,
            top: `${(1 - member.lch[0]) * 100}%`,
          }}
        />
      </div>
      <p className={`caption ${css.ends}`} aria-hidden>
        <span>grey</span>
        <span>
          {press ? `line: ${press.name} · ` : ''}edge: {screen === 'p3' ? 'Display P3' : SRGB.name}
        </span>
      </p>
    </>
  );
}

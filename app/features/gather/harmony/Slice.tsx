import { useMemo } from 'react';
import { circleById, type Placed, type Screen, SRGB } from '#core/harmony/index';
import { placeInSlice, SliceChart } from '~/features/shared/slice/SliceChart';
import css from '~/features/shared/slice/SliceChart.module.css';
import type { Family } from './use-family';

/** Chroma against lightness at the hue of the member that is looked at; a press puts it there. */
export function Slice({
  family: { take, members, press },
  chosen,
  onMove,
}: {
  family: Family;
  chosen: string;
  onMove(to: Placed): void;
}) {
  const member = members.find((m) => m.key === chosen) ?? members[0]!;
  const screen: Screen = take.inside === 'p3' ? 'p3' : 'rgb';
  const edges = useMemo(() => (press ? [press] : []), [press]);
  return (
    <>
      <p className="caption">
        chroma against lightness, hue <span className="mono">{Math.round(member.place)}°</span>
      </p>
      <SliceChart
        circle={circleById(take.asked.circle)}
        place={member.place}
        screen={screen}
        edges={edges}
        onPut={(L, C) => onMove([L, C, member.place])}
      >
        <i style={placeInSlice(member.lch)} />
      </SliceChart>
      <p className={`caption ${css.ends}`} aria-hidden>
        <span>grey</span>
        <span>
          {press ? `line: ${press.name} · ` : ''}edge: {screen === 'p3' ? 'Display P3' : SRGB.name}
        </span>
      </p>
    </>
  );
}

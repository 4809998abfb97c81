import { memo, useMemo } from 'react';
import { toHex } from '#core/color/index';
import css from './Samples.module.css';
import { cloth, HEIGHT, interfaceSample, poster, type Shape, WIDTH } from './samples';
import type { Family } from './use-family';

const SAMPLES: [name: string, draw: (areas: readonly number[]) => Shape[]][] = [
  ['poster', poster],
  ['interface', interfaceSample],
  ['cloth', cloth],
];

/** The family at work, as much of each member as its area says. */
export function Samples({ family: { members, areas, condition } }: { family: Family }) {
  const key = areas.map((a) => a.toFixed(4)).join(' ');
  return (
    <div className={css.samples}>
      {SAMPLES.map(([name, draw]) => (
        <Sample
          key={name}
          name={name}
          draw={draw}
          areas={key}
          colors={members.map((m) => toHex(m.color, condition)).join(' ')}
        />
      ))}
    </div>
  );
}

/** Numbers and colors as text, so that a sample is redrawn only when they are others. */
const Sample = memo(function Sample({
  name,
  draw,
  areas,
  colors,
}: {
  name: string;
  draw(areas: readonly number[]): Shape[];
  areas: string;
  colors: string;
}) {
  const hexes = colors.split(' ');
  const shapes = useMemo(() => draw(areas.split(' ').map(Number)), [draw, areas]);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`The family as ${name === 'interface' ? 'an' : 'a'} ${name}`}
    >
      {shapes.map((shape, i) => (
        <path
          key={i}
          d={shape.path}
          fill={hexes[shape.member]}
          shapeRendering={name === 'cloth' ? 'crispEdges' : undefined}
        />
      ))}
    </svg>
  );
});

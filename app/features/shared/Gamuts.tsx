import { useMemo } from 'react';
import {
  type Color,
  type Condition,
  convert,
  deltaE00,
  inGamut,
  pressGamut,
  REACHED,
  shownLab,
  toHex,
  totalInk,
} from '#core/color/index';
import type { Swatch } from '#core/swatch/index';
import { useCondition } from '~/ui/condition';
import { PlainButton } from '~/ui/plain-button';
import { WingPair } from '~/ui/wing-pair';
import css from './Gamuts.module.css';

export interface Reach {
  name: string;
  inside: boolean;
  deltaE00: number;
  /** The nearest inside. */
  nearest: Color;
}

/** How far a color lies outside what two screens and the press can show, and the nearest there. */
export function reachesOf(color: Color, condition: Condition): Reach[] {
  const screens = (
    [
      ['sRGB', 'rgb'],
      ['Display P3', 'p3'],
    ] as const
  ).map(([name, space]): Reach => {
    const nearest = convert(color, space, condition);
    const inside = inGamut(color, space, condition);
    const far = inside ? 0 : deltaE00(shownLab(color, condition), shownLab(nearest, condition));
    return { name, inside, deltaE00: far, nearest };
  });
  // inks of the condition itself are what the press prints
  if (color.space === 'cmyk' && !color.profile)
    return [...screens, { name: condition.name, inside: true, deltaE00: 0, nearest: color }];
  const print = pressGamut(color, condition);
  const nearest: Color = {
    space: 'cmyk',
    components: print.inks.map((v) => Math.round(v * 1e4) / 1e4),
  };
  return [
    ...screens,
    { name: condition.name, inside: print.deltaE00 <= REACHED, deltaE00: print.deltaE00, nearest },
  ];
}

export function useReaches(color: Color): Reach[] {
  const condition = useCondition();
  return useMemo(() => reachesOf(color, condition), [color, condition]);
}

/** Gamuts of screens and press; one click takes the nearest inside. */
export function Gamuts({
  swatch,
  reaches,
  onTake,
}: {
  swatch: Swatch;
  reaches: Reach[];
  onTake(color: Color, name: string): void;
}) {
  const condition = useCondition();
  const { inkLimit } = condition.setting;
  const ink = totalInk(swatch.color, condition);
  const over = swatch.kind === 'process' && ink > inkLimit + 0.5;
  return (
    <section className={css.gamuts} aria-label="Gamut">
      <p className={css.line}>
        <span className="second">Total ink</span>
        <span className="mono">
          {Math.round(ink)} %{over && ` over ${inkLimit} %`}
        </span>
      </p>
      {over && (
        <p className="caption">
          More than this paper takes. Check › Total ink finds the same colour with more black.
        </p>
      )}
      {reaches.map((reach) =>
        reach.inside ? (
          <p key={reach.name} className={css.line}>
            <span className="second">{reach.name}</span>
            <span>inside</span>
          </p>
        ) : (
          <PlainButton
            key={reach.name}
            className={css.take}
            title={`Use the nearest inside ${reach.name}`}
            onClick={() => onTake(reach.nearest, reach.name)}
          >
            <span className="second">{reach.name}</span>
            <span className={css.pair}>
              <WingPair left={toHex(swatch.color, condition)} right={toHex(reach.nearest, condition)} />
            </span>
            <span>
              outside, ΔE00 <span className="mono">{reach.deltaE00.toFixed(1)}</span>
            </span>
          </PlainButton>
        ),
      )}
    </section>
  );
}

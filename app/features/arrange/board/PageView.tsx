import { memo } from 'react';
import {
  type BoardFont,
  type BoardPage,
  HAIRLINE,
  INKS,
  isRightToLeft,
  type Mark,
  MM_PER_POINT,
  workKey,
} from '#core/board/index';
import { type Color, type Condition, toHex } from '#core/color/index';
import { plainStops } from '#core/gradient/index';
import { type Library, resolvedStops, swatchIndex } from '#core/swatch/index';
import { useCondition } from '~/ui/condition';
import css from './BoardView.module.css';
import type { ShownWork } from './use-works';

/** As the fonts are called in the app. */
const FAMILIES_HERE: Record<BoardFont, string> = {
  regular: '"Hanken Grotesk Variable", sans-serif',
  semibold: '"Hanken Grotesk Variable", sans-serif',
  mono: '"Spline Sans Mono", monospace',
};

/** What a page is drawn with. */
export interface Drawn {
  ground: Color;
  library: Library;
  works: ReadonlyMap<string, ShownWork>;
  pictureUrl(id: string): string;
}

/** A page of a board, as it is laid out, in mm. */
export function PageView({
  page,
  drawn,
  label,
  chosen,
  onChoose,
}: {
  page: BoardPage;
  drawn: Drawn;
  label: string;
  chosen?: ReadonlySet<string>;
  onChoose?(of: string | null, event: React.MouseEvent): void;
}) {
  const condition = useCondition();
  const { width, height, marks } = page;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list beside it is for the keyboard
    <svg
      className={css.page}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={label}
      style={{ aspectRatio: `${width} / ${height}`, '--ratio': width / height } as React.CSSProperties}
      onClick={(e) =>
        onChoose?.((e.target as Element).closest('[data-of]')?.getAttribute('data-of') ?? null, e)
      }
    >
      <rect width={width} height={height} fill={toHex(drawn.ground, condition)} />
      {marks.map((mark, i) => (
        <Shape key={`${i} ${mark.is}`} mark={mark} drawn={drawn} condition={condition} n={i} />
      ))}
      {chosen && chosen.size > 0 && <Chosen marks={marks} chosen={chosen} />}
    </svg>
  );
}

const Shape = memo(
  function Shape({
    mark,
    drawn,
    condition,
    n,
  }: {
    mark: Mark;
    drawn: Drawn;
    condition: Condition;
    n: number;
  }) {
    const of = mark.of === undefined ? {} : { 'data-of': mark.of };
    if (mark.is === 'text') {
      const { text, font, size, ink, x, y, align } = mark;
      const backwards = isRightToLeft(text);
      return (
        <text
          {...of}
          {...{ x, y, fill: INKS[ink], fontFamily: FAMILIES_HERE[font], fontSize: size * MM_PER_POINT }}
          fontWeight={font === 'semibold' ? 600 : 400}
          textAnchor={(align === 'right') === backwards ? 'start' : 'end'}
          direction={backwards ? 'rtl' : 'ltr'}
        >
          {text}
        </text>
      );
    }
    const { x, y, width, height } = mark;
    const box = { x, y, width, height };
    switch (mark.is) {
      case 'area':
        return <rect {...of} {...box} fill={toHex(mark.swatch.color, condition)} />;
      case 'gradient': {
        const swatches = swatchIndex(drawn.library);
        const stops = plainStops(
          mark.gradient.data,
          resolvedStops(mark.gradient, (id) => swatches.get(id)?.swatch),
          condition,
        );
        return (
          <g {...of}>
            <defs>
              <linearGradient id={`board-gradient-${n}`}>
                {stops.map((s, i) => (
                  <stop
                    key={i}
                    offset={s.at}
                    stopColor={`rgb(${s.rgb.map((v) => Math.round(v * 255)).join(' ')})`}
                    stopOpacity={s.alpha}
                  />
                ))}
              </linearGradient>
            </defs>
            <rect {...box} fill={`url(#board-gradient-${n})`} />
          </g>
        );
      }
      case 'picture':
        return (
          <image
            {...of}
            {...box}
            href={drawn.pictureUrl(mark.picture)}
            preserveAspectRatio="xMidYMid slice"
          />
        );
      case 'work': {
        const work = drawn.works.get(workKey(mark.work, mark.colorway));
        return work ? (
          <image {...of} {...box} href={work.url} preserveAspectRatio="xMidYMid meet" />
        ) : (
          <rect
            {...of}
            {...box}
            fill="none"
            stroke={INKS.grey}
            strokeWidth={HAIRLINE}
            strokeDasharray="1 1"
          />
        );
      }
      case 'line':
        return height === 0 ? (
          <path d={`M${x} ${y}h${width}`} stroke={INKS[mark.ink]} strokeWidth={HAIRLINE} />
        ) : (
          <rect {...box} fill="none" stroke={INKS[mark.ink]} strokeWidth={HAIRLINE} />
        );
    }
  },
  (a, b) =>
    a.condition === b.condition &&
    (a.mark === b.mark || (sameMark(a.mark, b.mark) && a.mark.is !== 'gradient')) &&
    (a.mark.is !== 'work' || a.drawn.works === b.drawn.works) &&
    (a.mark.is !== 'gradient' || a.drawn.library === b.drawn.library),
);

/** Whether two marks are drawn alike: most stay while one is dragged. */
function sameMark(a: Mark, b: Mark): boolean {
  const other = new Map<string, unknown>(Object.entries(b));
  return Object.entries(a).every(([key, value]) => value === other.get(key)) && a.is === b.is;
}

/** A frame around all that belongs to what is chosen. */
function Chosen({ marks, chosen }: { marks: readonly Mark[]; chosen: ReadonlySet<string> }) {
  return marks.map((m, i) =>
    m.is !== 'text' && m.is !== 'line' && m.of !== undefined && chosen.has(m.of) ? (
      <g key={i} className={css.chosen}>
        <rect x={m.x - 0.9} y={m.y - 0.9} width={m.width + 1.8} height={m.height + 1.8} />
        <rect x={m.x - 0.5} y={m.y - 0.5} width={m.width + 1} height={m.height + 1} data-inner />
      </g>
    ) : null,
  );
}

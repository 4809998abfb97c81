import { type KeyboardEvent, type PointerEvent, useMemo, useRef } from 'react';
import { inkOn, toHex } from '#core/color/index';
import {
  around,
  type Circle,
  circleById,
  type Member,
  type Placed,
  paintRibbon,
  placedBases,
  type Reach,
  reachOn,
  type Screen,
} from '#core/harmony/index';
import { usePainting, useSize } from '~/ui/painting';
import css from './Ribbon.module.css';
import { type Family, memberName } from './use-family';

const SIDE = 28;

/** Hue from left to right, lightness upwards, at the base's chroma; the members are handles on it. */
export function Ribbon({
  family,
  chosen,
  onChoose,
  onMove,
  onDropped,
}: {
  family: Family;
  chosen: string;
  onChoose(key: string): void;
  /** @param begins the first of a drag, or a step by key */
  onMove(key: string, to: Placed): void;
  onDropped(event: React.DragEvent): void;
}) {
  const { take, members, press, condition } = family;
  const circle = circleById(take.asked.circle);
  const [base] = placedBases(take.asked, condition);
  const chroma = Math.max(0.004, Math.round(base![1] * 500) / 500);
  const screen: Screen = take.inside === 'p3' ? 'p3' : 'rgb';
  const [measure, size] = useSize();
  const paint = useMemo(
    () => (painting: { pixels: Uint8ClampedArray; width: number; height: number }) =>
      paintRibbon(painting, circle, chroma, screen),
    [circle, chroma, screen],
  );
  const canvas = usePainting(size, screen, paint);
  return (
    <section
      className={css.ribbon}
      aria-label="Hue and lightness"
      onDragOver={(e) => e.preventDefault()}
      onDrop={onDropped}
    >
      <div ref={measure} className={css.field}>
        <canvas ref={canvas} width={size.width} height={size.height} aria-hidden />
        <PressLine circle={circle} chroma={chroma} press={press} {...size} />
        <Ties members={members} {...size} />
        {members.map((member) => (
          <Handle
            key={member.key}
            member={member}
            name={memberName(member, take)}
            family={family}
            chosen={member.key === chosen}
            {...size}
            onChoose={onChoose}
            onMove={onMove}
          />
        ))}
      </div>
    </section>
  );
}

/** What the press reaches at this chroma, as a line within the ribbon. */
function PressLine({
  circle,
  chroma,
  press,
  width,
  height,
}: {
  circle: Circle;
  chroma: number;
  press: Family['press'];
  width: number;
  height: number;
}) {
  const steps = 120;
  const reaches = useMemo(
    () => (press ? reachOn(circle, chroma, press, steps) : []),
    [circle, chroma, press],
  );
  if (!press) return null;
  const x = (i: number) => (i * width).toFixed(1);
  const line = ({ from, edges }: Reach, side: 0 | 1) =>
    edges.map((e, i) => `${x(from + i / steps)},${((1 - e[side]) * height).toFixed(1)}`);
  return (
    <svg className={css.lines} width={width} height={height} aria-hidden>
      {reaches.map((r) => {
        const whole = r.from === 0 && r.edges.length === steps + 1;
        // a stretch that ends is closed at both ends
        const points = [...line(r, 1), ...line(r, 0).reverse()];
        return whole ? (
          <g key={r.from}>
            <polyline points={line(r, 1).join(' ')} />
            <polyline points={line(r, 0).join(' ')} />
          </g>
        ) : (
          <polygon key={r.from} points={points.join(' ')} />
        );
      })}
    </svg>
  );
}

const at = (member: Member, width: number, height: number) => ({
  x: (member.place / 360) * width,
  y: (1 - member.lch[0]) * height,
});

/** Hairlines from each base to what is tied to it, the shorter way around. */
function Ties({ members, width, height }: { members: readonly Member[]; width: number; height: number }) {
  const lines = members.flatMap((member) => {
    const base = members.find((m) => m.isBase && m.base === member.base);
    if (!base || base === member) return [];
    const from = at(base, width, height);
    const to = at(member, width, height);
    const over = Math.abs(to.x - from.x) > width / 2;
    if (!over) return [{ key: member.key, from, to }];
    const shift = to.x > from.x ? -width : width;
    return [
      { key: `${member.key} a`, from, to: { x: to.x + shift, y: to.y } },
      { key: `${member.key} b`, from: { x: from.x - shift, y: from.y }, to },
    ];
  });
  return (
    <svg className={css.ties} width={width} height={height} aria-hidden>
      {lines.map(({ key, from, to }) => (
        <g key={key}>
          <line className={css.under} x1={from.x} y1={from.y} x2={to.x} y2={to.y} />
          <line x1={from.x} y1={from.y} x2={to.x} y2={to.y} />
        </g>
      ))}
    </svg>
  );
}

function Handle({
  member,
  name,
  family,
  chosen,
  width,
  height,
  onChoose,
  onMove,
}: {
  member: Member;
  name: string;
  family: Family;
  chosen: boolean;
  width: number;
  height: number;
  onChoose(key: string): void;
  onMove(key: string, to: Placed): void;
}) {
  const grip = useRef<{ dx: number; dy: number; left: number; top: number } | null>(null);
  const { x, y } = at(member, width, height);
  const wanted = (): Placed => [
    member.lch[0] - member.lightened,
    member.lch[1] + member.gaveUp,
    member.place,
  ];
  const down = (event: PointerEvent<HTMLButtonElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const field = event.currentTarget.parentElement!.getBoundingClientRect();
    grip.current = {
      dx: event.clientX - field.left - x,
      dy: event.clientY - field.top - y,
      left: field.left,
      top: field.top,
    };
    onChoose(member.key);
  };
  const drag = (event: PointerEvent<HTMLButtonElement>) => {
    const held = grip.current;
    if (!held || width === 0) return;
    const place = around(((event.clientX - held.left - held.dx) / width) * 360);
    const L = Math.min(1, Math.max(0, 1 - (event.clientY - held.top - held.dy) / height));
    onMove(member.key, [L, wanted()[1], place]);
  };
  const let_ = () => {
    grip.current = null;
  };
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [1, 0], ArrowDown: [-1, 0] }[event.key];
    if (!by || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    const fine = event.shiftKey ? 0.1 : 1;
    const [L, C, place] = wanted();
    onMove(member.key, [
      Math.min(1, Math.max(0, L + by[0]! * 0.01 * fine)),
      C,
      around(place + by[1]! * 2 * fine),
    ]);
  };
  const hex = toHex(member.color, family.condition);
  return (
    <button
      type="button"
      className={css.handle}
      data-base={member.isBase}
      data-chosen={chosen}
      data-key={member.key}
      aria-label={`${name}: hue ${Math.round(member.place)}°, lightness ${member.lch[0].toFixed(2)}${member.held ? ', held' : ''}`}
      aria-pressed={chosen}
      title={`${name} · ${hex}`}
      style={{
        left: x,
        top: Math.min(height - SIDE / 2, Math.max(SIDE / 2, y)),
        background: hex,
        color: inkOn(member.color, family.condition),
      }}
      onPointerDown={down}
      onPointerMove={drag}
      onPointerUp={let_}
      onPointerCancel={let_}
      onFocus={() => onChoose(member.key)}
      onKeyDown={key}
    >
      {member.held && <span className={css.held} aria-hidden />}
    </button>
  );
}

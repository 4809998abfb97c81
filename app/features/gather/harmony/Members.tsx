import { type PointerEvent, useCallback, useRef, useState } from 'react';
import { inkOn, toHex } from '#core/color/index';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { UnseenTable } from '~/ui/unseen-table';
import css from './Members.module.css';
import { type Family, memberName } from './use-family';

const MIN_SHARE = 0.03;

/** The members large, side by side, as much of each as there is to be; the joints between them move. */
export function Members({
  family,
  chosen,
  onChoose,
  onAreas,
}: {
  family: Family;
  chosen: string;
  onChoose(key: string): void;
  onAreas(areas: number[]): void;
}) {
  const { members, areas, take, condition } = family;
  const row = useRef<HTMLDivElement>(null);
  const { ref, ...stop } = useOneStop<HTMLDivElement>();
  const both = useCallback(
    (element: HTMLDivElement | null) => {
      row.current = element;
      ref(element);
    },
    [ref],
  );

  const [joint, setJoint] = useState(0);
  const held = useRef<{ start: number; areas: number[] } | null>(null);
  const move = (i: number, from: readonly number[], by: number) => {
    const next = [...from];
    const both = from[i]! + from[i + 1]!;
    next[i] = Math.min(both - MIN_SHARE, Math.max(MIN_SHARE, from[i]! + by));
    next[i + 1] = both - next[i]!;
    onAreas(next);
  };
  const down = (event: PointerEvent<HTMLElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = { start: event.clientX, areas };
  };
  const drag = (i: number) => (event: PointerEvent<HTMLElement>) => {
    const width = row.current?.clientWidth ?? 0;
    if (!held.current || width === 0) return;
    move(i, held.current.areas, (event.clientX - held.current.start) / width);
  };
  const let_ = () => {
    held.current = null;
  };
  let edge = 0;
  return (
    <section className={css.members} aria-label="Members">
      <div className={css.row} ref={both} {...stop}>
        {members.map((member, i) => {
          const hex = toHex(member.color, condition);
          return (
            <PlainButton
              key={member.key}
              className={css.member}
              style={{ flexGrow: areas[i], background: hex, color: inkOn(member.color, condition) }}
              data-chosen={member.key === chosen}
              aria-pressed={member.key === chosen}
              aria-label={`${memberName(member, take)}, ${hex}`}
              title={`${memberName(member, take)} · ${hex}`}
              onClick={() => onChoose(member.key)}
            >
              <span className={`mono ${css.hex}`}>{areas[i]! > 0.085 ? hex.toUpperCase() : ''}</span>
            </PlainButton>
          );
        })}
        {members.slice(1).map((member, i) => {
          edge += areas[i]!;
          const name = `Joint between ${memberName(members[i]!, take)} and ${memberName(member, take)}`;
          return (
            <span
              key={member.key}
              role="slider"
              // one of them is reached with Tab, and the others from it with up and down
              tabIndex={i === joint ? 0 : -1}
              data-joint={i}
              onFocus={() => setJoint(i)}
              className={css.joint}
              style={{ left: `${edge * 100}%` }}
              aria-label={name}
              aria-valuemin={0}
              aria-valuemax={100}
              aria-valuenow={Math.round(edge * 100)}
              aria-valuetext={`${Math.round(areas[i]! * 100)} and ${Math.round(areas[i + 1]! * 100)} parts`}
              onPointerDown={down}
              onPointerMove={drag(i)}
              onPointerUp={let_}
              onPointerCancel={let_}
              onKeyDown={(e) => {
                const other = i + ({ ArrowDown: 1, ArrowUp: -1 }[e.key] ?? 0);
                if (other !== i) row.current?.querySelector<HTMLElement>(`[data-joint='${other}']`)?.focus();
                const by = { ArrowLeft: -0.01, ArrowRight: 0.01 }[e.key];
                if (!by) return;
                e.preventDefault();
                move(i, areas, by * (e.shiftKey ? 0.2 : 1));
              }}
            />
          );
        })}
      </div>
      <UnseenTable
        caption="The family: places and shares"
        head={['Member', 'Hex', 'Hue °', 'Lightness', 'Chroma', 'Share %']}
        rows={members.map((m, i) => [
          memberName(m, take),
          toHex(m.color, condition).toUpperCase(),
          Math.round(m.place),
          m.lch[0].toFixed(2),
          m.lch[1].toFixed(3),
          Math.round(areas[i]! * 100),
        ])}
      />
      <div className={css.names} aria-hidden>
        {members.map((member, i) => (
          <span key={member.key} className="caption cut" dir="auto" style={{ width: `${areas[i]! * 100}%` }}>
            {memberName(member, take)} · {Math.round(areas[i]! * 100)}
          </span>
        ))}
      </div>
    </section>
  );
}

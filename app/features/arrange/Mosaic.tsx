import {
  DndContext,
  type DragEndEvent,
  type DragMoveEvent,
  DragOverlay,
  MouseSensor,
  TouchSensor,
  useDraggable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { memo, type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { type Condition, spaces, toHex } from '#core/color/index';
import {
  allSwatches,
  countSwatches,
  moveSwatches,
  openThreads,
  type Swatch,
  setFields,
  stepSwatches,
  swatchesBetween,
} from '#core/swatch/index';
import type { Present } from '#server/present';
import type { View } from '~/features/shared/layout';
import { GAP, MARGIN, useLines } from '~/features/shared/use-lines';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { initialsOf } from '~/ui/initials';
import { isCommand } from '~/ui/keys';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import { count, SwatchFace, swatchLabel } from '~/ui/swatch';
import { WingPair } from '~/ui/wing-pair';
import { GroupHead } from './GroupHead';
import css from './Mosaic.module.css';
import { BOARD_DROP } from './ViewTabs';

const LABEL = 24;
const LIST_LINE = 34;
const LONG_PRESS_MS = 350;
/** A hand that moves less than this, px, has stayed where it was. */
const STILL = 8;

const isOverBoards = (x: number, y: number) =>
  document.elementsFromPoint(x, y).some((e) => e.closest(`[${BOARD_DROP}]`) !== null);

const isTouch = (event: Event): event is TouchEvent => 'touches' in event;

interface Target {
  groupId: string;
  index: number;
}

/** The library as mosaic or list: only what is in sight is drawn. */
export function Mosaic({
  view,
  size,
  scrollTo,
  onSend,
  after,
  onOverBoard,
  onBoard,
}: {
  view: View;
  size: number;
  scrollTo: { groupId: string; n: number } | null;
  onSend(ids: ReadonlySet<string>): void;
  /** What swatches would become, as hex, shown beside what they are. */
  after: { get(id: string): string | undefined } | null;
  /** Swatches are held over the view of boards, or not any more. */
  onOverBoard(over: boolean): void;
  /** Swatches are dropped on the view of boards. */
  onBoard(ids: readonly string[]): void;
}) {
  const { store, selection, select, setGroupId } = useLibrary();
  const { library, others } = useStore(store);
  const talk = useMemo(() => openThreads({ items: library.items ?? [] }), [library.items]);
  const pointed = useMemo(() => pointedBy(others), [others]);
  const [at, setAt] = useState<string | null>(null);
  const [renaming, setRenaming] = useState<string | null>(null);
  const [dragging, setDragging] = useState<Swatch | null>(null);
  // a quick flick is over before the state is drawn, so the gesture itself goes by this
  const held = useRef<Swatch | null>(null);
  const [target, setTarget] = useState<Target | null>(null);
  /** A finger has pressed long: from then on it chooses several. */
  const [several, setSeveral] = useState(false);
  const anchor = useRef<string | null>(null);
  const options = useRef<HTMLDivElement>(null);

  const list = view === 'list';
  const total = countSwatches(library);
  const chip = { width: size, height: Math.round(size * 0.67) };
  const withNames = list || size >= 48;
  const lineHeight = list ? LIST_LINE : chip.height + (withNames ? LABEL : 0) + GAP;
  const { scroller, width, layout, virtual } = useLines(library, {
    chipWidth: chip.width,
    lineHeight,
    list,
  });
  // only what a hand asks for goes through all of them
  const order = () => allSwatches(library);
  const swatchOf = (id: string | null | undefined) => (id ? store.rows.find(id)?.swatch : undefined);

  const lineOf = (id: string) => {
    const row = store.rows.find(id);
    return row ? layout.lineOf(row.group, store.rows.indexOf(id)) : -1;
  };
  const reveal = (id: string) => {
    const line = lineOf(id);
    if (line >= 0) virtual.scrollToIndex(line, { align: 'auto' });
  };

  // biome-ignore lint/correctness/useExhaustiveDependencies: it goes there once for each request
  useEffect(() => {
    const line = scrollTo ? layout.headOf(scrollTo.groupId) : -1;
    if (line >= 0) virtual.scrollToIndex(line, { align: 'start' });
  }, [scrollTo]);

  // a swatch found or pasted elsewhere comes into sight
  const [only] = selection.size === 1 ? selection : [null];
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new choice scrolls, not every edit
  useEffect(() => {
    if (only && width > 0) reveal(only);
  }, [only, width > 0]);

  const toggle = (id: string) => {
    const next = new Set(selection);
    if (!next.delete(id)) next.add(id);
    select(next);
  };

  const choose = (id: string, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    setAt(id);
    if (event.shiftKey && anchor.current) {
      const run = swatchesBetween(library, anchor.current, id);
      if (run.length > 0) {
        select(run.map((s) => s.id));
        return;
      }
    }
    anchor.current = id;
    if (isCommand(event)) toggle(id);
    else select([id]);
  };

  const go = (id: string | undefined, event: React.KeyboardEvent) => {
    if (!id) return;
    if (isCommand(event)) setAt(id);
    else choose(id, event);
    reveal(id);
  };

  const moveBy = (by: -1 | 1) => {
    const draft = stepSwatches(store.rows, selection, by);
    if (draft) store.edit(draft);
  };

  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    const all = order();
    const here = all.findIndex((s) => s.id === at);
    if (event.altKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight'))
      moveBy(event.key === 'ArrowLeft' ? -1 : 1);
    else if (event.key === 'ArrowRight') go(all[here + 1]?.id, event);
    else if (event.key === 'ArrowLeft') go(all[Math.max(0, here - 1)]?.id, event);
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      const line = at ? lineOf(at) : -1;
      const step = event.key === 'ArrowDown' ? 1 : -1;
      const run = line >= 0 ? layout.line(line) : null;
      const column = run?.kind === 'run' ? run.swatches.findIndex((s) => s.id === at) : 0;
      for (let next = line + step; next >= 0 && next < layout.count; next += step) {
        const other = layout.line(next);
        if (other.kind !== 'run') continue;
        go(other.swatches[Math.min(column, other.swatches.length - 1)].id, event);
        break;
      }
    } else if (event.key === 'Home') go(all[0]?.id, event);
    else if (event.key === 'End') go(all[all.length - 1]?.id, event);
    else if (event.key === ' ' && at) choose(at, { shiftKey: event.shiftKey, ctrlKey: true, metaKey: false });
    else if (event.key === 'Enter' && at) setRenaming(at);
    else if (event.key === 'Escape') select([]);
    else return;
    event.preventDefault();
  };

  const rename = (id: string, name: string | null) => {
    setRenaming(null);
    const swatch = swatchOf(id);
    if (name !== null && swatch && name !== swatch.name) store.edit(setFields([id], { name }));
    options.current?.focus();
  };

  // the items are redrawn only when they change themselves, so what they call must stay the same
  const latest = useRef(rename);
  latest.current = rename;
  const onRename = useCallback((id: string, name: string | null) => latest.current(id, name), []);

  // a finger that moves at once scrolls; one that stays takes hold
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 5 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: LONG_PRESS_MS, tolerance: STILL } }),
  );

  /** The place between swatches that the pointer is nearest to. */
  const targetAt = (x: number, y: number): Target | null => {
    const element = scroller.current;
    if (!element) return null;
    const box = element.getBoundingClientRect();
    const py = y - box.top + element.scrollTop;
    const at = layout.lineAtHeight(py);
    if (at < 0) return null;
    const line = layout.line(at);
    if (line.kind !== 'run')
      return { groupId: line.group.id, index: line.kind === 'head' ? 0 : line.group.swatches.length };
    const within = list
      ? py > line.top + line.height / 2
        ? 1
        : 0
      : Math.round((x - box.left - MARGIN) / (chip.width + GAP));
    return { groupId: line.group.id, index: line.from + Math.min(Math.max(0, within), line.swatches.length) };
  };
  const pointerOf = (event: DragMoveEvent | DragEndEvent) => {
    const { activatorEvent: by, delta } = event;
    const start = isTouch(by) ? by.touches[0]! : (by as MouseEvent);
    return [start.clientX + delta.x, start.clientY + delta.y] as const;
  };

  // however it came to it, with none chosen the finger starts over
  const none = selection.size === 0;
  useEffect(() => {
    if (none) setSeveral(false);
  }, [none]);

  const lines =
    width > 0
      ? virtual
          .getVirtualItems()
          .filter((item) => item.index < layout.count)
          .map((item) => layout.line(item.index))
      : [];
  const drawn = new Set(lines.flatMap((line) => (line.kind === 'run' ? line.swatches.map((s) => s.id) : [])));
  const moving = dragging && selection.has(dragging.id) ? selection.size : 1;
  return (
    <DndContext
      sensors={sensors}
      onDragStart={({ activatorEvent }) => {
        const swatch = swatchOf(swatchAt(activatorEvent.target));
        held.current = swatch ?? null;
        setDragging(swatch ?? null);
        if (!swatch) return;
        if (isTouch(activatorEvent)) {
          setSeveral(true);
          setAt(swatch.id);
          anchor.current = swatch.id;
          select(
            several ? new Set([...selection, swatch.id]) : selection.has(swatch.id) ? selection : [swatch.id],
          );
        } else if (!selection.has(swatch.id))
          choose(swatch.id, { shiftKey: false, ctrlKey: false, metaKey: false });
      }}
      onDragMove={(event) => {
        if (!held.current) return;
        const isOver = isOverBoards(...pointerOf(event));
        onOverBoard(isOver);
        const next = isOver ? null : targetAt(...pointerOf(event));
        setTarget((was) => (was?.groupId === next?.groupId && was?.index === next?.index ? was : next));
      }}
      onDragCancel={() => {
        held.current = null;
        onOverBoard(false);
        setDragging(null);
        setTarget(null);
      }}
      onDragEnd={(event) => {
        const to = targetAt(...pointerOf(event));
        const swatch = held.current;
        held.current = null;
        onOverBoard(false);
        setDragging(null);
        setTarget(null);
        // a long press that stays where it is has only chosen
        if (!swatch || Math.hypot(event.delta.x, event.delta.y) < STILL) return;
        const ids = selection.has(swatch.id) ? [...selection] : [swatch.id];
        if (isOverBoards(...pointerOf(event))) onBoard(ids);
        else if (to) store.edit(moveSwatches(store.rows, ids, to.groupId, to.index));
      }}
    >
      {list && total > 0 && (
        <div className={`caption ${css.columns}`} aria-hidden>
          <span />
          {['name', 'hex', 'kind', 'role', 'space'].map((label) => (
            <span key={label}>{label}</span>
          ))}
        </div>
      )}
      <div
        ref={scroller}
        className={css.board}
        data-list={list}
        onPointerDown={(e) => {
          if (e.target !== e.currentTarget && (e.target as HTMLElement).dataset.blank === undefined) return;
          select([]);
        }}
      >
        <DragSurface height={virtual.getTotalSize()}>
          {lines.map((line) =>
            line.kind === 'head' ? (
              <GroupHead
                onSend={onSend}
                key={`head-${line.group.id}`}
                group={line.group}
                index={line.index}
                top={line.top}
                drop={target?.groupId === line.group.id && line.group.swatches.length === 0}
                onChoose={() => setGroupId(line.group.id)}
              />
            ) : (
              line.kind === 'empty' && (
                <p
                  key={`empty-${line.group.id}`}
                  className={`caption ${css.empty}`}
                  style={{ top: line.top }}
                >
                  Empty. Drag swatches here, or place some from the tray.
                </p>
              )
            ),
          )}
          <div
            ref={options}
            className={css.options}
            data-blank
            role="listbox"
            aria-multiselectable
            aria-label="Swatches"
            aria-activedescendant={at && drawn.has(at) ? `swatch-${at}` : undefined}
            tabIndex={0}
            onClick={(e) => {
              const id = swatchAt(e.target);
              if (!id) return;
              if (several) toggle(id);
              else choose(id, e);
            }}
            onDoubleClick={(e) => {
              const id = swatchAt(e.target);
              if (id) setRenaming(id);
            }}
            data-work
            onKeyDown={onKeyDown}
            onFocus={() =>
              setAt((was) => (swatchOf(was) ? was : ([...selection][0] ?? order()[0]?.id ?? null)))
            }
          >
            {lines.flatMap((line) =>
              line.kind !== 'run'
                ? []
                : line.swatches.map((swatch, i) => {
                    const props = {
                      swatch,
                      group: line.group.name,
                      selected: selection.has(swatch.id),
                      current: swatch.id === at,
                      dropBefore:
                        !!dragging && target?.groupId === line.group.id && target.index === line.from + i,
                      dragged: !!dragging && selection.has(swatch.id),
                      renaming: renaming === swatch.id,
                      talk: talk.get(swatch.id) ?? 0,
                      others: pointed.get(swatch.id),
                      after: after?.get(swatch.id),
                      onRename,
                    };
                    return list ? (
                      <ListRow key={swatch.id} {...props} top={line.top} />
                    ) : (
                      <Chip
                        key={swatch.id}
                        {...props}
                        face={chip.height}
                        named={withNames}
                        left={MARGIN + i * (chip.width + GAP)}
                        top={line.top}
                        width={chip.width}
                        height={lineHeight - GAP}
                      />
                    );
                  }),
            )}
          </div>
        </DragSurface>
      </div>
      {several && (
        <div className={css.several} role="status">
          <span>{count(selection.size, 'swatch', 'swatches')} chosen. Tap to add or remove.</span>
          <PlainButton look="link" onClick={() => select([])}>
            Choose none
          </PlainButton>
        </div>
      )}
      <DragOverlay dropAnimation={null}>
        {dragging && (
          <div className={css.held} style={{ width: Math.min(chip.width, 86) }}>
            <SwatchFace swatch={dragging} style={{ height: Math.min(chip.height, 58) }} />
            {moving > 1 && <strong>{moving}</strong>}
          </div>
        )}
      </DragOverlay>
    </DndContext>
  );
}

interface ItemProps {
  swatch: Swatch;
  /** The name of its group. */
  group: string;
  selected: boolean;
  current: boolean;
  dropBefore: boolean;
  dragged: boolean;
  renaming: boolean;
  /** Comments on it that are not resolved. */
  talk: number;
  /** The initials of those who have it selected elsewhere. */
  others: string | undefined;
  /** What it would become, as hex. */
  after: string | undefined;
  top: number;
  onRename(id: string, name: string | null): void;
}

/** What every item is to a screen reader, and its place for the gestures the whole board listens to. */
const itemProps = (
  { swatch, group, selected, current, dropBefore, dragged, talk, others }: ItemProps,
  condition: Condition,
  nameless = false,
) => ({
  id: `swatch-${swatch.id}`,
  'data-swatch': swatch.id,
  'data-at': current,
  'data-drop': dropBefore,
  'data-dragged': dragged,
  'data-others': others,
  role: 'option',
  // where the name is in sight it is the label
  'aria-label': nameless ? swatchLabel(swatch, condition) : undefined,
  'aria-selected': selected,
  'aria-description': [
    toHex(swatch.color, condition),
    swatch.role,
    swatch.kind,
    group && `in ${group}`,
    talk && count(talk, 'open comment'),
    others && `selected by ${others}`,
  ]
    .filter(Boolean)
    .join(', '),
});

/** Who has swatches selected on other pages, by swatch, as initials. */
function pointedBy(others: readonly Present[]): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  for (const { name, selection } of others)
    for (const id of selection)
      found.set(id, [...(found.get(id)?.split(' ') ?? []), initialsOf(name)].slice(0, 3).join(' '));
  return found;
}

/** The swatch a gesture is about. */
const swatchAt = (target: EventTarget | null) =>
  (target as HTMLElement | null)?.closest<HTMLElement>('[data-swatch]')?.dataset.swatch;

/** One draggable for the whole board: thousands of their own would slow the scrolling down. */
function DragSurface({ height, children }: { height: number; children: ReactNode }) {
  const { setNodeRef, listeners } = useDraggable({ id: 'board' });
  return (
    <div ref={setNodeRef} data-blank className={css.surface} style={{ height }} {...listeners}>
      {children}
    </div>
  );
}

function NameField({ swatch, onRename }: Pick<ItemProps, 'swatch' | 'onRename'>) {
  const name = useRef<string | null>(null);
  return (
    <RenameField
      label="Name of the swatch"
      name={swatch.name}
      onPointerDown={(e) => e.stopPropagation()}
      onClick={(e) => e.stopPropagation()}
      onRename={(next) => {
        name.current = next;
      }}
      onDone={() => onRename(swatch.id, name.current)}
    />
  );
}

/** A swatch, or what it is beside what it would become. */
function Face({
  swatch,
  after,
  ...rest
}: {
  swatch: Swatch;
  after: string | undefined;
  className?: string;
  style?: React.CSSProperties;
}) {
  const condition = useCondition();
  if (after === undefined) return <SwatchFace swatch={swatch} {...rest} />;
  return (
    <div {...rest}>
      <WingPair left={toHex(swatch.color, condition)} right={after} />
    </div>
  );
}

const Chip = memo(function Chip(
  props: ItemProps & { face: number; named: boolean; left: number; width: number; height: number },
) {
  const condition = useCondition();
  const { swatch, renaming, left, top, width, height, face, named, onRename, after, talk } = props;
  return (
    <div
      {...itemProps(props, condition, !named)}
      className={css.chip}
      style={{ left, top, width, height }}
      title={swatch.name.length > 12 ? swatch.name : undefined}
    >
      <Face swatch={swatch} after={after} style={{ height: face }} />
      {talk > 0 && (
        <span className={css.talk} aria-hidden>
          {talk}
        </span>
      )}
      {renaming ? (
        <NameField swatch={swatch} onRename={onRename} />
      ) : (
        named && (
          <span className={`${css.name} cut`} dir="auto">
            {swatchLabel(swatch, condition)}
          </span>
        )
      )}
    </div>
  );
});

const ListRow = memo(function ListRow(props: ItemProps) {
  const condition = useCondition();
  const { swatch, renaming, top, onRename, after } = props;
  return (
    <div {...itemProps(props, condition)} className={css.line} style={{ top, height: LIST_LINE }}>
      <Face swatch={swatch} after={after} className={css.small} />
      {renaming ? (
        <NameField swatch={swatch} onRename={onRename} />
      ) : (
        <span className="cut" dir="auto" title={swatch.name}>
          {swatchLabel(swatch, condition)}
        </span>
      )}
      <span className="mono">{toHex(swatch.color, condition).toUpperCase()}</span>
      <span className="second">{swatch.global ? 'global' : swatch.kind}</span>
      <span className="cut second" title={swatch.role}>
        {swatch.role ?? '—'}
      </span>
      <span className="second">{spaces[swatch.color.space].name}</span>
    </div>
  );
});

import { ArrowDown, ArrowUp, Plus, X } from 'lucide-react';
import { workKey } from '#core/board/index';
import { toHex } from '#core/color/index';
import {
  addBoard,
  type BoardObject,
  emptyBoard,
  freeGroupName,
  gradientsOf,
  type Library,
  moveObject,
  OBJECTS,
  pageText,
  removeBoard,
  removeObjects,
  swatchIndex,
} from '#core/swatch/index';
import { useCondition } from '~/ui/condition';
import { useDragOrder } from '~/ui/drag-order';
import { Panel, useShutDrawers } from '~/ui/Frame';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { groupLabel, Strip } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import css from './BoardView.module.css';
import { newId } from './object';
import type { BoardState } from './use-board';
import type { ShownWork } from './use-works';

/** What an object travels under while it is dragged. */
const DRAGGED = 'application/x-papillon-board-object';

/** The boards of the library, and what is on the one that is open. */
export function BoardOutline({
  state,
  works,
  onAdd,
}: {
  state: BoardState;
  works: ReadonlyMap<string, ShownWork>;
  onAdd(): void;
}) {
  const { store, boards, board, chosen, laid } = state;
  const shut = useShutDrawers();
  const toast = useToast();
  const stop = useOneStop<HTMLFieldSetElement>();
  const dragOf = useDragOrder(DRAGGED, (id, to) => board && state.edit(moveObject(board, id, to)));
  const make = () => {
    const name = freeGroupName({ groups: boards }, 'New board');
    const made = emptyBoard(newId(), name);
    if (state.edit(addBoard(store.rows, made))) state.open(made.id);
  };
  const remove = (one: (typeof boards)[number]) => {
    const done = store.edit(removeBoard(one));
    if (done) toast({ text: `The board “${one.name}” was deleted.`, ...wayBack([store, done]) });
  };
  const missing = new Set(laid?.missing.map((o) => o.id));
  const objects = board?.data.objects ?? [];
  const move = (id: string, by: -1 | 1) =>
    board && state.edit(moveObject(board, id, objects.findIndex((o) => o.id === id) + by));
  const [first] = chosen;
  return (
    <Panel side="outline" label="Boards">
      <h2 className={`caption ${css.heading}`}>Boards</h2>
      {boards.map((one) => (
        <div key={one.id} className={css.board} data-chosen={one.id === board?.id}>
          <PlainButton
            className={css.open}
            aria-current={one.id === board?.id}
            onClick={() => {
              state.open(one.id);
              shut();
            }}
          >
            <span className={css.boardName}>
              <span className="cut" dir="auto" title={one.name}>
                {one.name || 'Board without a name'}
              </span>
              <span className="second">{one.data.objects.length}</span>
            </span>
            <span className="caption">{pageText(one.data.page)}</span>
          </PlainButton>
          <PlainButton
            look="icon"
            className={css.remove}
            aria-label={`Delete ${one.name}`}
            onClick={() => remove(one)}
          >
            <X size={13} />
          </PlainButton>
        </div>
      ))}
      <PlainButton look="tab" className={css.add} onClick={make}>
        <Plus size={13} /> New board
      </PlainButton>
      {board && (
        <>
          <h2 className={`caption ${css.heading} ${css.second}`}>On this board</h2>
          <fieldset
            {...stop}
            className={css.objects}
            aria-label="On this board"
            data-no-act
            onKeyDown={(e) => {
              if (e.altKey && first && (e.key === 'ArrowUp' || e.key === 'ArrowDown')) {
                move(first, e.key === 'ArrowUp' ? -1 : 1);
                e.preventDefault();
              } else if ((e.key === 'Delete' || e.key === 'Backspace') && chosen.size > 0) {
                state.edit(removeObjects(board, chosen));
                e.preventDefault();
              } else stop.onKeyDown(e);
            }}
          >
            {objects.map((o, i) => (
              <PlainButton
                key={o.id}
                className={css.object}
                aria-pressed={chosen.has(o.id)}
                onClick={(e) => state.choose(several(e, chosen, o.id))}
                {...dragOf(o.id, i)}
              >
                <Thumb object={o} state={state} works={works} />
                <span className={css.objectName}>
                  <span className="cut" dir="auto">
                    {nameIn(o, state)}
                  </span>
                  {missing.has(o.id) ? (
                    <span className="caption">deleted</span>
                  ) : (
                    o.of !== 'swatch' && <span className="caption">{OBJECTS[o.of].label}</span>
                  )}
                </span>
              </PlainButton>
            ))}
          </fieldset>
          {first && objects.length > 1 && (
            <p className={css.order}>
              <PlainButton look="icon" aria-label="Earlier on the board" onClick={() => move(first, -1)}>
                <ArrowUp size={16} />
              </PlainButton>
              <PlainButton look="icon" aria-label="Later on the board" onClick={() => move(first, 1)}>
                <ArrowDown size={16} />
              </PlainButton>
            </p>
          )}
          <PlainButton look="tab" className={css.add} onClick={onAdd}>
            <Plus size={13} /> Add to the board…
          </PlainButton>
        </>
      )}
    </Panel>
  );
}

/** What is chosen after a click, with Ctrl one more or less. */
export function several(
  e: { ctrlKey: boolean; metaKey: boolean; shiftKey: boolean },
  chosen: ReadonlySet<string>,
  id: string,
): string[] {
  if (!e.ctrlKey && !e.metaKey && !e.shiftKey) return [id];
  return chosen.has(id) ? [...chosen].filter((c) => c !== id) : [...chosen, id];
}

/** What a group is called; the swatches in none are first. */
function groupName(library: Library, id: string): string | undefined {
  const at = library.groups.findIndex((g) => g.id === id);
  return at < 0 ? undefined : groupLabel(library, at);
}

/** What an object is called now; what is gone, as it was called last. */
export function nameIn({ of, refs, name }: BoardObject, { library, sources }: BoardState): string {
  const [id = ''] = refs;
  const now =
    of === 'swatch'
      ? swatchIndex(library).get(id)?.swatch.name
      : of === 'group'
        ? groupName(library, id)
        : of === 'picture'
          ? sources.pictures.find((p) => p.id === id)?.name
          : of === 'gradient' || of === 'reading'
            ? library.items?.find((i) => i.id === id)?.name
            : undefined;
  return now || name || (of === 'text' ? 'Text without words' : 'without a name');
}

function Thumb({
  object,
  state,
  works,
}: {
  object: BoardObject;
  state: BoardState;
  works: ReadonlyMap<string, ShownWork>;
}) {
  const condition = useCondition();
  const { library } = state;
  const { of, refs } = object;
  const work = of === 'work' && works.get(workKey(refs[0] ?? '', refs[1] ?? null));
  if (work) return <img className={css.thumb} src={work.url} alt="" />;
  if (of === 'picture')
    return <img className={css.thumb} src={state.pictureUrl(refs[0] ?? '')} alt="" loading="lazy" />;
  if (of === 'text') return <span className={`${css.thumb} ${css.letters}`}>Aa</span>;
  const index = swatchIndex(library);
  const ids =
    of === 'group'
      ? (library.groups.find((g) => g.id === refs[0])?.swatches.map((s) => s.id) ?? [])
      : of === 'gradient'
        ? (gradientsOf(library).find((g) => g.id === refs[0])?.refs ?? [])
        : refs;
  const colors = ids.flatMap((id) => {
    const swatch = index.get(id)?.swatch;
    return swatch ? [toHex(swatch.color, condition)] : [];
  });
  if (colors.length === 0) return <span className={`${css.thumb} ${css.empty}`} />;
  return (
    <span className={css.thumb}>
      <Strip colors={colors.slice(0, 12)} height={20} />
    </span>
  );
}

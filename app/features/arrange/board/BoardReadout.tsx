import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import { useMemo, useState } from 'react';
import { omittedText, proportions, sharesFrom, thingsOf, workKey } from '#core/board/index';
import { toHex } from '#core/color/index';
import {
  type Board,
  type BoardData,
  LABELS,
  type LabelId,
  labelIds,
  MAX_MARGIN,
  MAX_SIDE,
  MAX_WEIGHT,
  MIN_SIDE,
  type ObjectChange,
  PAGE_SIZES,
  PAPERS,
  type PageSetting,
  pageSizeIds,
  paperIds,
  removeObjects,
  renameBoard,
  setBoard,
  setObjects,
  withSet,
} from '#core/swatch/index';
import { Comments } from '~/features/shared/comments/Comments';
import { CommitField } from '~/ui/commit-field';
import { useCondition } from '~/ui/condition';
import { Panel } from '~/ui/Frame';
import { LinesField } from '~/ui/field';
import { NumberField } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { nameIn } from './BoardOutline';
import css from './BoardView.module.css';
import type { BoardState } from './use-board';
import type { ShownWork } from './use-works';

/** What is chosen on a board, and the board itself. */
export function BoardReadout({ state, works }: { state: BoardState; works: ReadonlyMap<string, ShownWork> }) {
  const { board, laid } = state;
  return (
    <Panel side="readout" label="Board">
      {board && (
        <div className={css.readout}>
          <ChosenObjects state={state} board={board} />
          <TheBoard state={state} board={board} />
          <Comments on={board.id} name={board.name || 'the board'} />
          {laid && laid.missing.length > 0 && (
            <section className={css.part} aria-label="Deleted">
              <p role="status">
                {count(laid.missing.length, 'object is', 'objects are')} not in the library any more:{' '}
                {laid.missing.map((o) => o.name || 'without a name').join(', ')}.
              </p>
              <Button
                onClick={() => state.edit(removeObjects(board, new Set(laid.missing.map((o) => o.id))))}
              >
                Remove from the board
              </Button>
            </section>
          )}
          {laid && omittedText(laid) && (
            <p role="status" className={css.hint}>
              {omittedText(laid)}
            </p>
          )}
          <Study state={state} board={board} works={works} />
        </div>
      )}
    </Panel>
  );
}

function ChosenObjects({ state, board }: { state: BoardState; board: Board }) {
  const { chosen } = state;
  const own = board.data.objects.filter((o) => chosen.has(o.id));
  const [first] = own;
  if (!first)
    return (
      <p className={`second ${css.hint}`}>Choose something on the page to set its weight and its labels.</p>
    );
  const title = own.length === 1 ? nameIn(first, state) : `${own.length} chosen`;
  const set = (to: ObjectChange) => setObjects(board, chosen, to);
  const shown = (to: ObjectChange): Board => ({
    ...board,
    data: { ...board.data, objects: withSet(board.data.objects, chosen, to) },
  });
  return (
    <section className={css.part} aria-label="Chosen on this board">
      <h2 className={css.title} dir="auto">
        {title} <span className="caption">on this board</span>
      </h2>
      {first.of === 'text' && own.length === 1 && (
        <TextOf key={first.id} text={first.name} onCommit={(name) => state.edit(set({ name }))} />
      )}
      <div className={css.field}>
        <span className="second" id="board-weight">
          Weight
        </span>
        <span className={css.weight}>
          <Slider
            min={1}
            max={MAX_WEIGHT}
            step={1}
            value={first.weight}
            disabled={first.share !== undefined}
            aria-labelledby="board-weight"
            onChange={(_, v) => state.preview(shown({ weight: v as number }))}
            onChangeCommitted={(_, v) => state.edit(set({ weight: v as number }))}
          />
          <span className="mono">{first.share === undefined ? first.weight : '–'}</span>
        </span>
      </div>
      <div className={css.exact}>
        <Tick
          checked={first.share !== undefined}
          onChange={(on) => state.edit(set({ share: on ? 0.1 : null }))}
          label="exact part of the area"
        />
        {first.share !== undefined && (
          <NumberField
            label="part of the area"
            silent
            unit="%"
            value={first.share * 100}
            min={0.1}
            max={100}
            decimals={1}
            onChange={(v) => state.edit(set({ share: v / 100 }))}
          />
        )}
      </div>
      <Choose
        className={css.field}
        label="Labels"
        value={first.labels ? 'own' : 'board'}
        values={[
          ['board', 'same as board'],
          ['own', 'its own'],
        ]}
        onChange={(v) => state.edit(set({ labels: v === 'own' ? [...board.data.labels] : null }))}
      />
      {first.labels && <Labels labels={first.labels} onChange={(labels) => state.edit(set({ labels }))} />}
      <PlainButton look="link" onClick={() => state.edit(removeObjects(board, chosen))}>
        Remove from this board
      </PlainButton>
    </section>
  );
}

function TextOf({ text, onCommit }: { text: string; onCommit(text: string): void }) {
  const [typed, setTyped] = useState(text);
  return (
    <LinesField
      value={typed}
      aria-label="Text on the board"
      dir="auto"
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => typed !== text && onCommit(typed)}
    />
  );
}

function Labels({ labels, onChange }: { labels: readonly LabelId[]; onChange(labels: LabelId[]): void }) {
  return (
    <div className={css.labels}>
      {labelIds.map((id) => (
        <Tick
          key={id}
          checked={labels.includes(id)}
          onChange={(on) => onChange(labelIds.filter((l) => (l === id ? on : labels.includes(l))))}
          label={LABELS[id]}
        />
      ))}
    </div>
  );
}

const entriesOf = <K extends string>(ids: readonly K[], labels: Record<K, string>) =>
  ids.map((id) => [id, labels[id]] as const);
const sizes = [
  ...pageSizeIds.map((id) => [id, PAGE_SIZES[id].label] as const),
  ['custom', 'own size'] as const,
];

function TheBoard({ state, board }: { state: BoardState; board: Board }) {
  const { data } = board;
  const { page } = data;
  const set = (to: Partial<BoardData>) => state.edit(setBoard(board, to));
  const setPage = (to: Partial<PageSetting>) => set({ page: { ...page, ...to } });
  return (
    <section className={css.part} aria-label="The board">
      <h2 className="caption">The board</h2>
      <div className={css.field}>
        <label htmlFor="board-title" className="second">
          Title
        </label>
        <CommitField
          id="board-title"
          value={board.name}
          most={500}
          onCommit={(name) => state.edit(renameBoard(board, name))}
        />
      </div>
      <Choose
        className={css.field}
        label="Page"
        value={page.size}
        values={sizes}
        onChange={(size) => setPage({ size: size as PageSetting['size'] })}
      />
      {page.size === 'custom' && (
        <div className={css.two}>
          {(['width', 'height'] as const).map((side) => (
            <NumberField
              key={side}
              label={side}
              unit="mm"
              value={page[side] ?? (side === 'width' ? 210 : 297)}
              min={MIN_SIDE}
              max={MAX_SIDE}
              decimals={1}
              onChange={(v) => setPage({ [side]: v })}
            />
          ))}
        </div>
      )}
      <Choose
        className={css.field}
        label="Orientation"
        value={page.landscape ? 'landscape' : 'portrait'}
        values={[
          ['landscape', 'landscape'],
          ['portrait', 'portrait'],
        ]}
        onChange={(v) => setPage({ landscape: v === 'landscape' })}
      />
      <div className={css.field}>
        <span className="second">Margin</span>
        <NumberField
          label="Margin"
          silent
          unit="mm"
          value={page.margin}
          min={0}
          max={MAX_MARGIN}
          decimals={1}
          onChange={(margin) => setPage({ margin })}
        />
      </div>
      <Choose
        className={css.field}
        label="Paper"
        value={data.paper}
        values={entriesOf(paperIds, PAPERS)}
        onChange={(paper) => set({ paper: paper as BoardData['paper'] })}
      />
      <div className={css.field}>
        <label htmlFor="board-note" className="second">
          Note
        </label>
        <CommitField id="board-note" value={data.note} most={2000} onCommit={(note) => set({ note })} />
      </div>
      <div className={css.labels}>
        <Tick
          checked={data.showsCondition}
          onChange={(showsCondition) => set({ showsCondition })}
          label="print condition"
        />
        <Tick
          checked={data.date !== ''}
          onChange={(on) => set({ date: on ? new Date().toISOString().slice(0, 10) : '' })}
          label="date"
        />
      </div>
      <h2 className="caption">Show with each colour</h2>
      <Labels labels={data.labels} onChange={(labels) => set({ labels })} />
    </section>
  );
}

const percent = (v: number) => `${(100 * v).toFixed(v < 0.0995 ? 1 : 0)} %`;

/** The areas of the board's colours next to those of its picture, or else of its artwork. */
function Study({
  state,
  board,
  works,
}: {
  state: BoardState;
  board: Board;
  works: ReadonlyMap<string, ShownWork>;
}) {
  const { sources, laid } = state;
  const condition = useCondition();
  const found = useMemo(() => {
    const { things } = thingsOf(board, sources, laid?.ground ?? { space: 'rgb', components: [1, 1, 1] });
    const picture = things.find((t) => t.is === 'picture');
    const work = things.find((t) => t.is === 'work');
    const covered = picture?.picture.colors ?? (work && works.get(workKey(work.work, work.colorway))?.colors);
    if (!covered || !things.some((t) => t.is === 'color')) return null;
    return { name: (picture ?? work)!.name, ...proportions(things, covered, condition) };
  }, [board, sources, laid, works, condition]);
  if (!found) return null;
  const { name, rows, rest } = found;
  return (
    <section className={css.part} aria-label="Proportions">
      <h2 className="caption">Areas here and in {name}</h2>
      <table className={css.study}>
        <thead className="caption">
          <tr>
            <th scope="col">
              <span className="unseen">Colour</span>
            </th>
            <th scope="col">here</th>
            <th scope="col">there</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ of, thing, here, there }, i) => (
            <tr key={`${of} ${i}`}>
              <th scope="row">
                <span className={css.dot} style={{ background: toHex(thing.swatch.color, condition) }} />
                <span className="cut" dir="auto">
                  {thing.name}
                </span>
              </th>
              <td className="mono">{percent(here)}</td>
              <td className="mono">{there > 0 ? percent(there) : '–'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rest > 0.005 && <p className="caption">Near none of them: {percent(rest)} of it.</p>}
      <Button
        onClick={() => {
          const shares = sharesFrom(board, rows);
          state.edit(
            setBoard(
              board,
              {
                objects: board.data.objects.map((o) => {
                  const share = shares.get(o.id);
                  return share === undefined ? o : { ...o, share };
                }),
              },
              'weigh by coverage',
            ),
          );
        }}
      >
        Weights from coverage
      </Button>
    </section>
  );
}

import Button from '@mui/material/Button';
import { useState } from 'react';
import {
  addBoard,
  allSwatches,
  emptyBoard,
  isLoose,
  LAYOUTS,
  layoutIds,
  MAX_OBJECTS,
  setBoard,
} from '#core/swatch/index';
import { Empty } from '~/ui/empty';
import { BottomBar, Stage, Toolbar } from '~/ui/Frame';
import { PageButtons } from '~/ui/page-buttons';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { ViewTabs } from '../ViewTabs';
import { AddDialog } from './AddDialog';
import { BoardBar } from './BoardBar';
import { BoardOutline, several } from './BoardOutline';
import { BoardReadout } from './BoardReadout';
import css from './BoardView.module.css';
import { newId, objectOf } from './object';
import { type Drawn, PageView } from './PageView';
import { Present } from './Present';
import { useBoard } from './use-board';
import { useWorks } from './use-works';

/** The boards of the library: pages that lay themselves out. */
export function BoardView() {
  const state = useBoard();
  const { store, library, board, laid, chosen, picturesProblem } = state;
  const works = useWorks(laid, library);
  const [at, setAt] = useState(0);
  const [adding, setAdding] = useState(false);
  const [presenting, setPresenting] = useState(false);
  const pages = laid?.pages ?? [];
  const page = Math.min(at, Math.max(0, pages.length - 1));
  const drawn: Drawn = {
    ...{ ground: laid?.ground ?? { space: 'rgb', components: [1, 1, 1] }, library, works },
    pictureUrl: state.pictureUrl,
  };
  const make = (objects: ReturnType<typeof objectOf>[]) => {
    const made = emptyBoard(newId(), library.name, objects);
    if (state.edit(addBoard(store.rows, made))) state.open(made.id);
  };
  const groups = library.groups.filter((g) => g.swatches.length > 0);
  const total = allSwatches(library).length;
  const shown = pages[page];
  return (
    <>
      <BoardOutline state={state} works={works} onAdd={() => setAdding(true)} />
      <Stage>
        <h1 className="unseen">Boards</h1>
        <Toolbar>
          <ViewTabs view="board" />
          {board && (
            <>
              <span className={css.rule} />
              <Choices className={css.layouts} aria-label="Layout">
                {layoutIds.map((id) => (
                  <PlainButton
                    look="tab"
                    key={id}
                    aria-pressed={board.data.layout === id}
                    title={LAYOUTS[id].about}
                    onClick={() => state.edit(setBoard(board, { layout: id }, 'lay out'))}
                  >
                    {LAYOUTS[id].label}
                  </PlainButton>
                ))}
              </Choices>
              <span className={css.right}>
                <PageButtons page={page} count={pages.length} onTurn={setAt} />
                <PlainButton look="tab" disabled={!shown} onClick={() => setPresenting(true)}>
                  Present
                </PlainButton>
              </span>
            </>
          )}
        </Toolbar>
        {!board ? (
          <Empty
            level="h2"
            title="Colours on a page that lays itself out"
            text="A board shows swatches, groups, gradients, pictures and artwork in proportion, with their names and values: on screen, on paper, and as separations."
          >
            {groups.length > 0 && total <= MAX_OBJECTS && (
              <Button
                variant="contained"
                onClick={() =>
                  make(groups.map((g) => objectOf('group', [g.id], isLoose(library, g) ? '' : g.name)))
                }
              >
                Make a board of the library
              </Button>
            )}
            <Button onClick={() => make([])}>Begin with an empty board</Button>
          </Empty>
        ) : shown && board.data.objects.length > 0 ? (
          <div className={css.stage}>
            <PageView
              page={shown}
              drawn={drawn}
              label={`${board.name}, page ${page + 1} of ${pages.length}`}
              chosen={chosen}
              onChoose={(of, e) => state.choose(of === null ? [] : several(e, chosen, of))}
            />
            {picturesProblem && <p className="caption">{picturesProblem}</p>}
          </div>
        ) : (
          <Empty
            level="h2"
            title="Nothing on this board yet"
            text="Add swatches, groups, gradients, kept pictures, artwork or a line of text."
          >
            <Button variant="contained" onClick={() => setAdding(true)}>
              Add to the board…
            </Button>
          </Empty>
        )}
        {adding && board && <AddDialog state={state} board={board} onClose={() => setAdding(false)} />}
        {presenting && laid && board && (
          <Present
            laid={laid}
            drawn={drawn}
            title={board.name}
            first={page}
            onClose={() => setPresenting(false)}
          />
        )}
      </Stage>
      <BoardReadout state={state} works={works} />
      {board && laid ? (
        <BoardBar state={state} board={board} laid={laid} page={page} works={works} />
      ) : (
        <BottomBar label="Download the board">
          <strong>Board</strong>
          <span className="caption">none yet</span>
        </BottomBar>
      )}
    </>
  );
}

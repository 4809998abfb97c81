import { useSearchParams } from 'react-router';
import { PlainButton } from '~/ui/plain-button';
import css from './Arrange.module.css';

const VIEWS = { mosaic: 'Mosaic', list: 'List', board: 'Board' } as const;
export type ArrangeView = keyof typeof VIEWS;
/** In the address: the view that is not the mosaic, and the board. */
const VIEW_QUERY = 'view';
/** The board that is looked at; without it the first. */
export const BOARD_QUERY = 'board';

export const boardAddress = (library: string, board: string) =>
  `/libraries/${library}/arrange?${VIEW_QUERY}=board&${BOARD_QUERY}=${board}`;

/** The view of Arrange, as the address has it. */
export function useArrangeView(): [ArrangeView, (view: ArrangeView) => void] {
  const [search, setSearch] = useSearchParams();
  const named = search.get(VIEW_QUERY);
  const view: ArrangeView = named === 'list' || named === 'board' ? named : 'mosaic';
  return [
    view,
    (next) =>
      setSearch(
        (was) => {
          if (next === 'mosaic') was.delete(VIEW_QUERY);
          else was.set(VIEW_QUERY, next);
          return was;
        },
        // the list is a way of looking, a board a place one comes back to
        { replace: next !== 'board' && view !== 'board' },
      ),
  ];
}

/** The board that was looked at last in each library, as long as the page is open. */
const looked = new Map<string, string>();
export const lastBoard = (library: string) => looked.get(library);
export const rememberBoard = (library: string, board: string) => looked.set(library, board);

/** Marks where swatches are dropped to be put on a board. */
export const BOARD_DROP = 'data-board-drop';

/** The three ways in which a library is looked at; swatches that are dragged onto the last go on a board. */
export function ViewTabs({ view, isBoardMeant = false }: { view: ArrangeView; isBoardMeant?: boolean }) {
  const [, setView] = useArrangeView();
  return (Object.keys(VIEWS) as ArrangeView[]).map((v) => (
    <PlainButton
      look="tab"
      key={v}
      className={css.view}
      aria-pressed={view === v}
      onClick={() => setView(v)}
      {...(v === 'board' ? { [BOARD_DROP]: isBoardMeant } : {})}
    >
      {VIEWS[v]}
    </PlainButton>
  ));
}

import { useSearchParams } from 'react-router';
import { PlainButton } from '~/ui/plain-button';

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

/** The three ways in which a library is looked at. */
export function ViewTabs({ view }: { view: ArrangeView }) {
  const [, setView] = useArrangeView();
  return (Object.keys(VIEWS) as ArrangeView[]).map((v) => (
    <PlainButton look="tab" key={v} aria-pressed={view === v} onClick={() => setView(v)}>
      {VIEWS[v]}
    </PlainButton>
  ));
}

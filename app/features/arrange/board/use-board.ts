import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { type BoardPicture, type BoardSources, type LaidBoard, layOut } from '#core/board/index';
import { toLab } from '#core/color/index';
import { type Board, boardsOf, type Draft, type Library } from '#core/swatch/index';
import { readPicture } from '~/api/assets';
import { addressOf } from '~/api/call';
import { keptPictures } from '~/api/kept-pictures';
import { limitsOf, USUAL_ASKING } from '~/features/shared/match/limits';
import { useSources } from '~/features/shared/match/SourceChoice';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { useAsked } from '~/ui/use-asked';
import { openMatchClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { BOARD_QUERY, rememberBoard } from '../ViewTabs';

export interface BoardState {
  store: LibraryStore;
  library: Library;
  boards: Board[];
  board: Board | null;
  laid: LaidBoard | null;
  sources: BoardSources;
  /** Where the copy of a kept picture is. */
  pictureUrl(id: string): string;
  picturesProblem: string | null;
  /** Chosen objects of the board. */
  chosen: ReadonlySet<string>;
  choose(ids: Iterable<string>): void;
  open(id: string): void;
  edit(draft: Draft | null): boolean;
  /** Shows a board as it would be, while a hand is still on it; null as it is. */
  preview(board: Board | null): void;
}

const NONE: BoardPicture[] = [];

/** The nearest of the chosen books to the swatches of a board, where it says them. */
function useNearestTexts(library: Library, board: Board | null): ReadonlyMap<string, string> | undefined {
  const condition = useCondition();
  const match = useClient(openMatchClient);
  const sources = useSources(library.id);
  const { objects = [], labels = [] } = board?.data ?? {};
  const isWanted = [labels, ...objects.map((o) => o.labels ?? [])].some((l) => l.includes('nearest'));
  const wanted = useMemo(() => {
    if (!isWanted) return [];
    const shown = new Set(objects.flatMap((o) => o.refs));
    return library.groups.flatMap((g) => g.swatches.filter((s) => shown.has(s.id) || shown.has(g.id)));
  }, [isWanted, objects, library]);
  const { value } = useAsked(
    wanted.length > 0 && sources.ready
      ? async () => {
          const lists = await match.ask('nearest', {
            sources: sources.chosen,
            metric: 'de00',
            limits: limitsOf(USUAL_ASKING),
            setting: condition.setting,
            wanted: wanted.map((s) => ({ lab: toLab(s.color, condition) })),
            n: 1,
          });
          return new Map(
            wanted.flatMap((s, i) => {
              const best = lists[i]?.[0];
              return best ? [[s.id, `${best.name} ΔE00 ${best.difference.toFixed(1)}`] as const] : [];
            }),
          );
        }
      : null,
    [wanted, sources.ready, sources.chosen.join()],
  );
  return value ?? undefined;
}

export function useBoard(): BoardState {
  const { store } = useLibrary();
  const { library } = useStore(store);
  const condition = useCondition();
  const [search, setSearch] = useSearchParams();
  const boards = useMemo(() => boardsOf(library), [library]);
  const wanted = search.get(BOARD_QUERY);
  const kept = boards.find((b) => b.id === wanted) ?? boards[0] ?? null;
  useEffect(() => {
    if (kept) rememberBoard(library.id, kept.id);
  }, [kept, library.id]);
  const [preview, setPreview] = useState<Board | null>(null);
  const board = preview && preview.id === kept?.id ? preview : kept;
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  // biome-ignore lint/correctness/useExhaustiveDependencies: another board has other objects
  useEffect(() => setChosen(new Set()), [kept?.id]);
  const asked = useAsked((signal) => keptPictures(library.id, signal), [library.id]);
  const pictures = asked.value ?? NONE;
  const nearest = useNearestTexts(library, kept);
  const sources = useMemo(
    (): BoardSources => ({ library, condition, pictures, ...(nearest ? { nearest } : {}) }),
    [library, condition, pictures, nearest],
  );
  const laid = useMemo(() => board && layOut(board, sources), [board, sources]);
  return {
    ...{ store, library, boards, board, laid, sources, chosen, picturesProblem: asked.problem },
    pictureUrl: (id) => addressOf(readPicture, { id: library.id, picture: id }),
    choose: (ids) => setChosen(new Set(ids)),
    open: (id) =>
      setSearch((was) => {
        was.set(BOARD_QUERY, id);
        return was;
      }),
    edit: (draft) => {
      setPreview(null);
      return draft !== null && store.edit(draft) !== null;
    },
    preview: setPreview,
  };
}

import { useEffect, useMemo, useState } from 'react';
import { Outlet, redirect } from 'react-router';
import { isLoose } from '#core/swatch/index';
import { loaded } from '#server/answers';
import { readTitle } from '#server/libraries';
import { database } from '#server/open';
import { useSteps } from '~/features/shared/frame/steps';
import type { LibraryStore } from '~/state/library-store';
import { usePart, useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { WorkspaceContext } from '~/state/workspace';
import { ConditionContext } from '~/ui/condition';
import { useShortcut } from '~/ui/shortcuts';
import { useToast, useTold } from '~/ui/toast';
import type { Route } from './+types/library';

const NO_LIBRARY =
  'This library does not exist. It may have been deleted; deleted libraries can be restored from the list.';

export const loader = ({ params, request }: Route.LoaderArgs) =>
  loaded(async () => {
    const title = await readTitle(await database(), params.id);
    if (!title) throw new Response(NO_LIBRARY, { status: 404 });
    // a book is handed over and compared like a library, and else has a page of its own
    if (title.book && !/\/(check|hand-over)(\.data)?$/.test(new URL(request.url).pathname))
      throw redirect(`/books/${params.id}`);
    return title;
  });

// the page keeps the library itself, and hears of changes through its store
export const shouldRevalidate = ({
  currentParams,
  nextParams,
}: {
  currentParams: { id?: string };
  nextParams: { id?: string };
}) => currentParams.id !== nextParams.id;

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.name ?? 'Library'} · Papillon` },
];

export default function LibraryRoute({ loaderData, params }: Route.ComponentProps) {
  return <LibraryFrame key={params.id} id={params.id} name={loaderData.name} book={loaderData.book} />;
}

function LibraryFrame({ id, name, book }: { id: string; name: string; book: boolean }) {
  const stores = useStores();
  const [store] = useState(() => stores.library(id, name));
  const [selection, setSelection] = useState<ReadonlySet<string>>(new Set());
  const [groupId, setGroupId] = useState<string | null>(null);
  const condition = usePart(store, (s) => s.condition);
  useEffect(() => store.open(), [store]);

  useShortcut('undo', () => void store.undo());
  useShortcut('redo', () => void store.redo());
  useSteps(id, book);

  const workspace = useMemo(
    () => ({
      store,
      book,
      selection,
      select: (ids: Iterable<string>) => setSelection(new Set(ids)),
      groupId,
      setGroupId,
    }),
    [store, book, selection, groupId],
  );
  return (
    <WorkspaceContext value={workspace}>
      <ConditionContext value={condition}>
        <Listening store={store} groupId={groupId} setGroupId={setGroupId} />
        <Outlet />
      </ConditionContext>
    </WorkspaceContext>
  );
}

/** What follows every change of the library, kept apart so that screens are not redrawn for it. */
function Listening({
  store,
  groupId,
  setGroupId,
}: {
  store: LibraryStore;
  groupId: string | null;
  setGroupId(id: string | null): void;
}) {
  const { library, said, problem } = useStore(store);
  const toast = useToast();
  useTold(said, store.dismiss);
  useEffect(() => {
    if (!problem) return;
    const matter = { subscribe: store.subscribe, stands: () => store.snapshot().problem === problem };
    toast({ text: problem, stays: true, matter });
  }, [problem, store, toast]);
  // the first group with a name, until one is pointed at, and when the one pointed at is gone
  const there = library.groups.some((g) => g.id === groupId);
  const first = (library.groups.find((g) => !isLoose(library, g)) ?? library.groups[0])?.id ?? null;
  useEffect(() => {
    if (!there) setGroupId(first);
  }, [there, first, setGroupId]);
  return null;
}

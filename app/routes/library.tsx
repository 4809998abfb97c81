import { lazy, Suspense, useEffect, useMemo, useRef, useState } from 'react';
import { Outlet, redirect, useLocation, useNavigate } from 'react-router';
import { isLoose } from '#core/swatch/index';
import { loaded } from '#server/answers';
import { lastKit } from '#server/kits';
import { readTitle } from '#server/libraries';
import { database } from '#server/open';
import { useSteps } from '~/features/shared/frame/steps';
import { useVisit } from '~/features/shared/use-visit';
import type { LibraryStore } from '~/state/library-store';
import { usePart, useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useKitIsStale, useLibrary, type Workspace, WorkspaceContext } from '~/state/workspace';
import { ConditionContext } from '~/ui/condition';
import { useShortcut } from '~/ui/shortcuts';
import { useToast, useTold } from '~/ui/toast';
import { when } from '~/ui/when';
import type { Route } from './+types/library';

const LinkedFolder = lazy(() =>
  import('~/features/shared/folder/LinkedFolder').then((m) => ({ default: m.LinkedFolder })),
);

const NO_LIBRARY =
  'This library does not exist. It may have been deleted; deleted libraries can be restored from the list.';

export const loader = ({ params, request }: Route.LoaderArgs) =>
  loaded(async () => {
    const db = await database();
    const title = await readTitle(db, params.id);
    if (!title) throw new Response(NO_LIBRARY, { status: 404 });
    // a book is handed over and compared like a library, and else has a page of its own
    if (title.book && !/\/(check|hand-over)(\.data)?$/.test(new URL(request.url).pathname))
      throw redirect(`/books/${params.id}`);
    return { ...title, kit: await lastKit(db, params.id) };
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
  return <LibraryFrame key={params.id} {...loaderData} />;
}

function LibraryFrame({
  id,
  name,
  book,
  kit: first,
}: {
  id: string;
  name: string;
  book: boolean;
  kit: Workspace['kit'];
}) {
  const stores = useStores();
  const [store] = useState(() => stores.library(id, name));
  const [selection, setSelection] = useState<ReadonlySet<string>>(new Set());
  const [groupId, setGroupId] = useState<string | null>(null);
  const [kit, setKit] = useState(first);
  const condition = usePart(store, (s) => s.condition);
  useEffect(() => store.open(), [store]);
  useEffect(() => store.point(selection), [store, selection]);
  useVisit(store);
  // what is on this computer the server does not know
  const [isHere, setHere] = useState(false);
  useEffect(() => setHere('showDirectoryPicker' in window), []);

  // what is gathered has steps of its own
  useShortcut('undo', (event) => !event.defaultPrevented && void store.undo());
  useShortcut('redo', (event) => !event.defaultPrevented && void store.redo());
  useSteps(id, book);

  const workspace = useMemo(
    () => ({
      store,
      book,
      selection,
      select: (ids: Iterable<string>) => setSelection(new Set(ids)),
      groupId,
      setGroupId,
      kit,
      setKit,
    }),
    [store, book, selection, groupId, kit],
  );
  return (
    <WorkspaceContext value={workspace}>
      <ConditionContext value={condition}>
        <Listening store={store} groupId={groupId} setGroupId={setGroupId} />
        <KitWatch />
        {isHere && (
          <Suspense>
            <LinkedFolder store={store} />
          </Suspense>
        )}
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

/** Says once when an edit has made the last kit stale, with the way to a new one. */
function KitWatch() {
  const { store, kit } = useLibrary();
  const isStale = useKitIsStale();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const toast = useToast();
  // only what this edit made stale is reported
  const was = useRef({ kit, isStale, isWhole: false });
  const isWhole = usePart(store, (s) => s.whole);
  useEffect(() => {
    const before = was.current;
    was.current = { kit, isStale, isWhole };
    if (!kit || !isStale || before.isStale || !before.isWhole || before.kit !== kit) return;
    // the bar of that step says it
    if (pathname.endsWith('/hand-over')) return;
    toast({
      text: `The kit handed over ${when(kit.at, new Date())} does not have this change.`,
      action: { label: 'Update kit', run: () => void navigate(`/libraries/${store.id}/hand-over`) },
    });
  }, [kit, isStale, isWhole, pathname, navigate, toast, store]);
  return null;
}

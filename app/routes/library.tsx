import { useEffect, useMemo, useState } from 'react';
import { Outlet } from 'react-router';
import { isLoose } from '#core/swatch/index';
import { database } from '#server/db';
import { readLibrary } from '#server/libraries';
import { LibraryStore, openStores, useStore } from '~/state/library-store';
import { WorkspaceContext } from '~/state/workspace';
import { isCommand, isTyping } from '~/ui/keys';
import { useToast } from '~/ui/toast';
import type { Route } from './+types/library';

export async function loader({ params }: Route.LoaderArgs) {
  const state = await readLibrary(await database(), params.id);
  if (!state) throw new Response('There is no such library.', { status: 404 });
  return state;
}

// the page keeps the library itself, and hears of changes through its store
export const shouldRevalidate = ({
  currentParams,
  nextParams,
}: {
  currentParams: { id?: string };
  nextParams: { id?: string };
}) => currentParams.id !== nextParams.id;

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.library.name ?? 'Library'} · Papillon` },
];

export default function LibraryRoute({ loaderData, params }: Route.ComponentProps) {
  return <LibraryFrame key={params.id} state={loaderData} />;
}

function LibraryFrame({ state }: { state: Route.ComponentProps['loaderData'] }) {
  const [store] = useState(() => new LibraryStore(state));
  const [selection, setSelection] = useState<ReadonlySet<string>>(new Set());
  const [groupId, setGroupId] = useState<string | null>(
    (state.library.groups.find((g) => !isLoose(state.library, g)) ?? state.library.groups[0])?.id ?? null,
  );
  const { problem } = useStore(store);
  const toast = useToast();

  useEffect(() => {
    openStores.set(store.id, store);
    return () => void openStores.delete(store.id);
  }, [store]);

  useEffect(() => {
    // leaving while something is not saved yet would lose it
    const ask = (event: BeforeUnloadEvent) => {
      if (store.snapshot().waiting > 0) event.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [store]);

  useEffect(() => {
    if (problem) toast({ text: problem });
  }, [problem, toast]);

  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (!isCommand(event) || event.key.toLowerCase() !== 'z' || isTyping(event)) return;
      event.preventDefault();
      if (event.shiftKey) store.redo();
      else store.undo();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [store]);

  const workspace = useMemo(
    () => ({
      store,
      selection,
      select: (ids: Iterable<string>) => setSelection(new Set(ids)),
      groupId,
      setGroupId,
    }),
    [store, selection, groupId],
  );
  return (
    <WorkspaceContext value={workspace}>
      <Outlet />
    </WorkspaceContext>
  );
}

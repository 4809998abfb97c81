import { useEffect, useState } from 'react';
import { useLocation } from 'react-router';
import type { Library } from '#core/swatch/index';
import type { HistoryEntry } from '#server/changes';
import { call } from '~/api/call';
import { readHistory } from '~/api/libraries';
import { usePast } from '~/features/shared/use-past';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { Choose } from '~/ui/options';
import { count } from '~/ui/swatch';
import { when } from '~/ui/when';

/** Chooses what the library is held against: another one, or one of its own earlier states. */
export function AgainstChoice({ onChoose }: { onChoose(library: Library | null): void }) {
  const { store } = useLibrary();
  const stores = useStores();
  const [libraries, setLibraries] = useState<{ id: string; name: string; swatchCount: number }[]>([]);
  const [books, setBooks] = useState<{ id: string; name: string; swatchCount: number }[]>([]);
  const [entries, setEntries] = useState<HistoryEntry[]>([]);
  const [value, setValue] = useState('');
  const [problem, setProblem] = useState('');
  const seq = value.startsWith('state ') ? Number(value.slice(6)) : null;
  const past = usePast(store, seq);
  const { key } = useLocation();

  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for again on each visit
  useEffect(() => {
    let live = true;
    void stores
      .listLibraries()
      .then((all) => live && setLibraries((all ?? []).filter((l) => l.id !== store.id)));
    void stores.books.load().then((all) => live && setBooks(all));
    void call(readHistory, { params: { id: store.id } }).then(
      (came) => live && came.ok && setEntries(came.value.entries.slice(0, 30)),
    );
    return () => {
      live = false;
    };
  }, [stores, store.id, key]);

  useEffect(() => {
    if (!value.startsWith('library ')) return;
    let live = true;
    stores
      .library(value.slice(8))
      .whole()
      .then(
        (rows) => live && onChoose(rows.library),
        (error: Error) => live && setProblem(error.message),
      );
    return () => {
      live = false;
    };
  }, [value, stores, onChoose]);

  const state = past.rows?.library;
  const label = entries.find((e) => e.seq === seq)?.label ?? '';
  useEffect(() => {
    // an earlier state goes by another id, and by what was done last
    if (state) onChoose({ ...state, id: `${state.id}-${seq}`, name: `after “${label}”` });
  }, [state, seq, label, onChoose]);

  return (
    <>
      <Choose
        label="against"
        value={value}
        values={[
          ['', 'choose…'],
          ...[...libraries, ...books].map(
            (l) =>
              [
                `library ${l.id}`,
                `${l.name || 'Library without a name'} · ${count(l.swatchCount, 'swatch', 'swatches')}`,
              ] as const,
          ),
          ...entries.map(
            (e) => [`state ${e.seq}`, `after “${e.label}”, ${when(new Date(e.at), new Date())}`] as const,
          ),
        ]}
        onChange={(next) => {
          setProblem('');
          setValue(next);
          if (next === '') onChoose(null);
        }}
      />
      {(problem || past.problem) && <span role="alert">{problem || past.problem}</span>}
    </>
  );
}

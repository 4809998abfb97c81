import { nanoid } from 'nanoid';
import { useMemo, useSyncExternalStore } from 'react';
import { figuresOf } from '#core/reading/figures';
import type { Facts } from '#core/reading/model';
import { spotOf } from '#core/reading/swatches';
import {
  addGroups,
  addReadings,
  addSwatches,
  type Draft,
  READING,
  type Reading,
  readingsOf,
  referTo,
  removeReading,
  setReading,
} from '#core/swatch/index';
import type { KeptReading } from '~/state/readings';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useToast, wayBack } from '~/ui/toast';

/** A measured ink that is shown: one of the library, or one that was only read here. */
export interface ShownReading extends KeptReading {
  /** Where the library keeps it. */
  item: Reading | null;
}

const NONE: Reading[] = [];
const NOTHING = () => undefined;

/** The measured inks of the open library. */
function useKept(): Reading[] {
  const store = useWorkspace()?.store;
  const library = useSyncExternalStore(
    store?.subscribe ?? (() => NOTHING),
    () => store?.snapshot().library ?? null,
    () => store?.snapshot().library ?? null,
  );
  return useMemo(() => (library ? readingsOf(library) : NONE), [library]);
}

/** The measured inks there are, and the one that is looked at, with its figures under D50 and 2°. */
export function useReading() {
  const { readings: store } = useStores();
  const { inks: own, current } = useStore(store);
  const kept = useKept();
  const inks = useMemo(
    (): ShownReading[] => [
      ...kept.map((item) => ({ id: item.id, item, ...item.data })),
      ...own.map((r) => ({ ...r, item: null })),
    ],
    [kept, own],
  );
  const reading = inks.find((r) => r.id === current) ?? inks[0] ?? null;
  const ink = reading?.ink ?? null;
  const figures = useMemo(() => (ink ? figuresOf(ink) : null), [ink]);
  return { store, inks, reading, figures };
}

/** What is done with a measured ink, wherever it is kept. */
export function useReadingActs() {
  const { readings: store } = useStores();
  const library = useWorkspace()?.store;
  const toast = useToast();
  const edit = (draft: Draft, text?: string) => {
    const done = library?.edit(draft);
    if (library && done && text) toast({ text, ...wayBack([library, done]) });
    return done ?? null;
  };
  return {
    rename({ id, item }: ShownReading, name: string) {
      if (item) edit(setReading(item, { name }));
      else store.rename(id, name);
    },
    describe({ id, item }: ShownReading, facts: Facts) {
      if (item) edit(setReading(item, { facts }));
      else store.describe(id, facts);
    },
    remove({ id, item, ink }: ShownReading) {
      if (item) edit(removeReading(item), `${ink.name} is removed.`);
      else {
        const back = store.remove(id);
        toast({ text: `${ink.name} is removed.`, action: { label: 'Undo', run: back } });
      }
    },
    /** Keeps it in the library, of the spot swatch that has its name where there is one. */
    keep(reading: ShownReading) {
      if (!library) return;
      const spot = library.rows.library.groups
        .flatMap((g) => g.swatches)
        .find((s) => s.kind === 'spot' && !s.tint && s.name === reading.ink.name);
      const item = itemOf(reading, spot?.id);
      if (!edit(addReadings(library.rows, [item]), `${reading.ink.name} is kept in the library.`)) return;
      store.remove(reading.id);
      store.look(item.id);
    },
    /** A spot swatch with its spectrum, and the reading with it where the library does not have that yet. */
    addSpot(reading: ShownReading, groupId: string | null) {
      if (!library) return;
      const { rows } = library;
      const swatch = spotOf(reading, nanoid(12));
      const group = rows.library.groups.find((g) => g.id === groupId) ?? rows.library.groups[0];
      const draft = group
        ? addSwatches(rows, group.id, [swatch])
        : addGroups(rows, [{ id: nanoid(12), name: 'Inks', swatches: [swatch] }]);
      const { item } = reading;
      const made = itemOf(reading, swatch.id);
      const own = item ? referTo(item, swatch.id).ops : addReadings(rows, [made]).ops;
      if (!edit({ ...draft, ops: [...draft.ops, ...own] }, `${swatch.name} is in the library.`)) return;
      if (item) return;
      store.remove(reading.id);
      store.look(made.id);
    },
  };
}

const itemOf = ({ ink, facts, from }: ShownReading, swatch: string | undefined): Reading => ({
  id: nanoid(12),
  kind: READING,
  name: ink.name,
  ...(swatch ? { refs: [swatch] } : {}),
  data: { ink, facts, from },
});

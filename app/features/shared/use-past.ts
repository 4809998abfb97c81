import { useEffect, useState } from 'react';
import { changeTo, goBack, type LibraryRows, type Op, TALK_KINDS } from '#core/swatch/index';
import { call } from '~/api/call';
import { readWayBack } from '~/api/libraries';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';

export interface Past {
  /** The library as it was; null while it is on its way, or now. */
  rows: LibraryRows | null;
  /** What would bring it back. */
  ops: Op[];
  /** How many swatches are not as they were, or not there any more, or new. */
  differ: number;
  problem: string | null;
}

const NOW: Past = { rows: null, ops: [], differ: 0, problem: null };

/** The library as it was after a change, from how it is and what leads back. */
export function usePast(store: LibraryStore, seq: number | null): Past {
  const { revision, waiting, whole } = useStore(store);
  const [past, setPast] = useState<{ seq: number | null; past: Past }>({ seq: null, past: NOW });
  useEffect(() => {
    // what leads back begins at what the server has
    if (seq === null || !whole || waiting > 0) return;
    let live = true;
    const show = (part: Partial<Past>) => live && setPast({ seq, past: { ...NOW, ...part } });
    void (async () => {
      const came = await call(readWayBack, { params: { id: store.id, seq: String(seq) } });
      if (!came.ok) {
        show({ problem: came.why });
        return;
      }
      const back = came.value;
      // the store is behind: it catches up, and this runs again
      if (!live || back.seq !== revision) return;
      const rows = store.rows.copy();
      goBack(rows, back.inverses);
      // what was said since stays said
      const said = new Set(
        store.rows.library.items?.flatMap((i) => (TALK_KINDS.includes(i.kind) ? [i.id] : [])),
      );
      const ops = changeTo(store.rows, rows.library).filter((o) => o.of !== 'item' || !said.has(o.id));
      const differ = new Set(ops.flatMap((o) => (o.of === 'swatch' ? [o.id] : []))).size;
      show({ rows, ops, differ });
    })();
    return () => {
      live = false;
    };
  }, [store, seq, revision, waiting, whole]);
  return seq !== null && past.seq === seq ? past.past : NOW;
}

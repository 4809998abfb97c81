import { useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import { call } from '~/api/call';
import { keepVisit, readVisit } from '~/api/people';
import type { LibraryStore } from '~/state/library-store';
import { usePart } from '~/state/store';
import { useStores } from '~/state/stores';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import { when } from '~/ui/when';

const MAX_NAMED = 3;

/** Who did something: “Marit and Printer”, “Marit, Printer and 2 others”. */
export function namedText(names: readonly string[]): string {
  const shown = names.slice(0, MAX_NAMED);
  const left = names.length - shown.length;
  const all = left > 0 ? [...shown, count(left, 'other', 'others')] : shown;
  return all.length > 1 ? `${all.slice(0, -1).join(', ')} and ${all.at(-1)}` : (all[0] ?? '');
}

/** Says what others have done since one last left a library, and remembers what one has seen of it when one leaves. */
export function useVisit(store: LibraryStore): void {
  const { by } = useStores();
  const toast = useToast();
  const navigate = useNavigate();
  const isWhole = usePart(store, (s) => s.whole);
  const asked = useRef(false);
  useEffect(() => {
    if (!isWhole || asked.current) return;
    asked.current = true;
    void call(readVisit, { params: { id: store.id }, query: { by } }).then((came) => {
      // what is not known is not told
      if (!came.ok || !came.value || came.value.changes === 0) return;
      const { seq, at, changes, names } = came.value;
      const whose = names.length > 0 ? ` by ${namedText(names)}` : '';
      toast({
        text: `${count(changes, 'change')}${whose} since your last visit, ${when(new Date(at), new Date())}.`,
        stays: true,
        action: { label: 'Show', run: () => void navigate(`/libraries/${store.id}/history?after=${seq}`) },
      });
    });
  }, [isWhole, store, by, toast, navigate]);
  useEffect(() => {
    if (!isWhole) return;
    const keep = () => {
      if (document.visibilityState === 'visible') return;
      leave();
    };
    const leave = () =>
      void call(keepVisit, { params: { id: store.id }, body: { by, seq: store.seen() }, keepalive: true });
    document.addEventListener('visibilitychange', keep);
    window.addEventListener('pagehide', leave);
    return () => {
      document.removeEventListener('visibilitychange', keep);
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, [isWhole, store, by]);
}

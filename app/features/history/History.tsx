import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { countSwatches } from '#core/swatch/index';
import type { HistoryEntry } from '#server/changes';
import { call } from '~/api/call';
import { readHistory, trimHistory } from '~/api/libraries';
import { usePast } from '~/features/shared/use-past';
import { useVisitor } from '~/state/root-data';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { Panel, Stage } from '~/ui/Frame';
import { Notice } from '~/ui/notice';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { when } from '~/ui/when';
import css from './History.module.css';
import { PastBoard } from './PastBoard';

const LINE = 50;

interface Listed {
  entries: HistoryEntry[];
  count: number;
}

/** History: what was done to the library, and any state of it to be looked at and brought back. */
export function History() {
  const { store } = useLibrary();
  const { by } = useStores();
  const visitor = useVisitor();
  const { library, revision } = useStore(store);
  const [list, setList] = useState<Listed | null>(null);
  const [problem, setProblem] = useState('');
  const [at, setAt] = useState<number | null>(null);
  const [trimming, setTrimming] = useState(false);
  const toast = useToast();
  const navigate = useNavigate();
  const load = useCallback(
    async (before: number | null): Promise<Listed | null> => {
      const came = await call(readHistory, {
        params: { id: store.id },
        query: { before: before ?? undefined },
      });
      if (came.ok) return came.value;
      setProblem(came.why);
      return null;
    },
    [store.id],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: with each change of the library there is one more
  useEffect(() => {
    let live = true;
    void load(null).then((next) => {
      if (!live || !next) return;
      setProblem('');
      setList(next);
    });
    return () => {
      live = false;
    };
  }, [load, revision]);
  const more = async () => {
    const last = list?.entries.at(-1);
    const next = last && (await load(last.seq));
    if (next && list) setList({ ...next, entries: [...list.entries, ...next.entries] });
  };

  const entries = list?.entries ?? [];
  const [search] = useSearchParams();
  const after = search.get('after');
  const since = at === null && after !== null && /^\d{1,15}$/.test(after) ? Number(after) : null;
  const chosen = entries.find((e) => e.seq === at) ?? null;
  // what others did since one was here last is seen beside how it was then
  const past = usePast(store, chosen?.seq ?? since);
  const bringBack = () => {
    if (!past.rows || !chosen) return;
    const id = store.edit({
      label: `bring back how it was after “${chosen.label}”${past.differ > 0 ? `, ${count(past.differ, 'swatch', 'swatches')}` : ''}`,
      ops: past.ops,
    });
    if (!id) return;
    setAt(null);
    void navigate(`/libraries/${library.id}/arrange`);
    toast({ text: 'The earlier state is restored, as a new change.', ...wayBack([store, id]) });
  };
  const trim = async () => {
    setTrimming(false);
    if (!chosen) return;
    const came = await call(trimHistory, { params: { id: store.id }, body: { upTo: chosen.seq } });
    if (!came.ok) {
      toast({ text: `Nothing was removed. ${came.why}` });
      return;
    }
    toast({ text: `${count(came.value.removed, 'change')} removed from the history.` });
    setAt(null);
    setList(await load(null));
  };

  return (
    <>
      <Stage>
        <div className={css.head}>
          <div className={css.said}>
            <h1 className="title">
              {chosen ? `After “${chosen.label}”` : since === null ? 'As it is now' : 'Since your last visit'}
            </h1>
            <p className="second" role="status">
              {past.problem ??
                (chosen
                  ? past.rows
                    ? `${when(new Date(chosen.at), new Date())} · ${count(countSwatches(past.rows.library), 'swatch', 'swatches')} · ${difference(past)}`
                    : 'Going back…'
                  : since !== null && past.rows
                    ? `As it was then; ${difference(past)}. Later changes are at the top of the list.`
                    : 'Choose a change on the right to see the library as it was after it.')}
            </p>
          </div>
          {chosen && (
            <Button variant="contained" disabled={!past.rows || past.ops.length === 0} onClick={bringBack}>
              Restore this state
            </Button>
          )}
        </div>
        <PastBoard
          then={past.rows?.library ?? library}
          now={store.rows}
          compare={!!chosen || since !== null}
        />
      </Stage>
      <Panel side="readout" label="History" className={css.history}>
        <h2 className="caption">
          {list ? `${count(list.count, 'change')}, the latest first` : 'Reading the history…'}
        </h2>
        {problem && <Notice>{problem}</Notice>}
        {list && entries.length === 0 && (
          <p className={`second ${css.none}`}>
            Nothing has changed yet. Every change appears here, and you can go back to it.
          </p>
        )}
        <Entries
          entries={entries}
          at={chosen?.seq ?? null}
          by={by}
          choose={(seq) => setAt(seq === at ? null : seq)}
          more={entries.length < (list?.count ?? 0) ? () => void more() : null}
        />
        {chosen && !visitor && (
          <div className={css.foot}>
            <Button variant="text" onClick={() => setTrimming(true)}>
              Remove the history up to here…
            </Button>
          </div>
        )}
      </Panel>
      {chosen && (
        <Dialog open={trimming} onClose={() => setTrimming(false)} fullWidth maxWidth="xs">
          <DialogTitle>Remove the history up to here</DialogTitle>
          <DialogContent>
            <p>
              “{chosen.label}” and everything before it goes from the history for good, for everyone who works
              with this library. It can no longer be undone or gone back to. The library itself stays as it
              is.
            </p>
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setTrimming(false)}>Keep it</Button>
            <Button variant="contained" onClick={() => void trim()}>
              Remove
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

const difference = ({ differ }: { differ: number }) =>
  differ === 0 ? 'the same as now' : `${count(differ, 'swatch is', 'swatches are')} different now`;

function Entries({
  entries,
  at,
  by,
  choose,
  more,
}: {
  entries: HistoryEntry[];
  at: number | null;
  by: string;
  choose(seq: number): void;
  more: (() => void) | null;
}) {
  const scroller = useRef<HTMLElement>(null);
  const virtual = useVirtualizer({
    count: entries.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE,
    overscan: 6,
  });
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached from the keyboard, too
    <section ref={scroller} className={css.list} aria-label="Changes" tabIndex={0}>
      <div className={css.lines} style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const entry = entries[item.index];
          const who = entry.by === by ? 'you' : (entry.name ?? (entry.by === '' ? '' : 'someone else'));
          return (
            <PlainButton
              key={entry.seq}
              className={css.row}
              aria-current={entry.seq === at}
              data-undone={entry.undone}
              style={{ top: item.start, height: LINE }}
              onClick={() => choose(entry.seq)}
              title={entry.label}
            >
              <span className="cut">
                {entry.step === 'edit' ? entry.label : `${entry.step}: ${entry.label}`}
              </span>
              <span className="caption cut" suppressHydrationWarning>
                {[when(new Date(entry.at), new Date()), who, entry.undone ? 'taken back' : '']
                  .filter(Boolean)
                  .join(' · ')}
              </span>
            </PlainButton>
          );
        })}
      </div>
      {more && (
        <Button variant="text" onClick={more} sx={{ m: 1 }}>
          Show earlier ones
        </Button>
      )}
    </section>
  );
}

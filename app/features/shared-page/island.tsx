import { nanoid } from 'nanoid';
import { useEffect, useRef, useState } from 'react';
import { hydrateRoot } from 'react-dom/client';
import type { SharedComment } from '#server/comments';
import type { SharedView } from '#server/shared';
import { call, valueFrom } from '~/api/call';
import { deleteComment, type Me, nameVisitor, pickShared, writeComment } from '~/api/shared';
import type { Commenting } from '~/features/shared/comments/Threads';
import { surroundCookie } from '~/theme/cookie';
import type { Surround } from '~/theme/tokens';
import { SharedPage, type Standing } from './SharedPage';

// The page of a link, brought to life by itself: without the application, which weighs more than a visitor's phone should load.

export interface IslandData {
  view: SharedView;
  base: string;
  surround: Surround;
  /** Null before they have said their name. */
  me: Me | null;
}

/** How long the server may be silent before the page says that it is away, ms: a short break is none. */
const SILENCE_MS = 4000;

/** A server that sends no events is asked by the page itself, so often, ms. */
const LOOK_MS = 10_000;

/** Keeps what is shown up to date: the server says when it has changed, and when the link ends. */
function useLive(
  first: SharedView,
  base: string,
): { view: SharedView; standing: Standing; reload(): Promise<void> } {
  const [view, setView] = useState(first);
  const [standing, setStanding] = useState<Standing>({ ended: false, away: false });
  const reload = useRef(async () => {});
  useEffect(() => {
    let seen = first.version;
    let silence: ReturnType<typeof setTimeout> | undefined;
    let again: ReturnType<typeof setTimeout> | undefined;
    let later: ReturnType<typeof setTimeout> | undefined;
    let events: EventSource;
    const away = (is: boolean) => setStanding((was) => (was.away === is ? was : { ...was, away: is }));
    const stop = () => {
      events.close();
      clearTimeout(silence);
      clearTimeout(again);
      clearTimeout(later);
    };
    const end = () => {
      stop();
      setStanding({ ended: true, away: false });
    };
    let asked = 0;
    let shown = 0;
    const load = async () => {
      const turn = ++asked;
      const reply = await fetch(`${base}/view`).catch(() => null);
      if (reply?.status === 404) return end();
      if (reply && !reply.ok) {
        // told to wait, or something went wrong there
        clearTimeout(later);
        later = setTimeout(load, LOOK_MS);
      }
      if (!reply?.ok) return;
      const next = (await reply.json()) as SharedView;
      // one that was asked for later may have come before
      if (turn < shown) return;
      shown = turn;
      seen = next.version;
      setView(next);
      clearTimeout(silence);
      away(false);
    };
    const connect = () => {
      events = new EventSource(`${base}/events`);
      events.onopen = () => {
        clearTimeout(silence);
        away(false);
      };
      events.onerror = () => {
        clearTimeout(silence);
        silence = setTimeout(() => away(true), SILENCE_MS);
        // it tries again by itself but where the answer was an error: the link has ended, or the server sends no events
        if (events.readyState !== EventSource.CLOSED) return;
        again = setTimeout(connect, LOOK_MS);
        void load();
      };
      events.addEventListener('change', (e) => {
        if ((e as MessageEvent<string>).data !== seen) void load();
      });
      events.addEventListener('gone', end);
    };
    reload.current = load;
    if (first.later > 0) void load();
    connect();
    // a connection that is cut may look open for long
    const off = () => away(true);
    const on = () => away(false);
    window.addEventListener('offline', off);
    window.addEventListener('online', on);
    return () => {
      window.removeEventListener('offline', off);
      window.removeEventListener('online', on);
      stop();
    };
  }, [first, base]);
  return { view, standing, reload: () => reload.current() };
}

function Island({ view: first, base, surround: chosen, me: known }: IslandData) {
  const { view, standing, reload } = useLive(first, base);
  const [me, setMe] = useState(known);
  const [surround, setSurround] = useState(chosen);
  const choose = (next: Surround) => {
    setSurround(next);
    document.documentElement.dataset.surround = next;
    // biome-ignore lint/suspicious/noDocumentCookie: the Cookie Store API is not in every browser
    document.cookie = surroundCookie(next);
  };
  const token = base.slice(base.lastIndexOf('/') + 1);
  const commenting = (on: string): Commenting => {
    const write = async (body: Omit<SharedComment, 'id' | 'on'>) => {
      await valueFrom(call(writeComment, { params: { token }, body: { id: nanoid(12), on, ...body } }));
      await reload();
    };
    return {
      me,
      mayDelete: false,
      rename: async (name) =>
        setMe(await valueFrom(call(nameVisitor, { params: { token }, body: { name } }))),
      write: (text, thread) => write({ text, thread, mark: null }),
      mark: (thread, mark) => write({ text: '', thread, mark }),
      remove: async (comment) => {
        await valueFrom(call(deleteComment, { params: { token, comment } }));
        await reload();
      },
    };
  };
  return (
    <SharedPage
      {...{ view, base, surround, standing }}
      commenting={view.threads ? commenting : null}
      onPick={async (choice, option, text) => {
        const body = { id: nanoid(12), choice, option, text };
        await valueFrom(call(pickShared, { params: { token }, body }));
        await reload();
      }}
      onSurround={choose}
    />
  );
}

const root = document.getElementById('shared')!;
const data = JSON.parse(document.getElementById('shared-data')!.textContent!) as IslandData;
hydrateRoot(root, <Island {...data} />);

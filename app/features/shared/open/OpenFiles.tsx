import {
  createContext,
  type DragEvent,
  lazy,
  type ReactNode,
  Suspense,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { DropzoneRootProps } from 'react-dropzone';
import { useLocation, useNavigate, useParams } from 'react-router';
import { type Condition, conditionOf } from '#core/color/index';
import { allSwatches } from '#core/swatch/model';
import type { Came } from '~/messages/files-messages';
import { useStores } from '~/state/stores';
import { ConditionContext } from '~/ui/condition';
import { isTyping } from '~/ui/keys';
import { useToast } from '~/ui/toast';
import { useJob } from '~/ui/use-job';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { keepProfile } from '../profiles/keep';
import css from './OpenFiles.module.css';
import { onLaunch, takeShared } from './shared';

// what is seen only once files come in is fetched then, and what takes them when the page is there
const DropZone = lazy(() => import('./DropZone').then((m) => ({ default: m.DropZone })));
const Progress = lazy(() => import('~/ui/progress').then((m) => ({ default: m.Progress })));
const Review = lazy(() => import('./Review').then((m) => ({ default: m.Review })));

export type Given = { file: File; path: string };
/** Gives back those it has no use for; none when it takes them all. */
type Taker = (files: Given[]) => Promise<Given[] | undefined>;
type TextTaker = (text: string) => void;

interface Opening {
  /** Asks for files and opens whatever they are. */
  open(): void;
  /** A screen that has its own use for files gets them instead, wherever they are dropped. */
  setTaker(taker: Taker | null): void;
  /** Files that come in wait until what this gives is called. */
  hold(): () => void;
  /** The same for pasted text. */
  setTextTaker(taker: TextTaker | null): void;
}

const OpenContext = createContext<Opening>({
  open: () => undefined,
  setTaker: () => undefined,
  hold: () => () => undefined,
  setTextTaker: () => undefined,
});

/** Asks for files and opens whatever they are. */
export const useOpenFiles = () => useContext(OpenContext).open;

/** Gives a screen the files that come in while it is shown. */
export function useFileTaker(taker: Taker): void {
  const { setTaker } = useContext(OpenContext);
  useEffect(() => {
    setTaker(taker);
    return () => setTaker(null);
  }, [taker, setTaker]);
}

/** Files that come in wait for the screen they were dropped on, while it is still on its way. */
export function useFilesWait(waits: boolean): void {
  const { hold } = useContext(OpenContext);
  useEffect(() => (waits ? hold() : undefined), [waits, hold]);
}

/** Gives a screen the text that is pasted while it is shown, outside of fields. */
export function useTextTaker(taker: TextTaker): void {
  const { setTextTaker } = useContext(OpenContext);
  useEffect(() => {
    setTextTaker(taker);
    return () => setTextTaker(null);
  }, [taker, setTextTaker]);
}

/** What pasted text is called as a file. */
const PASTED = 'Pasted text';

/** A dropped folder's files say where in it they lie. */
const pathOf = (file: File) => (file as { path?: string }).path?.replace(/^\.?\//, '') || file.name;

/** The one way files, pictures and codes come in: dropped, pasted or picked, on any screen. */
export function OpenFiles({ children }: { children: ReactNode }) {
  const [came, setCame] = useState<{
    /** A second drop while the first is shown starts over. */
    key: number;
    all: Came[];
    condition: Condition;
    files: { file: File; path: string }[];
  } | null>(null);
  const taker = useRef<Taker | null>(null);
  const screen = useRef(Promise.resolve());
  const textTaker = useRef<TextTaker | null>(null);
  const drops = useRef(0);
  const files = useClient(openFilesClient);
  const { job, start, stop } = useJob(files.stop);
  const stores = useStores();
  const { pictures, codes } = stores;
  const toast = useToast();
  const navigate = useNavigate();
  const { id } = useParams();

  const gather = useCallback(
    (files: { file: Blob; path: string }[]) => {
      pictures.open(files.map(({ file, path }) => ({ file, name: path.replace(/^.*\//, '') })));
      void navigate(id ? `/libraries/${id}/gather` : '/gather');
    },
    [id, navigate, pictures],
  );

  const take = useCallback(
    async (given: File[]) => {
      if (given.length === 0) return;
      await screen.current;
      let list: Given[] = given.map((file) => ({ file, path: pathOf(file) }));
      if (taker.current) list = (await taker.current(list)) ?? [];
      if (list.length === 0) return;
      await start('Reading the files', async ({ stage, isWanted }) => {
        const all = await files.ask('read', { files: list, text: false }, stage);
        if (!isWanted()) return;
        const found = all.flatMap((came) => (came.kind === 'picture' ? [came] : []));
        const [first] = all;
        if (found.length > 0 && found.length === all.length) gather(found);
        else if (first.path === PASTED && first.kind === 'problem') {
          // a text that is not a swatch file may still hold codes, and where it does not, each line says so
          codes.add(await list[0].file.text());
          await navigate(`${id ? `/libraries/${id}` : ''}/gather?from=codes`);
        } else {
          const open = id && stores.library(id).snapshot().library;
          const swatches = all.flatMap((came) =>
            came.kind === 'swatches' ? allSwatches(came.read.library) : [],
          );
          // what colours are to be read through stays within their reach, wherever they are placed
          const brought = all.flatMap((came) => (came.kind === 'swatches' ? (came.read.profiles ?? []) : []));
          await stores.colors.bring(brought);
          for (const profile of brought)
            await keepProfile(profile).catch((error: Error) =>
              toast({ text: `A profile that came with it was left out: ${error.message}`, stays: true }),
            );
          const condition = await stores.colors.condition(
            conditionOf(open || {}),
            swatches.map((s) => s.color),
          );
          condition.prepare(swatches.map((s) => s.color));
          if (isWanted()) setCame({ key: ++drops.current, all, condition, files: list });
        }
      });
    },
    [files, start, gather, toast, codes, navigate, id, stores],
  );
  const root = useRef<HTMLDivElement>(null);
  const input = useRef<HTMLInputElement>(null);
  const handlers = useRef<DropzoneRootProps | null>(null);
  const [isDragActive, setDragActive] = useState(false);
  const onDrop = useCallback((dropped: File[]) => void take(dropped), [take]);
  const onUnread = useCallback(
    () =>
      toast({
        text: 'The browser could not read what was dropped. Save it as a file, then choose it here.',
        stays: true,
      }),
    [toast],
  );
  const drags = useMemo(() => {
    const pass =
      (name: 'onDragEnter' | 'onDragOver' | 'onDragLeave' | 'onDrop') => (event: DragEvent<HTMLElement>) => {
        const { current } = handlers;
        current?.[name]?.(event);
        if (!event.dataTransfer.types.includes('Files')) return;
        if (name === 'onDrop' || (name === 'onDragLeave' && !event.relatedTarget)) setDragActive(false);
        if (current) return;
        // the zone is still on its way
        event.preventDefault();
        if (name === 'onDrop') onDrop([...event.dataTransfer.files]);
        else if (name !== 'onDragLeave') setDragActive(true);
      };
    return {
      onDragEnter: pass('onDragEnter'),
      onDragOver: pass('onDragOver'),
      onDragLeave: pass('onDragLeave'),
      onDrop: pass('onDrop'),
    };
  }, [onDrop]);

  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      if (isTyping(event)) return;
      const pasted = [...(event.clipboardData?.files ?? [])];
      const text = event.clipboardData?.getData('text/plain') ?? '';
      if (pasted.length > 0) void take(pasted);
      else if (!text.trim()) return;
      else if (textTaker.current) textTaker.current(text);
      else void take([new File([text], PASTED, { type: 'text/plain' })]);
      event.preventDefault();
    };
    window.addEventListener('paste', paste);
    return () => window.removeEventListener('paste', paste);
  }, [take]);

  // files the system opens with Papillon, and what other programs share with it
  useEffect(() => onLaunch((launched) => void take(launched)), [take]);
  const { search } = useLocation();
  useEffect(() => {
    const came = new URLSearchParams(search).get('shared');
    if (came === null) return;
    const lost = () =>
      toast({ text: 'This browser could not keep what was shared. Save it as a file and open that.' });
    if (came === 'lost') lost();
    else if (came === 'stranger')
      toast({
        text: 'What was shared did not come from this installation and was not opened. Open Papillon, then share it again.',
        stays: true,
      });
    else
      takeShared().then(({ files: shared, text }) => {
        if (shared.length > 0) void take(shared);
        else if (text.trim()) void take([new File([text], PASTED, { type: 'text/plain' })]);
      }, lost);
  }, [search, take, toast]);

  const opening = useMemo(
    () => ({
      open: () => input.current?.click(),
      setTaker: (next: Taker | null) => {
        taker.current = next;
      },
      hold: () => {
        let go = () => {};
        screen.current = new Promise((resolve) => {
          go = resolve;
        });
        return () => go();
      },
      setTextTaker: (next: TextTaker | null) => {
        textTaker.current = next;
      },
    }),
    [],
  );
  return (
    <OpenContext value={opening}>
      <div ref={root} {...drags}>
        <input
          ref={input}
          type="file"
          multiple
          hidden
          data-open-files
          aria-label="Open files"
          onChange={({ target }) => {
            onDrop([...(target.files ?? [])]);
            target.value = '';
          }}
        />
        {children}
      </div>
      {isDragActive && (
        <div className={css.veil}>Drop to open: swatch files, drawings, folders, zips or a picture</div>
      )}
      <Suspense>
        <DropZone
          root={root}
          handlers={handlers}
          onDrop={onDrop}
          onUnread={onUnread}
          onActive={setDragActive}
        />
      </Suspense>
      <Suspense>
        {job && <Progress {...job} onStop={stop} />}
        {came && (
          <ConditionContext value={came.condition}>
            <Review
              key={came.key}
              all={came.all}
              files={came.files}
              gather={gather}
              onClose={() => setCame(null)}
            />
          </ConditionContext>
        )}
      </Suspense>
    </OpenContext>
  );
}

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useVirtualizer } from '@tanstack/react-virtual';
import { BookCopy, Copy, Pencil, Trash2 } from 'lucide-react';
import { nanoid } from 'nanoid';
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useFetcher, useNavigate, useRevalidator, useSearchParams } from 'react-router';
import { renameLibrary } from '#core/swatch/edits';
import type { Deleted, Summary } from '#server/libraries';
import { Header } from '~/features/shared/frame/Header';
import { Tray } from '~/features/shared/frame/Tray';
import { useOpenFiles } from '~/features/shared/open/OpenFiles';
import { usePart } from '~/state/store';
import { useStores } from '~/state/stores';
import { Empty } from '~/ui/empty';
import { Frame, Stage } from '~/ui/Frame';
import { Field } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import { useShortcut } from '~/ui/shortcuts';
import { count, sideBySide } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import { when } from '~/ui/when';
import css from './Home.module.css';
import type { HomeIntent } from './intents';
import { placeOf, shelvesOf, shownAt } from './places';
import { Shelves } from './Shelves';
import { sampleLibrary } from './sample';

const Bin = lazy(() => import('./Bin').then((m) => ({ default: m.Bin })));
const ChosenBar = lazy(() => import('./ChosenBar').then((m) => ({ default: m.ChosenBar })));

const LINE = 81;

/** Home: every library as a wide band of its own colours. */
export function Home({
  libraries: all,
  deleted,
  query,
  epoch,
}: {
  libraries: Summary[];
  deleted: Deleted[];
  query: string;
  /** Of the database they are in. */
  epoch: string;
}) {
  const fetcher = useFetcher();
  const openFiles = useOpenFiles();
  const navigate = useNavigate();
  const stores = useStores();
  const toast = useToast();
  const [search, setSearch] = useSearchParams();
  const { place, sort } = useMemo(() => placeOf(search), [search]);
  const libraries = useMemo(() => shownAt(all, place, sort, query !== ''), [all, place, sort, query]);
  const shelves = useMemo(() => shelvesOf(all), [all]);
  const [typed, setTyped] = useState(query);
  const [renaming, setRenaming] = useState<string | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const [naming, setNaming] = useState(false);
  const find = useRef<HTMLInputElement>(null);
  /** Deleted libraries that have been brought back, and who waits to hear of it. */
  const back = useRef(new Set<string>());
  const listeners = useRef(new Set<() => void>());
  const ask = (intent: HomeIntent) => {
    if (intent.intent === 'restore') for (const id of intent.ids) back.current.add(id);
    if (intent.intent === 'delete') for (const id of intent.ids) back.current.delete(id);
    for (const listener of listeners.current) listener();
    return fetcher.submit(intent, { method: 'post', encType: 'application/json', action: '/?index' });
  };

  // the search follows the typing, with a breath in between
  useEffect(() => {
    if (typed === query) return;
    const wait = setTimeout(
      () =>
        setSearch(
          (was) => {
            const next = new URLSearchParams(was);
            if (typed) next.set('q', typed);
            else next.delete('q');
            return next;
          },
          { replace: true },
        ),
      150,
    );
    return () => clearTimeout(wait);
  }, [typed, query, setSearch]);

  useShortcut('find', () => find.current?.focus());

  const virtual = useVirtualizer({
    count: libraries.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE,
    getItemKey: (i) => libraries[i].id,
    overscan: 4,
    initialRect: { width: 1280, height: 800 },
  });
  // a new name is shown at once, and is on its way like any other change
  const [names, setNames] = useState<Record<string, string>>({});
  const nameOf = (library: Summary) => names[library.id] ?? library.name;
  const unsaved = usePart(stores.outbox, (s) => s.waiting > 0);
  const { revalidate } = useRevalidator();
  useEffect(() => {
    if (unsaved || Object.keys(names).length === 0) return;
    let live = true;
    void revalidate().then(() => live && setNames({}));
    return () => {
      live = false;
    };
  }, [unsaved, names, revalidate]);
  const rename = (library: Summary, name: string) => {
    setNames({ ...names, [library.id]: name });
    stores.outbox.add({
      library: library.id,
      seen: library.seq,
      epoch,
      name: library.name,
      change: { id: nanoid(), by: stores.by, ...renameLibrary(library.id, name) },
    });
  };
  const keepAsBook = async (library: Summary) => {
    try {
      const [id] = await stores.books.make({ intent: 'book', library: library.id, id: nanoid(12) });
      await navigate(`/books/${id}`);
    } catch (error) {
      toast({ text: `No book was made. ${(error as Error).message}`, stays: true });
    }
  };
  const beginWithSample = async () => {
    try {
      await navigate(`/libraries/${await stores.createLibrary(sampleLibrary)}/arrange`);
    } catch (error) {
      toast({ text: `The sample was not made. ${(error as Error).message}`, stays: true });
    }
  };
  const total = libraries.reduce((n, l) => n + l.swatchCount, 0);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const anchor = useRef<string | null>(null);
  // what is not shown is not chosen
  const picked = libraries.filter((l) => chosen.has(l.id));
  const choose = (id: string, on: boolean, isRange: boolean) => {
    const next = new Set(chosen);
    const [from, to] = [
      libraries.findIndex((l) => l.id === anchor.current),
      libraries.findIndex((l) => l.id === id),
    ];
    const run =
      isRange && from >= 0 ? libraries.slice(Math.min(from, to), Math.max(from, to) + 1) : [libraries[to]!];
    for (const one of run)
      if (on) next.add(one.id);
      else next.delete(one.id);
    anchor.current = id;
    setChosen(next);
  };
  const chooseNone = () => setChosen(new Set());
  const remove = (gone: readonly Summary[]) => {
    const ids = gone.map((l) => l.id);
    void ask({ intent: 'delete', ids });
    chooseNone();
    toast({
      text:
        gone.length === 1
          ? `${nameOf(gone[0]!)} is deleted.`
          : `${count(gone.length, 'library', 'libraries')} are deleted.`,
      action: { label: 'Undo', run: () => ask({ intent: 'restore', ids }) },
      matter: {
        subscribe: (listener) => {
          listeners.current.add(listener);
          return () => listeners.current.delete(listener);
        },
        // it is past when they are back, or on their way there
        stands: () => !ids.some((id) => back.current.has(id)),
      },
    });
  };
  const counts = {
    all: all.filter((l) => !l.archivedAt).length,
    archive: all.filter((l) => l.archivedAt).length,
    bin: deleted.length,
  };
  // with nothing but libraries there is nothing to choose between
  const hasPlaces = shelves.length > 0 || counts.archive > 0 || counts.bin > 0 || counts.all > 1;

  return (
    <Frame>
      <Header />
      <Stage wide>
        <div className={css.head}>
          <h1 className="title">Libraries</h1>
          <span className="caption" role="status">
            {place.in === 'bin'
              ? `${count(deleted.length, 'library', 'libraries')} in the bin`
              : query
                ? `${count(libraries.length, 'library', 'libraries')} with “${query}”`
                : `${libraries.length} here · ${count(total, 'swatch', 'swatches')}`}
          </span>
          <Field
            ref={find}
            className={css.search}
            placeholder="Library, group, swatch, role, code, #hex     /"
            aria-label="Search the libraries"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
            onKeyDown={(e) => e.key === 'Escape' && setTyped('')}
          />
          <Button variant="text" component={Link} to="/books">
            Books
          </Button>
          <Button variant="text" component={Link} to="/profiles">
            Print profiles
          </Button>
          <Button variant="text" component={Link} to="/backups">
            Backups
          </Button>
          <Button component={Link} to="/pdf">
            PDF
          </Button>
          <Button component={Link} to="/convert">
            Convert files
          </Button>
          <Button onClick={openFiles}>Open files</Button>
          <Button variant="contained" disabled={fetcher.state !== 'idle'} onClick={() => setNaming(true)}>
            New library
          </Button>
        </div>
        {hasPlaces && (
          <Shelves place={place} sort={sort} shelves={shelves} counts={counts} ask={(i) => void ask(i)} />
        )}
        {place.in === 'bin' ? (
          <Suspense>
            <Bin deleted={deleted} ask={(i) => void ask(i)} />
          </Suspense>
        ) : libraries.length === 0 && place.in !== 'all' && !query ? (
          <Empty
            level="h2"
            title={place.in === 'shelf' ? 'Nothing stands on this shelf' : 'The archive is empty'}
            text={
              place.in === 'shelf'
                ? 'What was on it is in the archive, or in the bin.'
                : 'Choose libraries by the box before their names, and archive them: they stay as they are, out of the way.'
            }
          >
            <Button component={Link} to="/">
              Show all
            </Button>
          </Empty>
        ) : libraries.length === 0 ? (
          <Empty
            level="h2"
            title={query ? 'No matches' : 'No libraries yet'}
            text={
              query
                ? 'Names of libraries, groups and swatches, roles and codes are searched; “dark blue” and “close to #8a1c24” find colours.'
                : 'Drop a picture here to take colours from it, or swatch files, drawings, folders or zips to open them. All common formats are supported.'
            }
          >
            {query ? (
              <Button onClick={() => setTyped('')}>Show all</Button>
            ) : (
              <>
                <Button variant="contained" onClick={openFiles}>
                  Open a picture or a file
                </Button>
                <Button component={Link} to="/gather?from=codes">
                  Type or paste codes
                </Button>
                <Button onClick={() => void beginWithSample()}>Open a sample library</Button>
              </>
            )}
          </Empty>
        ) : (
          <div ref={scroller} className={css.list}>
            <div className={css.lines} style={{ height: virtual.getTotalSize() }}>
              {virtual.getVirtualItems().map((item) => {
                const library = libraries[item.index];
                return (
                  <div key={library.id} className={css.row} style={{ top: item.start, height: LINE }}>
                    <span className={css.choose} data-any={picked.length > 0}>
                      <Tick
                        silent
                        label={`Choose ${nameOf(library)}`}
                        checked={chosen.has(library.id)}
                        onChange={(on, isRange) => choose(library.id, on, isRange)}
                      />
                    </span>
                    <div className={css.words}>
                      {renaming === library.id ? (
                        <RenameField
                          label="Name of the library"
                          name={nameOf(library)}
                          onRename={(name) => rename(library, name)}
                          onDone={() => setRenaming(null)}
                        />
                      ) : (
                        <Link
                          to={`/libraries/${library.id}/arrange`}
                          className={`cut ${css.name}`}
                          dir="auto"
                          title={nameOf(library)}
                        >
                          {nameOf(library) || 'Library without a name'}
                        </Link>
                      )}
                      <span className={`caption cut ${css.facts}`}>
                        {library.found?.length
                          ? `with ${library.found.join(', ')}`
                          : [
                              count(library.swatchCount, 'swatch', 'swatches'),
                              library.groupCount > 0 && count(library.groupCount, 'group'),
                              library.archivedAt && place.in !== 'archive' && 'in the archive',
                              ...library.shelves.filter(
                                (name) => place.in !== 'shelf' || name !== place.name,
                              ),
                            ]
                              .filter(Boolean)
                              .join(' · ')}
                      </span>
                    </div>
                    <Link
                      to={`/libraries/${library.id}/arrange`}
                      tabIndex={-1}
                      aria-hidden
                      className={css.band}
                    >
                      {library.band.map((group, g) => (
                        <span key={g} style={{ flexGrow: group.length, background: sideBySide(group) }} />
                      ))}
                    </Link>
                    <div className={css.end}>
                      <span className={`caption ${css.when}`} suppressHydrationWarning>
                        {when(library.changedAt, new Date())}
                      </span>
                      <span className={css.actions}>
                        <Action
                          label={`Rename ${nameOf(library)}`}
                          onClick={() => setRenaming(library.id)}
                          icon={Pencil}
                        />
                        <Action
                          label={`Duplicate ${nameOf(library)}`}
                          onClick={() => ask({ intent: 'duplicate', id: library.id, copy: nanoid(12) })}
                          icon={Copy}
                        />
                        <Action
                          label={`Keep ${nameOf(library)} as a book`}
                          onClick={() => void keepAsBook(library)}
                          icon={BookCopy}
                        />
                        <Action
                          label={`Delete ${nameOf(library)}`}
                          onClick={() => remove([library])}
                          icon={Trash2}
                        />
                      </span>
                    </div>
                  </div>
                );
              })}
            </div>
            <p className={`caption ${css.hint}`}>
              Drop swatch files, pictures, drawings or zips anywhere to open them.
            </p>
          </div>
        )}
      </Stage>
      {picked.length > 0 ? (
        <Suspense fallback={<Tray />}>
          <ChosenBar
            chosen={picked}
            shelves={shelves.map((s) => s.name)}
            ask={(i) => void ask(i)}
            onDelete={() => remove(picked)}
            onDone={chooseNone}
          />
        </Suspense>
      ) : (
        <Tray />
      )}
      {naming && (
        <NewLibrary
          onMake={(name) => {
            setNaming(false);
            void ask({ intent: 'new', id: nanoid(12), name });
          }}
          onClose={() => setNaming(false)}
        />
      )}
    </Frame>
  );
}

/** Asks what a new library is called. */
function NewLibrary({ onMake, onClose }: { onMake(name: string): void; onClose(): void }) {
  const [name, setName] = useState('');
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          onMake(name.trim());
        }}
      >
        <DialogTitle>New library</DialogTitle>
        <DialogContent>
          <Field
            autoFocus
            dir="auto"
            style={{ width: '100%' }}
            placeholder="Client, project, season…"
            aria-label="Name of the library"
            value={name}
            onChange={(e) => setName(e.target.value.slice(0, 1000))}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={name.trim() === ''}>
            Make library
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

function Action({ label, onClick, icon: Icon }: { label: string; onClick(): void; icon: typeof Copy }) {
  return (
    <PlainButton look="icon" aria-label={label} title={label} onClick={onClick}>
      <Icon size={15} strokeWidth={1.7} />
    </PlainButton>
  );
}

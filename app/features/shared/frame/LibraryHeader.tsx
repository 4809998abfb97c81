import { History, MessageSquare, Redo2, Share2, Undo2 } from 'lucide-react';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Link, NavLink } from 'react-router';
import { countSwatches, openThreads, renameLibrary } from '#core/swatch/index';
import type { LibraryStore } from '~/state/library-store';
import { useVisitor } from '~/state/root-data';
import { usePart } from '~/state/store';
import { useKitIsStale, useLibrary } from '~/state/workspace';
import { Initials } from '~/ui/initials';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import { ariaKeys } from '~/ui/shortcuts';
import { count } from '~/ui/swatch';
import { when } from '~/ui/when';
import { Find } from './Find';
import { Header } from './Header';
import css from './LibraryHeader.module.css';
import { steps } from './steps';

/** The top bar of an open library: its name, the steps, find, undo. */
export function LibraryHeader() {
  const { store, book } = useLibrary();
  const visitor = useVisitor();
  if (book)
    return (
      <Header>
        <span className="second" aria-hidden>
          /
        </span>
        <Link className={`cut ${css.name}`} dir="auto" to={`/books/${store.id}`}>
          <BookName store={store} />
        </Link>
        <nav aria-label="Steps" className={css.steps}>
          <NavLink to={`/libraries/${store.id}/check`}>Check</NavLink>
          <NavLink to={`/libraries/${store.id}/hand-over`}>Hand over</NavLink>
        </nav>
      </Header>
    );
  return (
    <Header
      right={
        <>
          <Here store={store} />
          <Find />
          <Talk />
          {!visitor && <Share />}
          <Steps store={store} />
        </>
      }
    >
      <span className="second" aria-hidden>
        /
      </span>
      <Name store={store} />
      <Count store={store} />
      <nav aria-label="Steps" className={css.steps}>
        {steps.map(([to, label]) => (
          <StepLink key={to} to={to} label={label} />
        ))}
      </nav>
    </Header>
  );
}

/** A step's link; Hand over has a mark while the last kit is not the library as it is. */
function StepLink({ to, label }: { to: string; label: string }) {
  const { store, kit } = useLibrary();
  const isStale = useKitIsStale() && to === 'hand-over';
  return (
    <NavLink
      to={`/libraries/${store.id}/${to}`}
      prefetch="intent"
      title={isStale && kit ? `Changed since the kit handed over ${when(kit.at, new Date())}` : undefined}
    >
      {label}
      {isStale && <span className={css.mark} aria-hidden />}
    </NavLink>
  );
}

const MAX_HERE = 3;

/** Who else is at the library now. */
function Here({ store }: { store: LibraryStore }) {
  const others = usePart(store, (s) => s.others);
  // somebody may have several pages open
  const people = [...new Map(others.map((o) => [o.person, o.name])).values()];
  if (people.length === 0) return null;
  const more = people.slice(MAX_HERE);
  return (
    <span className={css.here}>
      {people.slice(0, MAX_HERE).map((name, i) => (
        <Initials key={i} name={name} title={`${name} is here`} />
      ))}
      {more.length > 0 && (
        <span className="caption" title={more.join(', ')}>
          +{more.length}
        </span>
      )}
    </span>
  );
}

const ShareDialog = lazy(() => import('../share/ShareDialog').then((m) => ({ default: m.ShareDialog })));

/** Links for others to this library. */
function Share() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <PlainButton look="icon" title="Share by links" aria-label="Share" onClick={() => setOpen(true)}>
        <Share2 size={16} strokeWidth={1.7} />
      </PlainButton>
      <Suspense>{open && <ShareDialog onClose={() => setOpen(false)} />}</Suspense>
    </>
  );
}

const CommentsDialog = lazy(() =>
  import('../comments/CommentsDialog').then((m) => ({ default: m.CommentsDialog })),
);

/** All comments of the library, with how many are open. */
function Talk() {
  const { store } = useLibrary();
  const items = usePart(store, (s) => s.library.items);
  const open = useMemo(
    () => [...openThreads({ items: items ?? [] }).values()].reduce((a, b) => a + b, 0),
    [items],
  );
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <PlainButton
        look="icon"
        className={css.talk}
        title={open > 0 ? `${count(open, 'open comment')}` : 'Comments'}
        onClick={() => setOpen(true)}
      >
        <MessageSquare size={16} strokeWidth={1.7} aria-hidden />
        {open > 0 && <span className={css.open}>{open}</span>}
        <span className="unseen">{open > 0 ? 'open comments' : 'Comments'}</span>
      </PlainButton>
      <Suspense>{isOpen && <CommentsDialog onClose={() => setOpen(false)} />}</Suspense>
    </>
  );
}

/** Undo, redo and the way to the history. */
function Steps({ store }: { store: LibraryStore }) {
  const undo = usePart(store, (s) => s.undo);
  const redo = usePart(store, (s) => s.redo);
  return (
    <>
      <PlainButton
        look="icon"
        title={undo ? `Undo: ${undo}` : 'Nothing to undo'}
        aria-label="Undo"
        aria-keyshortcuts={ariaKeys('undo')}
        disabled={!undo}
        onClick={() => store.undo()}
      >
        <Undo2 size={17} strokeWidth={1.8} />
      </PlainButton>
      <PlainButton
        look="icon"
        title={redo ? `Redo: ${redo}` : 'Nothing to redo'}
        aria-label="Redo"
        aria-keyshortcuts={ariaKeys('redo')}
        disabled={!redo}
        onClick={() => store.redo()}
      >
        <Redo2 size={17} strokeWidth={1.8} />
      </PlainButton>
      <Link
        title="History: what was done, and every earlier state"
        className={css.icon}
        to={`/libraries/${store.id}/history`}
        aria-label="History"
      >
        <History size={17} strokeWidth={1.7} />
      </Link>
    </>
  );
}

function BookName({ store }: { store: LibraryStore }) {
  return usePart(store, (s) => s.library.name) || 'Book without a name';
}

function Name({ store }: { store: LibraryStore }) {
  const name = usePart(store, (s) => s.library.name);
  const [editing, setEditing] = useState(false);
  return editing ? (
    <RenameField
      className={css.rename}
      label="Name of the library"
      name={name}
      onRename={(next) => store.edit(renameLibrary(store.id, next))}
      onDone={() => setEditing(false)}
    />
  ) : (
    <PlainButton
      look="tab"
      className={`cut ${css.name}`}
      dir="auto"
      title={`${name} · click to rename`}
      onClick={() => setEditing(true)}
    >
      {name || 'Library without a name'}
    </PlainButton>
  );
}

/** How many swatches there are, and whether all is saved. */
function Count({ store }: { store: LibraryStore }) {
  const text = usePart(store, ({ library, reading, problem, waiting }) =>
    reading
      ? `reading ${count(reading.done, 'swatch', 'swatches')} of ${reading.of}…`
      : `${count(countSwatches(library), 'swatch', 'swatches')} · ${problem ? 'not saved' : waiting ? 'saving…' : 'saved'}`,
  );
  return (
    <span className={`caption ${css.count}`} role="status">
      {text}
    </span>
  );
}

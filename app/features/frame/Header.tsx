import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { CircleHelp, History, LogOut, Redo2, Undo2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Link, NavLink, useRouteLoaderData } from 'react-router';
import { countSwatches, renameLibrary } from '#core/swatch/index';
import type { LibraryStore } from '~/state/library-store';
import { postJson } from '~/state/post';
import { usePart } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { count } from '~/ui/swatch';
import { Find } from './Find';
import { Mark } from './Mark';
import { Shortcuts } from './Shortcuts';
import { SurroundChoice } from './SurroundChoice';

/** The top bar of every screen. */
export function Header({ children, right }: { children?: ReactNode; right?: ReactNode }) {
  const [help, setHelp] = useState(false);
  return (
    <header className="header bar">
      <Link
        to="/"
        style={{ display: 'flex', alignItems: 'center', gap: 12, fontWeight: 600, fontSize: 15 }}
        aria-label="Papillon, all libraries"
      >
        <Mark />
        Papillon
      </Link>
      {children}
      <div style={{ marginLeft: 'auto', display: 'flex', alignItems: 'center', gap: 6 }}>
        {right}
        <SurroundChoice />
        <SignOut />
        <Tooltip title="Keys and shortcuts (?)">
          <IconButton aria-label="Keys and shortcuts" onClick={() => setHelp(true)}>
            <CircleHelp size={17} strokeWidth={1.6} />
          </IconButton>
        </Tooltip>
      </div>
      <Shortcuts open={help} setOpen={setHelp} />
    </header>
  );
}

/** Where a password is asked for. */
function SignOut() {
  const data = useRouteLoaderData('root') as { password: boolean } | undefined;
  if (!data?.password) return null;
  const leave = async () => {
    await postJson('/sign-out', {});
    location.assign('/');
  };
  return (
    <Tooltip title="Sign out">
      <IconButton aria-label="Sign out" onClick={() => void leave()}>
        <LogOut size={16} strokeWidth={1.6} />
      </IconButton>
    </Tooltip>
  );
}

const steps = [
  ['gather', 'Gather'],
  ['arrange', 'Arrange'],
  ['hand-over', 'Hand over'],
] as const;

/** The top bar of an open library: its name, the steps, find, undo. */
export function LibraryHeader() {
  const { store } = useLibrary();
  return (
    <Header
      right={
        <>
          <Find />
          <Steps store={store} />
        </>
      }
    >
      <span className="second">/</span>
      <Name store={store} />
      <Count store={store} />
      <nav aria-label="Steps">
        {steps.map(([to, label]) => (
          <NavLink key={to} to={`/libraries/${store.id}/${to}`} prefetch="intent">
            {label}
          </NavLink>
        ))}
      </nav>
    </Header>
  );
}

/** Undo, redo and the way to the history. */
function Steps({ store }: { store: LibraryStore }) {
  const undo = usePart(store, (s) => s.undo);
  const redo = usePart(store, (s) => s.redo);
  return (
    <>
      <Tooltip title={undo ? `Undo: ${undo}` : 'Nothing to undo'}>
        <span>
          <IconButton aria-label="Undo" disabled={!undo} onClick={() => store.undo()}>
            <Undo2 size={17} strokeWidth={1.8} />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title={redo ? `Redo: ${redo}` : 'Nothing to redo'}>
        <span>
          <IconButton aria-label="Redo" disabled={!redo} onClick={() => store.redo()}>
            <Redo2 size={17} strokeWidth={1.8} />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title="History: what was done, and every earlier state">
        <IconButton component={Link} to={`/libraries/${store.id}/history`} aria-label="History">
          <History size={17} strokeWidth={1.7} />
        </IconButton>
      </Tooltip>
    </>
  );
}

function Name({ store }: { store: LibraryStore }) {
  const name = usePart(store, (s) => s.library.name);
  const [editing, setEditing] = useState(false);
  const rename = (next: string) => {
    setEditing(false);
    if (next !== name) store.edit(renameLibrary(store.id, next));
  };
  return editing ? (
    <input
      className="plain-input"
      style={{ maxWidth: 220, fontSize: 15 }}
      aria-label="Name of the library"
      defaultValue={name}
      // biome-ignore lint/a11y/noAutofocus: the user has just asked to type here
      autoFocus
      onBlur={(e) => rename(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === 'Enter') rename(e.currentTarget.value);
        if (e.key === 'Escape') setEditing(false);
      }}
    />
  ) : (
    <button
      type="button"
      className="tab cut"
      style={{ color: 'var(--ink)', fontSize: 15, fontWeight: 500, maxWidth: 230 }}
      title={`${name} · click to rename`}
      onClick={() => setEditing(true)}
    >
      {name || 'Library without a name'}
    </button>
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
    <span className="caption count" role="status">
      {text}
    </span>
  );
}

import Tooltip from '@mui/material/Tooltip';
import { CircleHelp, History, LogOut, Redo2, Undo2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Link, NavLink, useRouteLoaderData } from 'react-router';
import { countSwatches, renameLibrary } from '#core/swatch/index';
import type { LibraryStore } from '~/state/library-store';
import { postJson } from '~/state/post';
import { usePart } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import { count } from '~/ui/swatch';
import { Find } from './Find';
import { DrawerButton } from './Frame';
import css from './Header.module.css';
import { Mark } from './Mark';
import { Shortcuts } from './Shortcuts';
import { SurroundChoice } from './SurroundChoice';

/** The top bar of every screen. */
export function Header({ children, right }: { children?: ReactNode; right?: ReactNode }) {
  const [help, setHelp] = useState(false);
  return (
    <header className={css.header}>
      <DrawerButton side="outline" />
      <Link to="/" className={css.home} aria-label="Papillon, all libraries">
        <Mark />
        <span className={css.word}>Papillon</span>
      </Link>
      {children}
      <div className={css.right}>
        {right}
        <SurroundChoice />
        <SignOut />
        <Tooltip title="Keys and shortcuts (?)">
          <PlainButton look="icon" aria-label="Keys and shortcuts" onClick={() => setHelp(true)}>
            <CircleHelp size={17} strokeWidth={1.6} />
          </PlainButton>
        </Tooltip>
        <DrawerButton side="readout" />
      </div>
      <Shortcuts open={help} setOpen={setHelp} />
    </header>
  );
}

/** Where one is, on screens without a library. */
export const Where = ({ children }: { children: ReactNode }) => (
  <>
    <span className="second" aria-hidden>
      /
    </span>
    <span className={css.where}>{children}</span>
  </>
);

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
      <PlainButton look="icon" aria-label="Sign out" onClick={() => void leave()}>
        <LogOut size={16} strokeWidth={1.6} />
      </PlainButton>
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
      <span className="second" aria-hidden>
        /
      </span>
      <Name store={store} />
      <Count store={store} />
      <nav aria-label="Steps" className={css.steps}>
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
          <PlainButton look="icon" aria-label="Undo" disabled={!undo} onClick={() => store.undo()}>
            <Undo2 size={17} strokeWidth={1.8} />
          </PlainButton>
        </span>
      </Tooltip>
      <Tooltip title={redo ? `Redo: ${redo}` : 'Nothing to redo'}>
        <span>
          <PlainButton look="icon" aria-label="Redo" disabled={!redo} onClick={() => store.redo()}>
            <Redo2 size={17} strokeWidth={1.8} />
          </PlainButton>
        </span>
      </Tooltip>
      <Tooltip title="History: what was done, and every earlier state">
        <Link className={css.icon} to={`/libraries/${store.id}/history`} aria-label="History">
          <History size={17} strokeWidth={1.7} />
        </Link>
      </Tooltip>
    </>
  );
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

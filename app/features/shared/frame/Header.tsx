import { CircleHelp, LogOut, Menu, SquareSlash } from 'lucide-react';
import { lazy, type ReactNode, Suspense, useEffect, useRef, useState } from 'react';
import { Link, useRouteLoaderData } from 'react-router';
import { call } from '~/api/call';
import { signOut } from '~/api/session';
import { useVisitor } from '~/state/root-data';
import { DrawerButton } from '~/ui/Frame';
import { PlainButton } from '~/ui/plain-button';
import { ariaKeys, useShortcut } from '~/ui/shortcuts';
import css from './Header.module.css';
import { Mark } from './Mark';
import { SurroundChoice } from './SurroundChoice';

const Shortcuts = lazy(() => import('./Shortcuts').then((m) => ({ default: m.Shortcuts })));

const Commands = lazy(() => import('./Commands').then((m) => ({ default: m.Commands })));

/** The top bar of every screen. */
export function Header({ children, right }: { children?: ReactNode; right?: ReactNode }) {
  const [help, setHelp] = useState(false);
  const [commands, setCommands] = useState(false);
  // a phone has room for these only when they are asked for
  const [more, setMore] = useState(false);
  const visitor = useVisitor();
  const rest = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!more) return;
    const shut = (event: Event) => {
      if (
        event instanceof KeyboardEvent
          ? event.key === 'Escape'
          : !rest.current?.contains(event.target as Node)
      )
        setMore(false);
    };
    window.addEventListener('keydown', shut);
    window.addEventListener('pointerdown', shut);
    return () => {
      window.removeEventListener('keydown', shut);
      window.removeEventListener('pointerdown', shut);
    };
  }, [more]);
  useShortcut('find', () => {
    setMore(true);
    return false;
  });
  useShortcut('help', () => setHelp(true));
  useShortcut('commands', () => setCommands(true));
  return (
    <header className={css.header}>
      <a href="#stage" className={css.skip} data-no-act>
        Skip to the work
      </a>
      <DrawerButton side="outline" />
      <Link
        to={visitor ? `/libraries/${visitor.library}/arrange` : '/'}
        className={css.home}
        aria-label={visitor ? 'Papillon, the library' : 'Papillon, all libraries'}
        data-no-act
      >
        <Mark />
        <span className={css.word}>Papillon</span>
      </Link>
      {children}
      <div className={css.right}>
        <div ref={rest} className={css.gathered}>
          <PlainButton
            look="icon"
            className={css.more}
            aria-label="More"
            aria-expanded={more}
            onClick={() => setMore(!more)}
          >
            <Menu size={17} strokeWidth={1.7} />
          </PlainButton>
          <div className={css.rest} data-shown={more}>
            {right}
            <SurroundChoice />
            {!visitor && <SignOut />}
            <PlainButton
              look="icon"
              title="Commands (Ctrl or Cmd + K)"
              aria-label="Commands"
              aria-keyshortcuts={ariaKeys('commands')}
              data-no-act
              onClick={() => setCommands(true)}
            >
              <SquareSlash size={17} strokeWidth={1.6} />
            </PlainButton>
            <PlainButton
              look="icon"
              title="Help and keys (?)"
              aria-label="Help and keys"
              aria-keyshortcuts={ariaKeys('help')}
              onClick={() => setHelp(true)}
            >
              <CircleHelp size={17} strokeWidth={1.6} />
            </PlainButton>
          </div>
        </div>
        <DrawerButton side="readout" />
      </div>
      <Suspense>
        {help && <Shortcuts onClose={() => setHelp(false)} />}
        {commands && <Commands onClose={() => setCommands(false)} />}
      </Suspense>
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
    await call(signOut, { body: {} });
    location.assign('/');
  };
  return (
    <PlainButton look="icon" title="Sign out" aria-label="Sign out" onClick={() => void leave()}>
      <LogOut size={16} strokeWidth={1.6} />
    </PlainButton>
  );
}

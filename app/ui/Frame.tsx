import { PanelLeft, PanelRight } from 'lucide-react';
import {
  type ComponentProps,
  createContext,
  type ReactNode,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import { useNavigationType } from 'react-router';
import css from './Frame.module.css';
import { focusWork } from './focus-work';
import { PlainButton } from './plain-button';

/** Outline on the left, readout on the right. On an upright tablet both are drawers. */
type Side = 'outline' | 'readout';

/** Where they are drawers, as the style sheet has it. */
const NARROW = '(max-width: 820px)';

interface Drawers {
  /** The panels this screen has, by what they are called. */
  panels: Partial<Record<Side, string>>;
  open: Side | null;
  setOpen(side: Side | null): void;
}
const DrawersContext = createContext<Drawers>({ panels: {}, open: null, setOpen: () => undefined });

/** Shuts whatever drawer is open: what was looked for in it has been found. */
export function useShutDrawers(): () => void {
  const { setOpen } = useContext(DrawersContext);
  return () => setOpen(null);
}

/** The frame of every screen: a header, then outline, stage and readout, and a bar at the bottom. */
export function Frame({ panels = {}, children }: { panels?: Drawers['panels']; children: ReactNode }) {
  const [open, setOpen] = useState<Side | null>(null);
  const { outline, readout } = panels;
  const drawers = useMemo(
    () => ({
      panels: { ...(outline ? { outline } : {}), ...(readout ? { readout } : {}) },
      open,
      setOpen,
    }),
    [outline, readout, open],
  );
  useEffect(() => {
    if (!open) return;
    const listen = (event: KeyboardEvent) => event.key === 'Escape' && setOpen(null);
    // a tablet that is turned has both panels in sight again
    const narrow = matchMedia(NARROW);
    const turn = () => setOpen(null);
    window.addEventListener('keydown', listen);
    narrow.addEventListener('change', turn);
    return () => {
      window.removeEventListener('keydown', listen);
      narrow.removeEventListener('change', turn);
    };
  }, [open]);
  return (
    <DrawersContext value={drawers}>
      <div className={css.frame} data-outline={!!outline}>
        {children}
        {/* biome-ignore lint/a11y/noStaticElementInteractions: Escape and the drawer's own button do the same */}
        {/* biome-ignore lint/a11y/useKeyWithClickEvents: see above */}
        {open && <div className={css.veil} onClick={() => setOpen(null)} />}
      </div>
    </DrawersContext>
  );
}

const icons = { outline: PanelLeft, readout: PanelRight };

/** Opens and shuts a drawer; not there where the panel is always in sight. */
export function DrawerButton({ side }: { side: Side }) {
  const { panels, open, setOpen } = useContext(DrawersContext);
  const label = panels[side];
  const button = useRef<HTMLButtonElement>(null);
  const mine = open === side;
  useEffect(() => {
    if (!mine) return;
    // the keyboard goes back to where it came from
    return () => {
      if (document.activeElement?.closest('[data-open]') || document.activeElement === document.body)
        button.current?.focus();
    };
  }, [mine]);
  if (!label) return null;
  const Icon = icons[side];
  return (
    <PlainButton
      ref={button}
      look="icon"
      className={css.drawerButton}
      aria-label={label}
      aria-expanded={mine}
      onClick={() => setOpen(mine ? null : side)}
    >
      <Icon size={17} strokeWidth={1.7} />
    </PlainButton>
  );
}

/** What stands beside the stage. */
export function Panel({
  side,
  label,
  className = '',
  children,
}: {
  side: Side;
  label: string;
  className?: string;
  children: ReactNode;
}) {
  const { open } = useContext(DrawersContext);
  const panel = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (open === side) panel.current?.focus();
  }, [open, side]);
  return (
    // biome-ignore lint/a11y/useAriaPropsSupportedByRole: it has a role, one of two
    <div
      ref={panel}
      tabIndex={-1}
      className={`${css.panel} ${css[side]} ${className}`}
      aria-label={label}
      data-open={open === side}
      role={open === side ? 'dialog' : 'complementary'}
      aria-modal={open === side || undefined}
    >
      {children}
    </div>
  );
}

/** What the step is about. */
export function Stage({ wide, row, children }: { wide?: boolean; row?: boolean; children: ReactNode }) {
  const { open } = useContext(DrawersContext);
  const how = useNavigationType();
  // biome-ignore lint/correctness/useExhaustiveDependencies: once a step comes, and not when a page is first loaded
  useEffect(() => {
    if (how !== 'POP') focusWork();
  }, []);
  return (
    <main
      id="stage"
      tabIndex={-1}
      className={css.stage}
      data-wide={wide}
      data-row={row}
      inert={open !== null}
    >
      {children}
    </main>
  );
}

/** The line above the stage. */
export function Toolbar({ className = '', ...rest }: ComponentProps<'div'>) {
  return <div className={`${css.toolbar} ${className}`} {...rest} />;
}

/** The bar at the bottom: the tray, or what takes the kit. */
export function BottomBar({
  label,
  filled,
  children,
}: {
  label: string;
  filled?: boolean;
  children: ReactNode;
}) {
  return (
    <section className={css.bottom} aria-label={label} data-filled={filled}>
      {children}
    </section>
  );
}

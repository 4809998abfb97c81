import Dialog from '@mui/material/Dialog';
import { type KeyboardEvent, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { writableFacts } from '#core/formats/plan';
import { useVisitor } from '~/state/root-data';
import { usePart } from '~/state/store';
import { useStores } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { type Act, actsOf, suits } from '~/ui/acts';
import { useCondition } from '~/ui/condition';
import { Field } from '~/ui/field';
import { type Scope, shortcutActs } from '~/ui/shortcuts';
import { count, SwatchFace, swatchLabel } from '~/ui/swatch';
import css from './Commands.module.css';
import { steps } from './steps';
import { useHits } from './use-hits';

interface Command extends Act {
  /** What kind of thing it is, in a word or two. */
  kind: string;
  face?: Parameters<typeof SwatchFace>[0]['swatch'];
}

const MAX_SHOWN = 60;
const MAX_SWATCHES = 20;

const PAGES = [
  ['/', 'Libraries'],
  ['/books', 'Books'],
  ['/profiles', 'Print profiles'],
  ['/convert', 'Convert files'],
  ['/pdf', 'Inks of a PDF'],
  ['/formats', 'Formats'],
  ['/backups', 'Backups'],
] as const;

const SOURCES = [
  ['harmony', 'Harmony'],
  ['book', 'Book'],
  ['codes', 'Codes'],
  ['artwork', 'Artwork'],
  ['reading', 'Reading'],
] as const;

/** The commands that lead somewhere: steps, pages, formats, the other libraries. */
function useWays(): Command[] {
  const workspace = useWorkspace();
  const visitor = useVisitor();
  const stores = useStores();
  const navigate = useNavigate();
  const [libraries, setLibraries] = useState<{ id: string; name: string; swatchCount: number }[]>([]);
  useEffect(() => {
    let isWanted = true;
    void stores.listLibraries().then((all) => isWanted && setLibraries(all ?? []));
    return () => {
      isWanted = false;
    };
  }, [stores]);
  return useMemo(() => {
    const to = (path: string) => () => void navigate(path);
    const id = workspace?.store.id;
    const here = workspace && !workspace.book ? `/libraries/${id}` : '';
    return [
      ...(here ? [...steps, ['history', 'History'] as const] : []).map(([end, label]) => ({
        label,
        kind: 'step',
        run: to(`${here}/${end}`),
      })),
      ...SOURCES.filter(([from]) => !visitor || from !== 'book').map(([from, label]) => ({
        label: `Gather: ${label}`,
        kind: 'source',
        run: to(`${here}/gather?from=${from}`),
      })),
      // whoever came by a link has one library
      ...PAGES.filter(([path]) => !visitor || path === '/formats').map(([path, label]) => ({
        label,
        kind: 'page',
        run: to(path),
      })),
      ...libraries
        .filter((l) => l.id !== id)
        .map((l) => ({
          label: l.name || 'Library without a name',
          kind: `library · ${count(l.swatchCount, 'swatch', 'swatches')}`,
          run: to(`/libraries/${l.id}/arrange`),
        })),
      ...writableFacts.map((f) => ({
        label: here ? `Hand over as ${f.name}` : `Convert to ${f.name}`,
        kind: `format · .${f.endings[0]}`,
        run: to(here ? `${here}/hand-over?format=${f.id}` : `/convert?format=${f.id}`),
      })),
    ];
  }, [workspace, visitor, navigate, libraries]);
}

/** The swatches of the open library that are meant, as commands that go to them. */
function useSwatches(typed: string): { of: string; swatches: Command[] } {
  const workspace = useWorkspace();
  const stores = useStores();
  const condition = useCondition();
  const navigate = useNavigate();
  const wanted = workspace && !workspace.book ? typed : '';
  const library = usePart(workspace?.store ?? stores.tray, (s) => (wanted ? s.library : null));
  const { of, found } = useHits(library, wanted, condition);
  if (!workspace || workspace.book) return { of: typed, swatches: [] };
  const swatches = found.slice(0, MAX_SWATCHES).map(({ swatch, group }) => ({
    label: swatchLabel(swatch, condition),
    kind: ['swatch', group.name, swatch.code].filter(Boolean).join(' · '),
    face: swatch,
    run: () => {
      workspace.select([swatch.id]);
      void navigate(`/libraries/${workspace.store.id}/arrange`);
    },
  }));
  return { of, swatches };
}

/** Finds every act, step, library, swatch and format by typing. */
export function Commands({ onClose }: { onClose(): void }) {
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  // what lay before the dialog came
  const { pathname } = useLocation();
  const workspace = useWorkspace();
  const [acts] = useState(() => [
    ...shortcutActs(/[^/]+$/.exec(pathname)?.[0] as Scope | undefined, workspace !== null),
    ...actsOf(document),
  ]);
  const ways = useWays();
  const asked = typed.trim().toLocaleLowerCase('en');
  const wanted = useDeferredValue(asked);
  const { of, swatches } = useSwatches(wanted);
  const shown = useMemo(() => {
    const labels = new Set(ways.map((w) => w.label));
    const here = acts.filter((a) => !labels.has(a.label)).map((a) => ({ ...a, kind: 'on this screen' }));
    const isStep = (w: Command) => w.kind === 'step';
    const all: Command[] = [...ways.filter(isStep), ...here, ...ways.filter((w) => !isStep(w))];
    const ranked = wanted
      ? all
          .map((command) => ({ command, rank: suits(`${command.label} ${command.kind}`, wanted) }))
          .filter(({ rank }) => rank > 0)
          .sort((a, b) => b.rank - a.rank)
          .map(({ command }) => command)
      : all;
    return [...ranked.slice(0, MAX_SHOWN), ...swatches];
  }, [acts, ways, wanted, swatches]);
  const chosen = Math.min(at, shown.length - 1);

  const go = (command: Command | undefined) => {
    if (!command) return;
    onClose();
    // after the focus is back where it was
    setTimeout(command.run);
  };
  // who presses Enter before the list has followed means the first of what was typed
  const [isEager, setEager] = useState(false);
  const isReady =
    wanted === asked && (of === asked || (chosen >= 0 && chosen < shown.length - swatches.length));
  // biome-ignore lint/correctness/useExhaustiveDependencies: it goes once, with what is there then
  useEffect(() => {
    if (!isEager || !isReady) return;
    setEager(false);
    go(shown[chosen]);
  }, [isEager, isReady]);
  const key = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[event.key];
    if (by) {
      event.preventDefault();
      const next = Math.max(0, Math.min(shown.length - 1, chosen + by));
      setAt(next);
      document.getElementById(`command-${next}`)?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') {
      event.preventDefault();
      setEager(true);
    }
  };
  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="sm"
      slotProps={{ paper: { className: css.paper, 'aria-label': 'Commands' } }}
    >
      <Field
        autoFocus
        className={css.field}
        placeholder="What do you want to do?"
        aria-label="Find an act, a step, a library, a swatch or a format"
        role="combobox"
        aria-expanded
        aria-controls="commands"
        aria-activedescendant={shown.length > 0 ? `command-${chosen}` : undefined}
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          setAt(0);
          setEager(false);
        }}
        onKeyDown={key}
      />
      <div role="listbox" id="commands" aria-label="Commands" className={css.list}>
        {shown.map((command, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the field's arrow keys and Enter do the same
          // biome-ignore lint/a11y/useFocusableInteractive: the focus stays in the field
          <div
            key={i}
            id={`command-${i}`}
            role="option"
            aria-selected={i === chosen}
            className={css.command}
            onMouseDown={(e) => e.preventDefault()}
            onClick={() => go(command)}
          >
            {command.face && <SwatchFace swatch={command.face} className={css.face} />}
            <span className={`cut ${css.label}`} dir="auto">
              {command.label}
            </span>
            <span className={`caption cut ${css.kind}`}>{command.kind}</span>
            {command.keys && (
              <kbd className="mono">{command.keys.split(' ')[0]!.replace('Control', 'Ctrl')}</kbd>
            )}
          </div>
        ))}
      </div>
      <p className={`caption ${css.note}`} role="status">
        {shown.length === 0
          ? 'Nothing has that name. Type a part of what a button, a library, a swatch or a format is called.'
          : `${count(shown.length, 'entry', 'entries')} · arrow keys to choose, Enter to go`}
      </p>
    </Dialog>
  );
}

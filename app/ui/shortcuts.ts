import { useEffect, useRef } from 'react';
import type { Act } from './acts';
import { isCommand, isInDialog, isTyping } from './keys';

/** Where a key is heard: on every screen, on those of a library, on some, or by what is in focus. */
export type Scope =
  | 'everywhere'
  | 'library'
  | 'arrange'
  | 'apply'
  | 'gather'
  | 'check'
  | 'hand-over'
  | 'focus';

export interface Shortcut {
  /** `mod` is Ctrl, or Cmd where there is one; `digit` and `letter` stand for any. */
  keys: readonly string[];
  scope: Scope | readonly Scope[];
  /** Heard in a field, too. */
  inFields?: true;
  /** How the page of keys calls them; made of `keys` where that is plain enough. */
  shown?: string;
  does: string;
  /** What the list of commands calls it, where no button does the same. */
  command?: string;
}

const ANY: Record<string, RegExp> = { digit: /^\d$/, letter: /^[\p{L}\p{N}#]$/u };
const areSame = (a: string, b: string) => a === b || !!ANY[a]?.test(b) || !!ANY[b]?.test(a);

const scopesOf = ({ scope }: Shortcut): readonly Scope[] => (typeof scope === 'string' ? [scope] : scope);
/** Whether two are ever heard at the same time; each thing in focus has keys of its own. */
const meet = (a: Scope, b: Scope) =>
  a !== 'focus' && b !== 'focus' && (a === b || [a, b].some((s) => s === 'everywhere' || s === 'library'));

/** The registry itself. @throws Error where a key would be heard by two */
export function register<const R extends Record<string, Shortcut>>(registry: R): R {
  const all = Object.entries<Shortcut>(registry);
  for (const [i, [one, mine]] of all.entries())
    for (const [other, theirs] of all.slice(i + 1)) {
      if (!scopesOf(mine).some((a) => scopesOf(theirs).some((b) => meet(a, b)))) continue;
      const twice = mine.keys.find((key) => theirs.keys.some((k) => areSame(key, k)));
      if (twice) throw new Error(`The key “${twice}” is bound twice: ${one} and ${other}.`);
    }
  return registry;
}

/** Every key there is. The page of keys shows them in this order. */
export const shortcuts = register({
  walk: { keys: ['arrow'], scope: 'focus', shown: 'Arrow keys', does: 'go from swatch to swatch' },
  choose: {
    keys: [' '],
    scope: 'focus',
    shown: 'Space, Shift or Ctrl with a click',
    does: 'choose one, a run, or several',
  },
  chooseAll: { keys: ['mod+a'], scope: 'arrange', does: 'choose all', command: 'Choose all' },
  add: { keys: ['a'], scope: 'arrange', does: 'add a swatch by its code' },
  rename: { keys: ['enter'], scope: 'focus', does: 'rename' },
  remove: {
    keys: ['delete', 'backspace'],
    scope: 'arrange',
    shown: 'Delete',
    does: 'delete what is chosen',
    command: 'Delete what is chosen',
  },
  move: { keys: ['alt+arrow'], scope: 'focus', shown: 'Alt + ← →', does: 'move what is chosen' },
  copy: { keys: ['mod+c'], scope: 'arrange', does: 'copy the hex codes' },
  paste: {
    keys: ['mod+v'],
    scope: 'everywhere',
    does: 'open what is on the clipboard: a picture, a file, codes',
  },
  undo: { keys: ['mod+z'], scope: 'library', does: 'undo' },
  redo: { keys: ['mod+shift+z'], scope: 'library', does: 'redo' },
  zoom: {
    keys: ['+', '-', '0'],
    scope: 'focus',
    shown: 'Plus, minus, 0',
    does: 'on a picture: closer, further, the whole of it',
  },
  pick: {
    keys: ['enter'],
    scope: 'focus',
    shown: 'Enter on a picture',
    does: 'take the colour under the pointer, which the arrow keys move',
  },
  renameTake: { keys: ['f2'], scope: 'focus', does: 'rename a take' },
  nearest: {
    keys: ['n'],
    scope: ['arrange', 'gather', 'check'],
    does: 'the nearest to what is chosen, in books and libraries; type a number to swap for it',
    command: 'Nearest in books and libraries',
  },
  tune: {
    keys: ['t'],
    scope: ['arrange', 'gather'],
    does: 'tune what is chosen: lighter, calmer, another hue, another light',
    command: 'Tune what is chosen',
  },
  number: { keys: ['digit'], scope: 'gather', shown: 'A digit, in a book', does: 'go to a number' },
  begin: {
    keys: ['letter'],
    scope: 'apply',
    shown: 'A letter or digit, in Apply',
    does: 'begin the name or number that what is chosen becomes',
  },
  sample: {
    keys: ['alt+click'],
    scope: 'focus',
    shown: 'Alt with a click, in Apply',
    does: 'take the colour of another part',
  },
  nudge: {
    keys: ['arrow'],
    scope: 'focus',
    shown: 'Arrow keys on a handle',
    does: 'move a member of a family, a stop or a joint; finer with Shift',
  },
  toTray: {
    keys: ['mod+enter'],
    scope: 'gather',
    inFields: true,
    does: 'put what is gathered in the tray',
  },
  takeKit: { keys: ['mod+enter'], scope: 'hand-over', inFields: true, does: 'download the kit' },
  place: {
    keys: ['mod+shift+enter'],
    scope: 'everywhere',
    inFields: true,
    does: 'place what is in the tray',
  },
  nextStep: { keys: [']'], scope: 'library', does: 'next step', command: 'Next step' },
  previousStep: { keys: ['['], scope: 'library', does: 'previous step', command: 'Previous step' },
  commands: {
    keys: ['mod+k'],
    scope: 'everywhere',
    inFields: true,
    does: 'find every act, step, library, swatch and format by typing',
  },
  find: { keys: ['/'], scope: 'everywhere', does: 'find', command: 'Find' },
  help: { keys: ['?'], scope: 'everywhere', does: 'help for the screen, and this list' },
});

export type ShortcutId = keyof typeof shortcuts;

const NAMES: Record<string, string> = { mod: 'Ctrl or Cmd', shift: 'Shift', alt: 'Alt' };

/** The keys as the page of keys writes them. */
export function keysShown({ keys, shown }: Shortcut): string {
  if (shown) return shown;
  const parts = keys[0]!.split('+');
  return parts
    .map(
      (part) =>
        NAMES[part] ?? (part.length === 1 ? part.toUpperCase() : part[0]!.toUpperCase() + part.slice(1)),
    )
    .join(' + ');
}

/** The keys as `aria-keyshortcuts` of what they press. */
export const ariaKeys = (id: ShortcutId): string =>
  (shortcuts[id] as Shortcut).keys
    .flatMap((chord) =>
      chord.includes('mod') ? [chord.replace('mod', 'Control'), chord.replace('mod', 'Meta')] : [chord],
    )
    .map((chord) => chord.replace(/(^|\+)([a-z])/g, (_, plus, letter) => plus + letter.toUpperCase()))
    .join(' ');

/** The shortcuts that are commands on this screen, each as pressing its key. */
export function shortcutActs(scope: Scope | undefined, inLibrary: boolean): Act[] {
  return Object.values<Shortcut>(shortcuts).flatMap((shortcut) => {
    const { command, keys } = shortcut;
    const isHeard = scopesOf(shortcut).some(
      (s) => s === 'everywhere' || s === scope || (s === 'library' && inLibrary),
    );
    if (!command || !isHeard) return [];
    const parts = keys[0]!.length > 1 ? keys[0]!.split('+') : [keys[0]!];
    const key = parts.at(-1)!;
    return {
      label: command,
      keys: keysShown(shortcut),
      run: () => {
        const target = document.activeElement ?? document.body;
        const pressed = { key, ctrlKey: parts.includes('mod'), bubbles: true };
        target.dispatchEvent(new KeyboardEvent('keydown', pressed));
      },
    };
  });
}

type Pressed = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'> &
  Partial<Pick<KeyboardEvent, 'getModifierState'>>;

/** Whether a key that was pressed is one of a shortcut's. */
export function isPressed(id: ShortcutId, event: Pressed): boolean {
  const key = event.key.toLowerCase();
  // some keyboards need AltGr for a sign, and report it as Ctrl and Alt
  const altGr = event.getModifierState?.('AltGraph') ?? false;
  const [mod, alt] = altGr ? [false, false] : [isCommand(event), event.altKey];
  return (shortcuts[id] as Shortcut).keys.some((chord) => {
    const parts = chord.length > 1 ? chord.split('+') : [chord];
    const wanted = parts.at(-1)!;
    if (mod !== parts.includes('mod') || alt !== parts.includes('alt')) return false;
    if (ANY[wanted]) return ANY[wanted].test(key);
    // what Shift makes of a sign is the sign
    if (parts.length > 1 && event.shiftKey !== parts.includes('shift')) return false;
    return key === wanted;
  });
}

/**
 * Does something when a key is pressed anywhere on the screen, but in a field, unless it is heard there, too.
 *
 * @param run gives false where there is nothing to do: the key goes on to the browser then
 * @param isFirst hears the key before others, who see by the event that it was prevented
 */
export function useShortcut(id: ShortcutId, run: (event: KeyboardEvent) => unknown, isFirst = false): void {
  const latest = useRef(run);
  latest.current = run;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const { inFields } = shortcuts[id] as Shortcut;
      if (!isPressed(id, event) || (inFields ? isInDialog(event) : isTyping(event))) return;
      if (latest.current(event) !== false) event.preventDefault();
    };
    window.addEventListener('keydown', listen, isFirst);
    return () => window.removeEventListener('keydown', listen, isFirst);
  }, [id, isFirst]);
}

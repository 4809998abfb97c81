import type { Draft, Op, Overwritten, Skip } from './change.ts';
import type { LibraryRows } from './rows.ts';

/** A change that can be taken back, or one taken back that can be done again. */
export interface Step {
  /** Of the change to be taken back: for redo, the one that undid. */
  id: string;
  label: string;
  /** For redo: the change that comes back. */
  of?: string;
}

/** What undo and redo do next, and after that: the next one last. */
export interface Steps {
  undo: Step[];
  redo: Step[];
}

/** At most this many steps are known ahead; the server tells more as they are used up. */
export const STEPS_KNOWN = 50;

/** The steps after one's own change: a new one can be undone and ends what could be redone. */
export function stepsAfter(
  { undo, redo }: Steps,
  { id, label, undoes }: { id: string; label: string; undoes?: string | undefined },
): Steps {
  if (!undoes) return { undo: [...undo, { id, label }].slice(-STEPS_KNOWN), redo: [] };
  const done = undo.find((s) => s.id === undoes);
  if (done)
    return {
      undo: undo.filter((s) => s !== done),
      redo: [...redo, { id, label: done.label, of: done.id }],
    };
  const undone = redo.find((s) => s.id === undoes);
  if (undone?.of)
    return {
      undo: [...undo, { id: undone.of, label: undone.label }],
      redo: redo.filter((s) => s !== undone),
    };
  return { undo, redo };
}

/** A change as it was done, whoever did it. */
export interface Done extends Draft {
  /** Counts the library's changes from 1. */
  seq: number;
  id: string;
  by: string;
  /** When, ms since 1970. */
  at: number;
  undoes?: string;
  inverse: Op[];
}

/**
 * The library as it was before later changes: the rows are changed.
 *
 * @param later all that came after, the latest first
 */
export function goBack(rows: LibraryRows, later: Iterable<Pick<Done, 'inverse'>>): void {
  for (const { inverse } of later) rows.apply(inverse);
}

// --- in words

const n = (count: number, one: string, many = `${one}s`) => (count === 1 ? `1 ${one}` : `${count} ${many}`);
const things = { swatch: 'swatch', group: 'group', item: 'item', library: 'library' } as const;
const many = { swatch: 'swatches', group: 'groups', item: 'items', library: 'libraries' } as const;

const what = (list: { of: keyof typeof things; id: string }[]) => {
  const { of } = list[0]!;
  const ids = new Set(list.filter((l) => l.of === of).map((l) => l.id));
  return { text: n(ids.size, things[of], many[of]), single: ids.size === 1 };
};

/** Why steps were skipped, a sentence for each reason. */
export function tellSkipped(skipped: readonly Skip[]): string[] {
  const said: string[] = [];
  for (const why of ['gone', 'there', 'changed', 'filled', 'homeless'] as const) {
    const list = skipped.filter((s) => s.why === why);
    if (list.length === 0) continue;
    const { text, single } = what(list);
    const [is, has, it] = single ? ['is', 'has', 'it'] : ['are', 'have', 'they'];
    if (why === 'gone') said.push(`${text} ${is} no longer in the library.`);
    if (why === 'there')
      said.push(`${text} ${is} in the library already and ${single ? 'stays' : 'stay'} as ${it} ${is}.`);
    if (why === 'changed')
      said.push(`${text} ${has} been changed since and ${single ? 'stays' : 'stay'} as ${it} ${is}.`);
    if (why === 'filled')
      said.push(
        `${text} ${single ? 'stays' : 'stay'}: someone has put swatches in ${single ? 'it' : 'them'}.`,
      );
    if (why === 'homeless')
      said.push(
        `The group has been deleted meanwhile: ${text} now ${single ? 'stands' : 'stand'} in no group.`,
      );
  }
  return said;
}

const short = (v: unknown) =>
  typeof v === 'string' ? `“${v.length > 40 ? `${v.slice(0, 40)}…` : v}”` : null;
const verbs: Record<string, string> = {
  name: 'renamed',
  color: 'recoloured',
  role: 'given another role',
  order: 'moved',
  group: 'moved',
};

/** That a change has put its values in place of others', and which, in a sentence. */
export function tellOverwritten(list: readonly Overwritten[]): string | null {
  if (list.length === 0) return null;
  const [first] = list;
  const { text, single } = what([...list]);
  const fields = new Set(list.map((o) => verbs[o.field] ?? 'changed'));
  const verb = fields.size === 1 ? [...fields][0] : 'changed';
  const [theirs, mine] = [short(first!.theirs), short(first!.mine)];
  if (single && first!.field === 'name' && theirs && mine)
    return `Someone had meanwhile named it ${theirs}; your ${mine} took its place. The history has both.`;
  return `Someone had meanwhile ${verb} ${text}; your change took the place of theirs. The history has both.`;
}

/** The same seen from the other side: another's change took the place of its own. */
export function tellLost(list: readonly Overwritten[]): string {
  // a page that was opened since does not know any more what it was
  if (list.length === 0) return 'Someone has changed what you had changed. The history has both.';
  const [first] = list;
  const { text, single } = what([...list]);
  const [mine, theirs] = [short(first!.theirs), short(first!.mine)];
  if (single && first!.field === 'name' && mine && theirs)
    return `Someone has renamed your ${mine} to ${theirs}. The history has both.`;
  return `Someone has changed ${text} that you had changed. The history has both.`;
}

import type { Group, Item, LibraryFacts, Swatch } from './model.ts';
import { keyBefore, type OrderKey } from './order-keys.ts';

export const ROW_KINDS = ['library', 'group', 'swatch', 'item'] as const;
/** What a library is made of. */
export type RowKind = (typeof ROW_KINDS)[number];

/** A row's fields as JSON values. What is not there has no key; in a `set`, null takes a field away. */
export type Fields = Readonly<Record<string, unknown>>;
/** Fields as what they are of; whatever comes in from outside has been checked to be so. */
export const fieldsAs = <T extends object>(fields: object): T => fields as T;

/** One step of a change: a new row, other values for some of its fields, or its end. */
export type Op =
  | { op: 'put'; of: RowKind; id: string; fields: Fields }
  | { op: 'set'; of: RowKind; id: string; fields: Fields }
  | { op: 'drop'; of: RowKind; id: string };

/** What is done to a library, without who does it: made by the functions of `edits.ts`. */
export interface Draft {
  /** In a few words, for undo and history. */
  label: string;
  ops: Op[];
}

/**
 * A change of a library, as data. Everything that changes a library is one of these: the browser applies it at once, the
 * server applies the same with the same function, once for each id.
 */
export interface Change extends Draft {
  id: string;
  /** Who makes it; undo takes back one's own. Empty for nobody in particular. */
  by: string;
  /** The change that this one takes back. Its steps follow from that one and from what has happened since. */
  undoes?: string;
}

/** Fields of a swatch's row beside those of the swatch itself. */
export interface Place {
  group: string;
  order: OrderKey;
}

/** A step, or some fields of it, that did not come to pass. */
export interface Skip {
  /**
   * `gone`: the row is not there any more; `there`: one with its id is there already; `changed`: what was to be taken back has
   * been changed since; `filled`: the group holds swatches that the change does not know; `homeless`: the group of the swatch
   * is gone, so that it stands in no group now.
   */
  why: 'gone' | 'there' | 'changed' | 'filled' | 'homeless';
  of: RowKind;
  id: string;
  fields?: string[];
}

/** What a holder of rows is asked for while a change is applied to it. */
export interface RowReader {
  /** The row's fields; null when there is none. Asked for the rows that the steps name, and for groups whose ids begin with {@link LOOSE}. */
  get(of: RowKind, id: string): Fields | null;
  /** How many swatches a group holds. */
  membersOf(group: string): number;
  /** The group that stands first. */
  firstGroup(): { id: string; name: string; order: OrderKey } | null;
}

/** A row as it was and as it is now; null for none. */
export interface Write {
  of: RowKind;
  id: string;
  before: Fields | null;
  after: Fields | null;
}

export interface Applied {
  /** What was done, without what was skipped. */
  ops: Op[];
  /** What takes it back: the former values, the last step first. */
  inverse: Op[];
  /** The rows to be written, each once. */
  writes: Write[];
  skipped: Skip[];
}

/** How the ids begin of the groups for swatches in no group, where one has to be made: `loose`, `loose-2` and so on. */
export const LOOSE = 'loose';

const keyOf = (of: RowKind, id: string) => `${of} ${id}`;

/**
 * Applies the steps of a change to rows, whoever holds them: it reads through `rows`, writes nothing itself, and tells the
 * holder what to write. Steps that have become impossible are skipped and told; the others are done.
 */
export function applyOps(ops: readonly Op[], rows: RowReader): Applied {
  const now = new Map<string, Write>();
  const members = new Map<string, number>();
  const done: Op[] = [];
  const inverse: Op[] = [];
  const skipped: Skip[] = [];
  const touch = (of: RowKind, id: string): Write => {
    const key = keyOf(of, id);
    const found = now.get(key);
    if (found) return found;
    const before = rows.get(of, id);
    const fresh = { of, id, before, after: before };
    now.set(key, fresh);
    return fresh;
  };
  const count = (group: unknown, by: number) => {
    if (typeof group === 'string') members.set(group, (members.get(group) ?? 0) + by);
  };
  const write = (row: Write, after: Fields | null) => {
    if (row.of === 'swatch') {
      count(row.after?.group, -1);
      count(after?.group, 1);
    }
    row.after = after;
  };
  const put = (row: Write, fields: Fields) => {
    write(row, fields);
    done.push({ op: 'put', of: row.of, id: row.id, fields });
    inverse.push({ op: 'drop', of: row.of, id: row.id });
  };
  let looseMade: Write | null = null;
  /** The group where a swatch stands whose own is gone. */
  const loose = (): string => {
    if (looseMade?.after?.name === '') return looseMade.id;
    const first = rows.firstGroup();
    const there = first && touch('group', first.id);
    if (there?.after && there.after.name === '') return there.id;
    // one that was made so before may have been given a name or another place since: it is the user's
    let [row, n] = [touch('group', LOOSE), 1];
    while (row.after) row = touch('group', `${LOOSE}-${++n}`);
    put(row, { order: keyBefore(first?.order ?? null), name: '' });
    looseMade = row;
    return row.id;
  };
  const atHome = (of: RowKind, id: string, fields: Fields): Fields => {
    if (of !== 'swatch' || typeof fields.group !== 'string' || touch('group', fields.group).after)
      return fields;
    skipped.push({ why: 'homeless', of, id });
    return { ...fields, group: loose() };
  };

  for (const step of ops) {
    const { of, id } = step;
    const row = touch(of, id);
    if (step.op === 'put') {
      if (row.after) {
        if (!same(row.after, step.fields)) skipped.push({ why: 'there', of, id });
        continue;
      }
      put(row, atHome(of, id, step.fields));
    } else if (step.op === 'set') {
      if (!row.after) {
        skipped.push({ why: 'gone', of, id });
        continue;
      }
      const fields = atHome(of, id, step.fields);
      const former: Record<string, unknown> = {};
      const after: Record<string, unknown> = { ...row.after };
      for (const [field, value] of Object.entries(fields)) {
        former[field] = row.after[field] ?? null;
        if (value === null) delete after[field];
        else after[field] = value;
      }
      write(row, after);
      done.push({ op: 'set', of, id, fields });
      inverse.push({ op: 'set', of, id, fields: former });
    } else {
      // it is where it was to be
      if (!row.after) continue;
      if (of === 'group' && rows.membersOf(id) + (members.get(id) ?? 0) > 0) {
        skipped.push({ why: 'filled', of, id });
        continue;
      }
      const fields = row.after;
      write(row, null);
      done.push({ op: 'drop', of, id });
      inverse.push({ op: 'put', of, id, fields });
    }
  }
  return {
    ops: done,
    inverse: inverse.reverse(),
    writes: [...now.values()].filter((row) => row.before !== row.after),
    skipped,
  };
}

/**
 * The steps that take a change back, where its fields still have the values it gave; `kept` names what others have changed
 * since, which stays as it is.
 */
export function undoOps(
  { ops, inverse }: Pick<Applied, 'ops' | 'inverse'>,
  rows: RowReader,
): { ops: Op[]; kept: Skip[] } {
  const given = new Map<string, Fields | null>();
  for (const { of, id, ...step } of ops) {
    const key = keyOf(of, id);
    given.set(
      key,
      step.op === 'drop' ? null : step.op === 'put' ? step.fields : { ...given.get(key), ...step.fields },
    );
  }
  const steps: Op[] = [];
  const kept: Skip[] = [];
  for (const step of inverse) {
    const { of, id } = step;
    const now = rows.get(of, id);
    if (step.op === 'put') {
      if (!now) steps.push(step);
      else if (!same(now, step.fields)) kept.push({ why: 'there', of, id });
      continue;
    }
    if (!now) {
      if (step.op === 'set') kept.push({ why: 'gone', of, id });
      continue;
    }
    const gave = given.get(keyOf(of, id)) ?? {};
    if (step.op === 'drop') {
      const changed = fieldsOf(now, gave).filter((f) => f !== 'order' && !same(now[f], gave[f]));
      if (changed.length > 0) kept.push({ why: 'changed', of, id, fields: changed });
      else steps.push(step);
      continue;
    }
    const back = Object.entries(step.fields).filter(([f]) => same(now[f] ?? null, gave[f] ?? null));
    if (back.length > 0) steps.push({ op: 'set', of, id, fields: Object.fromEntries(back) });
    const changed = Object.keys(step.fields).filter((f) => !back.some(([b]) => b === f));
    if (changed.length > 0) kept.push({ why: 'changed', of, id, fields: changed });
  }
  return { ops: steps, kept };
}

/** A value of another's that a change has put its own in place of. */
export interface Overwritten {
  of: RowKind;
  id: string;
  field: string;
  theirs: unknown;
  mine: unknown;
}

/** Where steps put their own values over those that others gave meanwhile. */
export function overwritten(mine: readonly Op[], theirs: readonly Op[]): Overwritten[] {
  const given = new Map<string, Record<string, unknown>>();
  for (const step of theirs)
    if (step.op === 'set') {
      const key = keyOf(step.of, step.id);
      given.set(key, { ...given.get(key), ...step.fields });
    }
  if (given.size === 0) return [];
  const found: Overwritten[] = [];
  for (const step of mine) {
    const there = step.op === 'put' ? undefined : given.get(keyOf(step.of, step.id));
    if (!there) continue;
    const { of, id } = step;
    for (const [field, value] of Object.entries(there))
      if (step.op === 'drop') found.push({ of, id, field, theirs: value, mine: null });
      else if (step.op === 'set' && field in step.fields && !same(step.fields[field], value))
        found.push({ of, id, field, theirs: value, mine: step.fields[field] });
  }
  return found;
}

const plain = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null;
const fieldsOf = (...rows: Fields[]) => [...new Set(rows.flatMap(Object.keys))];

/** Whether two JSON values are the same, in whatever order their keys are. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (!plain(a) || !plain(b) || Array.isArray(a) !== Array.isArray(b)) return false;
  const keys = Object.keys(a).filter((k) => a[k] !== undefined);
  return (
    keys.length === Object.keys(b).filter((k) => b[k] !== undefined).length &&
    keys.every((k) => same(a[k], b[k]))
  );
}

// --- rows and what they stand for

/** The fields of a swatch's row. */
export const swatchFields = ({ id: _, ...swatch }: Swatch, { group, order }: Place): Fields => ({
  group,
  order,
  ...swatch,
});

/** A swatch and its place from the fields of its row. */
export function toSwatch(id: string, fields: Fields): { swatch: Swatch } & Place {
  const { group, order, ...rest } = fieldsAs<Omit<Swatch, 'id'> & Place>(fields);
  return { swatch: { id, ...rest }, group, order };
}

export const groupFields = ({ name }: Pick<Group, 'name'>, order: OrderKey): Fields => ({ order, name });

export const itemFields = ({ id: _, ...item }: Item, order: OrderKey): Fields => ({ order, ...item });

/** The fields of a library's own row. */
export function libraryFields({ name, note, columns, condition, book }: LibraryFacts): Fields {
  return {
    name,
    ...Object.fromEntries(
      Object.entries({ note, columns, condition, book }).filter(([, value]) => value !== undefined),
    ),
  };
}

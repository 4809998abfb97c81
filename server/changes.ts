import type { Row as ResultRow, ResultSet } from '@libsql/client';
import { and, between, desc, eq, gt, isNotNull, lt, type SQL, sql } from 'drizzle-orm';
import type { AnySQLiteColumn } from 'drizzle-orm/sqlite-core';
import { conditionOf } from '../core/color/index.ts';
import {
  type Applied,
  applyOps,
  type Change,
  type Done,
  type DoneChange,
  isTalk,
  type LibraryFacts,
  libraryData,
  type News,
  type Outcome,
  opsData,
  overwritten,
  type Reply,
  type Sent,
  STEPS_KNOWN,
  type Steps,
  saidData,
  tellOverwritten,
  tellSkipped,
  undoOps,
} from '../core/swatch/index.ts';
import { conditionFor } from './conditions.ts';
import {
  ask,
  type Db,
  fits,
  GuardError,
  guard,
  guarded,
  isPassing,
  oneByOne,
  type Statement,
  statement,
  type Tx,
  write,
  writeAll,
  writeWithin,
} from './db.ts';
import {
  colorsIn,
  firstNumber,
  readerFrom,
  rowQueries,
  rowStatements,
  swatchesBeyond,
  type TouchedRows,
} from './rows.ts';
import { about, changes, libraries, NUMBER_BITS, people } from './schema.ts';
import { wake } from './wake.ts';

/** Why something cannot be done to a library, in words for whoever asked. */
export class RefusedError extends Error {
  override name = 'RefusedError';
  constructor(
    message: string,
    /** The library itself was never there, or has been deleted. */
    readonly library: 'never' | 'deleted' | null = null,
  ) {
    super(message);
  }
}

/** More than this since the page last heard, and it reads the library again. */
const MAX_CHANGES = 500;
const MAX_BYTES = 4_000_000;

/** How many bytes a text or blob has; characters of some scripts have three. */
const bytesOf = (column: SQL | AnySQLiteColumn): SQL<number | null> => sql`length(CAST(${column} AS BLOB))`;

interface Row {
  num: number;
  seq: number;
  book: boolean;
}

const libraryQuery = (tx: Tx, id: string) =>
  tx
    .select({
      num: libraries.num,
      seq: libraries.seq,
      book: libraries.book,
      deletedAt: libraries.deletedAt,
      data: libraries.data,
      nextSwatch: libraries.nextSwatch,
    })
    .from(libraries)
    .where(eq(libraries.id, id));

/** The library that was asked for. @throws RefusedError when it is deleted or was never there */
export function there<T extends { book: boolean; deletedAt: Date | null }>([row]: T[]): T {
  if (!row) throw new RefusedError('This library does not exist.', 'never');
  if (row.deletedAt)
    throw new RefusedError(
      row.book
        ? 'The book has been removed. Restore it from the list of books.'
        : 'The library has been deleted. Restore it from the list of libraries.',
      'deleted',
    );
  return row;
}

/** The library as the server counts it. @throws RefusedError when it is deleted or was never there */
export const findLibrary = async (tx: Tx, id: string): Promise<Row> => there(await libraryQuery(tx, id));

/** The number of a library, inside of a query. */
const numOf = (id: string): SQL => sql`(SELECT num FROM libraries WHERE id = ${id})`;

/** What was sent was made for the data of another database. */
export class OtherDatabaseError extends Error {
  override name = 'OtherDatabaseError';
  constructor() {
    super(
      'The server now has different data than those the change was made for: a restored backup, or another folder.',
    );
  }
}

/** Changes that somebody has sent, until they are decided. */
interface Waiting {
  sent: Sent;
  to: 'library' | 'book';
  resolve(reply: Reply): void;
  reject(error: unknown): void;
}

/** Who waits, by library. */
const lines = new WeakMap<Db, Map<string, Waiting[]>>();

/** The most requests, and the most steps, that are decided together; a longer request goes by itself. */
const MAX_TOGETHER = 32;
const MAX_STEPS_TOGETHER = 500;

/**
 * The one place where changes are applied and kept: all or none of those sent, each once, however often it is sent. What
 * does not fit any more is left out and told. Those of many people who write to one library at once are decided together: what
 * they touch is read with one request and written with another, which fails when something has changed in between; then it
 * begins again.
 *
 * @param to books are only changed by what keeps them
 * @throws RefusedError when the library is not there, or is a book
 * @throws OtherDatabaseError when the changes were made for other data
 */
export function applyChanges(
  db: Db,
  libraryId: string,
  sent: Sent,
  to: Waiting['to'] = 'library',
): Promise<Reply> {
  const known = lines.get(db) ?? new Map<string, Waiting[]>();
  lines.set(db, known);
  const line = known.get(libraryId) ?? [];
  known.set(libraryId, line);
  return new Promise((resolve, reject) => {
    line.push({ sent, to, resolve, reject });
    void oneByOne(db, libraryId, async () => {
      const some = takeSome(line);
      if (line.length === 0 && known.get(libraryId) === line) known.delete(libraryId);
      // none are left where those before have taken them along
      if (some.length > 0) await decide(db, libraryId, some);
    });
  });
}

const stepsIn = ({ sent }: Waiting) => sent.changes.reduce((n, c) => n + c.ops.length, 0);

/** Takes those from the head of a line that are decided together, in their order. */
function takeSome(line: Waiting[]): Waiting[] {
  let steps = 0;
  const end = line.findIndex((one, i) => {
    steps += stepsIn(one);
    return i > 0 && (i >= MAX_TOGETHER || steps > MAX_STEPS_TOGETHER || one.to !== line[0]!.to);
  });
  return line.splice(0, end < 0 ? line.length : end);
}

async function decide(db: Db, libraryId: string, some: readonly Waiting[]): Promise<void> {
  try {
    const sent = some.map((w) => w.sent);
    const replies = await applyAll(db, libraryId, sent, some[0]!.to);
    wake();
    some.forEach(({ resolve, reject }, i) => {
      const reply = replies[i]!;
      if (reply instanceof Error) reject(reply);
      else resolve(reply);
    });
  } catch (error) {
    const isOfAll = some.length === 1 || isPassing(error);
    // a request that fails fails alone
    if (isOfAll) for (const { reject } of some) reject(error);
    else for (const one of some) await decide(db, libraryId, [one]);
  }
}

/** A change that has just been made, as pages hear of it. */
interface JustMade {
  news: DoneChange;
  /** Among those decided together, whose it is. */
  from: number;
  /** It was made in the very form in which it was sent. */
  asSent: boolean;
}

/** After this many writes that another server was quicker with, the next one is a transaction: else it could go on for long. */
const MAX_OVERTAKEN = 2;

async function applyAll(db: Db, id: string, all: readonly Sent[], to: Waiting['to']) {
  try {
    return await guarded(
      () => applyOnce(db, db, (statements) => writeAll(db, statements), id, all, to),
      MAX_OVERTAKEN,
    );
  } catch (error) {
    if (!(error instanceof GuardError)) throw error;
    return await write(db, (tx) =>
      applyOnce(db, tx, (statements) => writeWithin(tx, statements), id, all, to),
    );
  }
}

async function applyOnce(
  db: Db,
  tx: Tx,
  put: (statements: readonly Statement[]) => Promise<ResultSet[]>,
  id: string,
  all: readonly Sent[],
  to: Waiting['to'],
): Promise<(Reply | OtherDatabaseError | RefusedError)[]> {
  const num = numOf(id);
  const every = all.flatMap((s) => s.changes);
  const people = [...new Set(all.map((s) => s.by))];
  const ids = JSON.stringify(every.map((c) => c.id));
  const undone = JSON.stringify(every.flatMap((c) => c.undoes ?? []));
  const plain = every.flatMap((c) => (c.undoes ? [] : c.ops));
  // what is made and taken back at once goes back to where only the database knows it was
  const sentIds = new Set(every.map((c) => c.id));
  const withHomes = every.some((c) => c.undoes && sentIds.has(c.undoes));
  const seen = [...new Set(all.map((s) => s.seen))];
  const [found, epochs, known, targets, stepRows, ...others] = await ask(tx, [
    libraryQuery(tx, id),
    epochQuery(tx),
    tx
      .select({ id: changes.id, library: changes.library, seq: changes.seq, said: changes.said })
      .from(changes)
      .where(sql`${changes.id} IN (SELECT value FROM json_each(${ids}))`),
    // with what those that are taken back have taken back themselves
    tx
      .select(targetColumns)
      .from(changes)
      .where(
        sql`${changes.id} IN (SELECT value FROM json_each(${undone}) UNION
          SELECT undoes FROM changes WHERE id IN (SELECT value FROM json_each(${undone})))`,
      ),
    stepsQuery(tx, num, people),
    ...rowQueries(tx, num, plain, withHomes),
    ...seen.map((n) => newsQuery(tx, num, n)),
  ]);
  const [swatchRows, groupRows, first, members, itemRows, libraryRows, ...newsRows] = others;
  const rows = [swatchRows, groupRows, first, members, itemRows, libraryRows] as const;
  const epoch = epochs[0]?.value ?? '';
  const isOther = ({ epoch: made }: Sent) => made !== undefined && made !== epoch;
  let library: (typeof found)[number];
  try {
    library = there(found);
    if (library.book !== (to === 'book'))
      throw new RefusedError('A book is not edited. Make a library of it, which can be.');
  } catch (error) {
    // a refusal is only for those who mean this database
    if (error instanceof RefusedError)
      return all.map((sent) => (isOther(sent) ? new OtherDatabaseError() : error));
    throw error;
  }
  const done = new Map(known.map((k) => [k.id, k]));
  const past = new Map<string, Target>(targets.map((t) => [t.id, targetOf(t)]));
  const fresh = every.filter((c) => !done.has(c.id));
  // what takes back what was done before it was known touches rows that only that one names
  const back = fresh.flatMap((c) => (c.undoes ? (past.get(c.undoes)?.done?.inverse ?? []) : []));
  const named = [...plain, ...back];
  const touched = readerFrom(
    back.length > 0 ? await ask(tx, rowQueries(tx, library.num, named, withHomes)) : rows,
    await swatchesBeyond(tx, library.num, named),
  );
  const newsSince = new Map(seen.map((n, i) => [n, newsFrom(newsRows[i]!, n, library.seq)]));

  const kept: Statement[] = [];
  const flags = new Map<string, boolean>();
  const made: JustMade[] = [];
  let { seq } = library;
  /** What becomes of a change; the next one finds the library as it left it. */
  const decideOn = (change: Change, from: number, theirs: readonly DoneChange[]): Outcome => {
    const before = done.get(change.id);
    if (before) return outcomeOf(before, library.num);
    const one = applyOne(change, touched, theirs, library.num, past);
    // a second one of the same id among those sent is answered as the first
    if (one.applied === null) return { id: change.id, seq: null, said: one.said };
    const { applied, said, over, step, restored, asSent } = one;
    const { id, label, undoes } = change;
    const text = said.length > 0 ? saidData.write({ lines: said, ...(over ? { over } : {}) }) : null;
    const insert = statement(
      db.insert(changes).values({
        n: firstNumber(library.num) + seq + 1,
        id,
        library: library.num,
        seq: seq + 1,
        author: change.by,
        step,
        undoes: undoes ?? null,
        label,
        rows: applied.writes.length,
        talk: isTalk(applied),
        ops: opsData.write({ ops: applied.ops }),
        inverse: opsData.write({ ops: applied.inverse }),
        said: text,
        at: new Date(),
      }),
    );
    if (!fits(db, insert)) return { id, seq: null, said: [TOO_MUCH] };
    seq++;
    kept.push(insert);
    touched.write(applied.writes);
    if (change.undoes) flags.set(change.undoes, true);
    if (restored) flags.set(restored, false);
    for (const [target, undone] of flags) {
      const known = past.get(target);
      if (known) known.undone = undone;
    }
    past.set(id, {
      id,
      library: library.num,
      step,
      undoes: undoes ?? null,
      undone: false,
      label,
      done: { ops: applied.ops, inverse: applied.inverse },
    });
    done.set(id, { id, library: library.num, seq, said: text });
    const news: DoneChange = {
      ...{ seq, id, by: change.by, label, ops: applied.ops },
      ...(undoes ? { undoes } : {}),
      ...(over ? { over } : {}),
      ...(isTalk(applied) ? { talk: true } : {}),
    };
    made.push({ news, from, asSent });
    return { id, seq, said };
  };
  const outcomes = all.map((sent, from) => {
    if (isOther(sent)) return [];
    const own = new Set(sent.changes.map((c) => c.id));
    /** Changes that the page did not make in this very form. */
    const theirs = [...(newsSince.get(sent.seen) ?? []), ...made.map((m) => m.news)].filter(
      (c) => !own.has(c.id),
    );
    return sent.changes.map((change) => decideOn(change, from, theirs));
  });

  let steps = stepRows;
  if (seq > library.seq) {
    const { writes } = touched;
    const colors = colorsIn(writes);
    const own = writes.find((w) => w.of === 'library')?.after as Pick<LibraryFacts, 'condition'> | undefined;
    const condition = await conditionFor(db, conditionOf(own ?? libraryData.read(library.data)), colors);
    const results = await put([
      guard(sql`EXISTS (SELECT 1 FROM libraries WHERE num = ${library.num} AND seq = ${library.seq} AND deleted_at IS NULL)
      AND EXISTS (SELECT 1 FROM about WHERE key = 'epoch' AND value = ${epoch})`),
      ...(await rowStatements(tx, library, writes, condition, touched.numbers)),
      ...kept,
      ...[...flags].map(([id, undone]) =>
        statement(sql`UPDATE changes SET undone = ${Number(undone)} WHERE id = ${id}`),
      ),
      statement(
        sql`UPDATE libraries SET seq = ${seq}, band = NULL, changed_at = ${Date.now()} WHERE num = ${library.num}`,
      ),
      statement(stepsText(sql`${library.num}`, people)),
    ]);
    steps = (results.at(-1)?.rows ?? []).map(stepOf);
  }
  return all.map((sent, from) => {
    if (isOther(sent)) return new OtherDatabaseError();
    const news = newsSince.get(sent.seen)?.concat(
      made.map(({ news: { ops, ...rest }, from: whose, asSent }) =>
        // a page knows what it has sent
        whose === from && asSent ? rest : { ...rest, ...(ops ? { ops } : {}) },
      ),
    );
    return { outcomes: outcomes[from]!, epoch, seq, changes: news ?? null, steps: stepsFrom(steps, sent.by) };
  });
}

const TOO_MUCH =
  'This changes more at once than the database server takes in one piece. Do it in parts, a group at a time.';

function outcomeOf(
  { id, library, seq, said }: { id: string; library: number; seq: number; said: string | null },
  here: number,
): Outcome {
  if (library !== here)
    return { id, seq: null, said: ['A change of another library has this id. Make it again.'] };
  return { id, seq, said: said ? saidData.read(said).lines : [] };
}

const targetColumns = {
  id: changes.id,
  library: changes.library,
  step: changes.step,
  undoes: changes.undoes,
  undone: changes.undone,
  label: changes.label,
  ops: changes.ops,
  inverse: changes.inverse,
};

/** A change that may be taken back. */
interface Target {
  id: string;
  library: number;
  step: 'edit' | 'undo' | 'redo';
  undoes: string | null;
  undone: boolean;
  label: string;
  /** Null once its history has been removed. */
  done: Pick<Applied, 'ops' | 'inverse'> | null;
}

const targetOf = ({
  ops,
  inverse,
  ...row
}: Omit<Target, 'done'> & { ops: string | null; inverse: string | null }): Target => ({
  ...row,
  done: ops && inverse ? { ops: opsData.read(ops).ops, inverse: opsData.read(inverse).ops } : null,
});

type Made =
  | { applied: null; said: string[] }
  | {
      applied: Applied;
      said: string[];
      /** Whose values it took the place of. */
      over: string[] | null;
      step: Target['step'];
      /** A change that is done again by it. */
      restored: string | null;
      asSent: boolean;
    };

/** What a change does to the rows as they are; null where it is refused. */
function applyOne(
  change: Change,
  rows: TouchedRows,
  theirs: readonly DoneChange[],
  library: number,
  past: ReadonlyMap<string, Target>,
): Made {
  const refused = (...said: string[]): Made => ({ applied: null, said });
  let wanted = change.ops;
  const said: string[] = [];
  let step: Target['step'] = 'edit';
  let restored: string | null = null;
  if (change.undoes) {
    const target = past.get(change.undoes);
    if (target?.library !== library) return refused('What was to be taken back is not in the history.');
    if (target.undone) return refused(`“${target.label}” has been taken back already.`);
    if (!target.done)
      return refused(`“${target.label}” is too long ago: the history before it has been removed.`);
    step = target.step === 'undo' ? 'redo' : 'undo';
    restored = target.step === 'undo' ? target.undoes : null;
    const undo = undoOps(target.done, rows);
    wanted = undo.ops;
    said.push(...tellSkipped(undo.kept));
    // where nothing is left of it, it counts as taken back all the same: what came before must stay within reach
    if (wanted.length === 0 && said.length === 0)
      said.push(`There is nothing left of “${target.label}” to take back.`);
  }
  const applied = applyOps(wanted, rows);
  said.push(...tellSkipped(applied.skipped));
  if (applied.ops.length === 0 && !change.undoes)
    return refused(...(said.length > 0 ? said : ['What this was to change is no longer in the library.']));
  const over = change.undoes ? [] : theirs.filter((c) => overwritten(applied.ops, c.ops ?? []).length > 0);
  const lost = tellOverwritten(
    overwritten(
      applied.ops,
      over.flatMap((c) => c.ops ?? []),
    ),
  );
  if (lost) said.push(lost);
  return {
    applied,
    said,
    over: lost ? [...new Set(over.map((c) => c.by))] : null,
    step,
    restored,
    asSent: !change.undoes && applied.skipped.length === 0 && applied.ops.length === wanted.length,
  };
}

export const epochQuery = (tx: Tx) =>
  tx.select({ value: about.value }).from(about).where(eq(about.key, 'epoch'));

/** Which database this is: another after a restore. */
export const epochOf = async (tx: Tx): Promise<string> => (await epochQuery(tx))[0]?.value ?? '';

interface StepRow {
  id: string;
  label: string;
  seq: number;
  undoes: string | null;
  step: string;
  undone: number;
  author: string;
}

function stepsText(library: SQL, people: readonly string[]): SQL {
  const last = (author: string, step: 'edit' | 'undo', undone: boolean, most: number) =>
    sql`SELECT * FROM (SELECT id, label, seq, undoes, step, undone, author FROM ${changes}
      WHERE library = ${library} AND author = ${author} AND step = ${step} AND undone = ${Number(undone)} AND ops IS NOT NULL
      ORDER BY seq DESC LIMIT ${most})`;
  // nobody's changes, from before it was kept who made them, are anyone's to take back
  const parts = [...new Set([...people, ''])].flatMap((author) => [
    last(author, 'edit', false, STEPS_KNOWN),
    last(author, 'undo', false, STEPS_KNOWN),
    last(author, 'edit', true, 1),
  ]);
  return sql.join(parts, sql` UNION ALL `);
}

/** What these people can undo and redo, as a query; {@link stepsFrom} reads the answer. */
export const stepsQuery = (tx: Tx, library: SQL, people: readonly string[]) =>
  tx.all<StepRow>(stepsText(library, people));

const stepOf = ({ id, label, seq, undoes, step, undone, author }: ResultRow): StepRow => ({
  ...{ id: String(id), label: String(label), seq: Number(seq) },
  ...{ undoes: undoes === null ? null : String(undoes), step: String(step), undone: Number(undone) },
  author: String(author),
});

/** What one of them can undo and redo, the next last. */
export function stepsFrom(found: readonly StepRow[], by: string): Steps {
  const rows = found.filter((r) => r.author === by || r.author === '').sort((a, b) => a.seq - b.seq);
  // a new change ends what could be redone, also when it has itself been taken back since
  const latest = rows.findLast((r) => r.step === 'edit')?.seq ?? 0;
  return {
    undo: rows
      .filter((r) => r.step === 'edit' && !r.undone)
      .slice(-STEPS_KNOWN)
      .map(({ id, label }) => ({ id, label })),
    redo: rows
      .filter((r) => r.step === 'undo' && r.seq > latest)
      .slice(-STEPS_KNOWN)
      .map(({ id, label, undoes }) => ({ id, label, ...(undoes ? { of: undoes } : {}) })),
  };
}

interface NewsRow {
  seq: number;
  id: string;
  by: string;
  label: string;
  undoes: string | null;
  /** Null when there is too much of it, by itself or all together, or it has been removed. */
  ops: string | null;
  said: string | null;
  talk: number;
}

/** The changes of a library after one; {@link newsFrom} reads the answer. */
function newsQuery(tx: Tx, library: SQL, seen: number) {
  const range = sql`n > (${library} << ${NUMBER_BITS}) + ${seen} AND n < (${library} + 1) << ${NUMBER_BITS}`;
  return tx.all<NewsRow>(sql`
    WITH found AS (SELECT n, ${bytesOf(sql`ops`)} AS size FROM changes WHERE ${range} ORDER BY n LIMIT ${MAX_CHANGES + 1}),
      extent AS (SELECT count(*) <= ${MAX_CHANGES} AND total(size) <= ${MAX_BYTES} AS fits FROM found)
    SELECT seq, id, author AS by, label, undoes, CASE WHEN fits AND typeof(ops) = 'text' THEN ops END AS ops, CASE WHEN fits THEN said END AS said, talk
    FROM found JOIN changes USING (n) JOIN extent ORDER BY n`);
}

/** The changes in their order; null when there is too much of it or some of it is no longer kept. */
function newsFrom(rows: readonly NewsRow[], seen: number, seq: number): DoneChange[] | null {
  // a page that knows more than there is has known a database that was there before a restore
  if (seen > seq || rows.length !== seq - seen || rows.some((r) => r.ops === null)) return null;
  return rows.map(({ undoes, ops, said, talk, seq, id, by, label }) => ({
    seq,
    id,
    by,
    label,
    ...(undoes ? { undoes } : {}),
    ops: opsData.read(ops!).ops,
    ...(said ? overOf(said) : {}),
    ...(talk ? { talk: true } : {}),
  }));
}

function overOf(said: string): Pick<DoneChange, 'over'> {
  const { over } = saidData.read(said);
  return over ? { over } : {};
}

/** What has happened to a library since a page last heard of it. @throws RefusedError */
export async function newsOf(db: Db, libraryId: string, seen: number, by: string): Promise<News> {
  const num = numOf(libraryId);
  const [found, epochs, newsRows, stepRows] = await ask(db, [
    libraryQuery(db, libraryId),
    epochQuery(db),
    newsQuery(db, num, seen),
    stepsQuery(db, num, [by]),
  ]);
  const { seq } = there(found);
  return {
    epoch: epochs[0]?.value ?? '',
    seq,
    changes: newsFrom(newsRows, seen, seq),
    steps: stepsFrom(stepRows, by),
  };
}

// --- history

/** A change as the list of changes shows it. */
export interface HistoryEntry {
  seq: number;
  id: string;
  by: string;
  /** What its author is called; null for nobody with a name. */
  name: string | null;
  label: string;
  /** How many rows it touched. */
  rows: number;
  at: number;
  step: 'edit' | 'undo' | 'redo';
  undone: boolean;
}

/** The changes of a library before one, the latest first. @throws RefusedError */
export async function listHistory(
  db: Db,
  libraryId: string,
  before: number | null,
  most = 100,
): Promise<HistoryEntry[]> {
  const { num } = await findLibrary(db, libraryId);
  const rows = await db
    .select({
      seq: changes.seq,
      id: changes.id,
      by: changes.author,
      name: people.name,
      label: changes.label,
      rows: changes.rows,
      at: changes.at,
      step: changes.step,
      undone: changes.undone,
    })
    .from(changes)
    .leftJoin(people, eq(people.id, changes.author))
    .where(
      and(
        isNotNull(changes.ops),
        gt(changes.n, firstNumber(num)),
        lt(changes.n, before === null ? firstNumber(num + 1) : firstNumber(num) + before),
      ),
    )
    .orderBy(desc(changes.n))
    .limit(most);
  return rows.map((row) => ({ ...row, at: row.at.getTime() }));
}

/** The inverses of all later changes, from the one that the server has now. */
export interface WayBack {
  seq: number;
  inverses: Pick<Done, 'inverse' | 'seq'>[];
}

/** What takes the library back to how it was after a change: the inverses of all later ones, the latest first. @throws RefusedError */
export async function wayBack(db: Db, libraryId: string, to: number): Promise<WayBack> {
  const { num, seq } = await findLibrary(db, libraryId);
  const later = and(gt(changes.n, firstNumber(num) + to), lt(changes.n, firstNumber(num + 1)));
  const sizes = await db
    .select({ n: changes.n, bytes: bytesOf(changes.inverse) })
    .from(changes)
    .where(later)
    .orderBy(desc(changes.n));
  if (sizes.some((r) => r.bytes === null))
    throw new RefusedError('The history of that time has been removed.');
  const inverses: Pick<Done, 'inverse' | 'seq'>[] = [];
  for (let at = 0; at < sizes.length; ) {
    const from = at;
    // an answer must not become too large
    let total = 0;
    do total += sizes[at++]!.bytes!;
    while (at < sizes.length && total + sizes[at]!.bytes! <= MAX_BYTES);
    const rows = await db
      .select({ seq: changes.seq, inverse: changes.inverse })
      .from(changes)
      .where(between(changes.n, sizes[at - 1]!.n, sizes[from]!.n))
      .orderBy(desc(changes.n));
    for (const { seq, inverse } of rows) {
      // it may have been removed since
      if (inverse === null) throw new RefusedError('The history of that time has been removed.');
      inverses.push({ seq, inverse: opsData.read(inverse).ops });
    }
  }
  return { seq, inverses };
}

/**
 * Removes what is needed to go back beyond a change; that they were done, and by which ids, stays known. Returns how many
 * there were. @throws RefusedError
 */
export function trimHistory(db: Db, libraryId: string, upTo: number): Promise<number> {
  return write(db, async (tx) => {
    const { num } = await findLibrary(tx, libraryId);
    const gone = await tx
      .update(changes)
      .set({ ops: null, inverse: null, said: null, label: '' })
      .where(
        and(
          gt(changes.n, firstNumber(num)),
          sql`${changes.n} <= ${firstNumber(num) + upTo}`,
          isNotNull(changes.ops),
        ),
      )
      .returning({ seq: changes.seq });
    return gone.length;
  });
}

/** How much of the history there is. */
export async function historySize(
  db: Db,
  libraryId: string,
): Promise<{ count: number; first: number | null }> {
  const { num } = await findLibrary(db, libraryId);
  const [row] = await db
    .select({ count: sql<number>`count(*)`, first: sql<number | null>`min(${changes.seq})` })
    .from(changes)
    .where(and(gt(changes.n, firstNumber(num)), lt(changes.n, firstNumber(num + 1)), isNotNull(changes.ops)));
  return row ?? { count: 0, first: null };
}

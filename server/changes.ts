import { and, asc, desc, eq, gt, isNotNull, lt, sql } from 'drizzle-orm';
import {
  applyOps,
  type Change,
  type Done,
  type DoneChange,
  type News,
  type Op,
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
  type Write,
} from '../core/swatch/index.ts';
import { type Db, only, type Tx, type WriteTx, write } from './db.ts';
import { firstNumber, readerOf, writeRows } from './rows.ts';
import { about, changes, groups, libraries } from './schema.ts';

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

/** More than this since the page last heard, and it reads the library anew. */
const MOST_CHANGES = 500;
const MOST_CHARACTERS = 4_000_000;

interface Row {
  num: number;
  seq: number;
  book: boolean;
}

/** The library as the server counts it. @throws RefusedError when it is deleted or was never there */
export async function findLibrary(tx: Tx, id: string): Promise<Row> {
  const [row] = await tx
    .select({
      num: libraries.num,
      seq: libraries.seq,
      book: libraries.book,
      deletedAt: libraries.deletedAt,
    })
    .from(libraries)
    .where(eq(libraries.id, id));
  if (!row) throw new RefusedError('There is no such library.', 'never');
  if (row.deletedAt)
    throw new RefusedError(
      row.book
        ? 'The book has been taken away. Bring it back from the list of books.'
        : 'The library has been deleted. Bring it back from the list of libraries.',
      'deleted',
    );
  return row;
}

/**
 * The one place where changes are applied and kept: all or none of those sent, each once, however often it is sent. What
 * does not fit any more is left out and told.
 *
 * @param to books are only changed by what keeps them
 * @throws RefusedError when the library is not there, or is a book
 */
export function applyChanges(
  db: Db,
  libraryId: string,
  { by, seen, changes: sent }: Sent,
  to: 'library' | 'book' = 'library',
): Promise<Reply> {
  return write(db, async (tx) => {
    const library = await findLibrary(tx, libraryId);
    if (library.book !== (to === 'book'))
      throw new RefusedError('A book is not edited. Make a library of it, which can be.');
    const before = library.seq;
    const outcomes: Outcome[] = [];
    /** Changes that the page did not make in this very form. */
    const news: DoneChange[] | null = await changesAfter(tx, library.num, seen);
    const theirs = news?.filter((c) => !sent.some((s) => s.id === c.id)) ?? [];
    for (const change of sent) {
      const known = await knownOutcome(tx, library.num, change.id);
      if (known) {
        outcomes.push(known);
        continue;
      }
      const { outcome, ops } = await applyOne(tx, library, change, theirs);
      outcomes.push(outcome);
      if (outcome.seq === null || !news) continue;
      const { id, label, undoes } = change;
      news.push({
        seq: outcome.seq,
        id,
        by: change.by,
        label,
        ...(undoes ? { undoes } : {}),
        ...(ops ? { ops } : {}),
      });
    }
    if (library.seq > before)
      await tx
        .update(libraries)
        .set({ seq: library.seq, band: null, changedAt: new Date() })
        .where(eq(libraries.num, library.num));
    const epoch = await epochOf(tx);
    return { outcomes, epoch, seq: library.seq, changes: news, steps: await stepsOf(tx, library.num, by) };
  });
}

async function knownOutcome(tx: Tx, library: number, id: string): Promise<Outcome | null> {
  const [row] = await tx
    .select({ library: changes.library, seq: changes.seq, said: changes.said })
    .from(changes)
    .where(eq(changes.id, id));
  if (!row) return null;
  if (row.library !== library)
    return { id, seq: null, said: ['A change of another library has this id. Make it again.'] };
  return { id, seq: row.seq, said: row.said ? saidData.read(row.said).lines : [] };
}

async function applyOne(
  tx: WriteTx,
  library: Row,
  change: Change,
  theirs: readonly DoneChange[],
): Promise<{ outcome: Outcome; ops: Op[] | null }> {
  const refused = (...said: string[]) => ({ outcome: { id: change.id, seq: null, said }, ops: null });
  let wanted = change.ops;
  const said: string[] = [];
  let step: 'edit' | 'undo' | 'redo' = 'edit';
  let restored: string | null = null;
  if (change.undoes) {
    const [target] = await tx.select().from(changes).where(eq(changes.id, change.undoes));
    if (target?.library !== library.num) return refused('What was to be taken back is not in the history.');
    if (target.undone) return refused(`“${target.label}” has been taken back already.`);
    if (!target.ops || !target.inverse)
      return refused(`“${target.label}” is too long ago: the history before it has been removed.`);
    step = target.step === 'undo' ? 'redo' : 'undo';
    restored = target.step === 'undo' ? target.undoes : null;
    const done = { ops: opsData.read(target.ops).ops, inverse: opsData.read(target.inverse).ops };
    const undo = undoOps(done, await readerOf(tx, library.num, done.inverse));
    wanted = undo.ops;
    said.push(...tellSkipped(undo.kept));
    // where nothing is left of it, it counts as taken back all the same: what came before must stay within reach
    if (wanted.length === 0 && said.length === 0)
      said.push(`There is nothing left of “${target.label}” to take back.`);
  }
  const rows = await readerOf(tx, library.num, wanted);
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
  await writeRows(tx, library.num, applied.writes, rows.numbers);
  await count(tx, library.num, applied.writes);
  library.seq++;
  if (change.undoes) await tx.update(changes).set({ undone: true }).where(eq(changes.id, change.undoes));
  if (restored) await tx.update(changes).set({ undone: false }).where(eq(changes.id, restored));
  await tx.insert(changes).values({
    n: firstNumber(library.num) + library.seq,
    id: change.id,
    library: library.num,
    seq: library.seq,
    author: change.by,
    step,
    undoes: change.undoes ?? null,
    label: change.label,
    rows: applied.writes.length,
    ops: opsData.write({ ops: applied.ops }),
    inverse: opsData.write({ ops: applied.inverse }),
    said:
      said.length > 0
        ? saidData.write({ lines: said, ...(lost ? { over: [...new Set(over.map((c) => c.by))] } : {}) })
        : null,
    at: new Date(),
  });
  const asSent = !change.undoes && applied.skipped.length === 0 && applied.ops.length === wanted.length;
  return { outcome: { id: change.id, seq: library.seq, said }, ops: asSent ? null : applied.ops };
}

/** Brings the counts up to date that the list of libraries shows. */
export async function count(tx: Tx, library: number, writes: readonly Write[]): Promise<void> {
  const more = writes.reduce(
    (n, w) => (w.of === 'swatch' ? n + Number(w.after !== null) - Number(w.before !== null) : n),
    0,
  );
  if (more !== 0)
    await tx
      .update(libraries)
      .set({ swatchCount: sql`${libraries.swatchCount} + ${more}` })
      .where(eq(libraries.num, library));
  if (writes.some((w) => w.of === 'group')) {
    // the first group, when it has no name, is for swatches in no group
    const first = sql`(SELECT id FROM ${groups} WHERE library = ${library} ORDER BY order_key, id LIMIT 1)`;
    await tx
      .update(libraries)
      .set({
        groupCount: sql`(SELECT count(*) FROM ${groups} WHERE library = ${library} AND NOT (name = '' AND id = ${first}))`,
      })
      .where(eq(libraries.num, library));
  }
}

/** Which database this is: another after a restore. */
export async function epochOf(tx: Tx): Promise<string> {
  const [row] = await tx.select({ value: about.value }).from(about).where(eq(about.key, 'epoch'));
  return row?.value ?? '';
}

/** What this person can undo and redo, the next last. */
export async function stepsOf(tx: Tx, library: number, by: string): Promise<Steps> {
  const last = (author: string, step: 'edit' | 'undo', undone: boolean, most: number) =>
    sql`SELECT * FROM (SELECT id, label, seq, undoes, step, undone FROM ${changes}
      WHERE library = ${library} AND author = ${author} AND step = ${step} AND undone = ${Number(undone)} AND ops IS NOT NULL
      ORDER BY seq DESC LIMIT ${most})`;
  // nobody's changes, from before it was kept who made them, are anyone's to take back
  const parts = [...new Set([by, ''])].flatMap((author) => [
    last(author, 'edit', false, STEPS_KNOWN),
    last(author, 'undo', false, STEPS_KNOWN),
    last(author, 'edit', true, 1),
  ]);
  const rows = await tx.all<{
    id: string;
    label: string;
    seq: number;
    undoes: string | null;
    step: string;
    undone: number;
  }>(sql.join(parts, sql` UNION ALL `));
  rows.sort((a, b) => a.seq - b.seq);
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

/** The changes after one, in their order; null when there is too much of it or some of it is no longer kept. */
async function changesAfter(tx: Tx, library: number, seen: number): Promise<DoneChange[] | null> {
  const rows = await tx
    .select({
      seq: changes.seq,
      id: changes.id,
      by: changes.author,
      label: changes.label,
      undoes: changes.undoes,
      size: sql<number>`length(${changes.ops})`,
    })
    .from(changes)
    .where(and(gt(changes.n, firstNumber(library) + seen), lt(changes.n, firstNumber(library + 1))))
    .orderBy(asc(changes.n))
    .limit(MOST_CHANGES + 1);
  const { seq } = only(
    await tx.select({ seq: libraries.seq }).from(libraries).where(eq(libraries.num, library)),
  );
  const total = rows.reduce((n, r) => n + (r.size ?? Number.POSITIVE_INFINITY), 0);
  // a page that knows more than there is has known a database that was there before a restore
  if (seen > seq || rows.length !== seq - seen || total > MOST_CHARACTERS) return null;
  if (rows.length === 0) return [];
  const ops = await tx
    .select({ seq: changes.seq, ops: changes.ops, said: changes.said })
    .from(changes)
    .where(and(gt(changes.n, firstNumber(library) + seen), lt(changes.n, firstNumber(library + 1))));
  const bySeq = new Map(ops.map((o) => [o.seq, o]));
  return rows.map(({ size: _, undoes, ...row }) => {
    const { ops, said } = bySeq.get(row.seq)!;
    return {
      ...row,
      ...(undoes ? { undoes } : {}),
      ops: opsData.read(ops!).ops,
      ...(said ? overOf(said) : {}),
    };
  });
}

function overOf(said: string): Pick<DoneChange, 'over'> {
  const { over } = saidData.read(said);
  return over ? { over } : {};
}

/** What has happened to a library since a page last heard of it. @throws RefusedError */
export async function newsOf(db: Db, libraryId: string, seen: number, by: string): Promise<News> {
  const { num, seq } = await findLibrary(db, libraryId);
  const [epoch, changes] = [await epochOf(db), await changesAfter(db, num, seen)];
  return { epoch, seq, changes, steps: await stepsOf(db, num, by) };
}

// --- history

/** A change as the list of changes shows it. */
export interface HistoryEntry {
  seq: number;
  id: string;
  by: string;
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
      label: changes.label,
      rows: changes.rows,
      at: changes.at,
      step: changes.step,
      undone: changes.undone,
    })
    .from(changes)
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

/** What takes the library back to how it was after a change: the inverses of all later ones, the latest first. @throws RefusedError */
export async function wayBack(
  db: Db,
  libraryId: string,
  to: number,
): Promise<{ seq: number; inverses: Pick<Done, 'inverse' | 'seq'>[] }> {
  const { num, seq } = await findLibrary(db, libraryId);
  const rows = await db
    .select({ seq: changes.seq, inverse: changes.inverse })
    .from(changes)
    .where(and(gt(changes.n, firstNumber(num) + to), lt(changes.n, firstNumber(num + 1))))
    .orderBy(desc(changes.n));
  if (rows.some((r) => r.inverse === null))
    throw new RefusedError('The history of that time has been removed.');
  return { seq, inverses: rows.map((r) => ({ seq: r.seq, inverse: opsData.read(r.inverse!).ops })) };
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

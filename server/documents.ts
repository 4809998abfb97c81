import { sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { type KitChoices, kitData } from '../core/formats/plan.ts';
import { type Take, takesData } from '../core/picture/take.ts';
import { applyEdit, describeEdit, type Edit } from '../core/swatch/documents.ts';
import {
  changeTo,
  type Library,
  LibraryRows,
  libraryFields,
  opsData,
  same,
  type Write,
} from '../core/swatch/index.ts';
import { keepAsset } from './assets.ts';
import { conditionFor, settingOf } from './conditions.ts';
import { type Db, only, run, type Tx, type WriteTx, write } from './db.ts';
import { colorsIn, firstNumber, libraryColumns, rowStatements } from './rows.ts';
import { changes, kits, libraries, pictures } from './schema.ts';

// Databases of the first versions kept a library as one document, and its history as edits of that document. They are brought
// over when they are opened, a library at a time: what is interrupted goes on where it was.

interface OldLibrary {
  id: string;
  content: string;
  revision: number;
  changed_at: number;
  deleted_at: number | null;
}
interface OldStep {
  edit: Edit;
  inverse: Edit;
  undone: boolean;
  at: number;
}

export async function bringDocumentsOver(db: Db): Promise<void> {
  const there = await db.all(
    sql`SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'old_libraries'`,
  );
  if (there.length === 0) return;
  const waiting = await db.all<{ id: string }>(sql`SELECT id FROM old_libraries ORDER BY changed_at`);
  for (const { id } of waiting) await write(db, (tx) => bringOver(tx, id));
  await write(db, async (tx) => {
    for (const table of ['old_pictures', 'old_kits', 'old_history', 'old_libraries'])
      await tx.run(sql`DROP TABLE IF EXISTS ${sql.identifier(table)}`);
  });
}

const columnsOfOld = (library: Library) => {
  const { name, ...more } = libraryFields(library) as { name: string };
  return libraryColumns(name, more);
};

async function bringOver(tx: WriteTx, id: string): Promise<void> {
  const [old] = await tx.all<OldLibrary>(sql`SELECT * FROM old_libraries WHERE id = ${id}`);
  if (!old) return;
  const library = JSON.parse(old.content) as Library;
  const steps = (
    await tx.all<{ edit: string; inverse: string; undone: number; at: number }>(
      sql`SELECT * FROM old_history WHERE library_id = ${id} ORDER BY id`,
    )
  ).map(
    (s): OldStep => ({
      edit: JSON.parse(s.edit),
      inverse: JSON.parse(s.inverse),
      undone: s.undone === 1,
      at: s.at,
    }),
  );
  const past = pastOf(library, steps);
  const { num } = only(
    await tx
      .insert(libraries)
      .values({
        id,
        ...columnsOfOld(library),
        // every undo and redo counted, too, so that there are at least as many
        seq: Math.max(old.revision, past.done.length),
        changedAt: new Date(old.changed_at),
        deletedAt: old.deleted_at === null ? null : new Date(old.deleted_at),
      })
      .returning({ num: libraries.num }),
  );
  const writes = allRows(past.rows);
  const condition = await conditionFor(tx, await settingOf(tx, num), colorsIn(writes));
  await run(tx, await rowStatements(tx, { num, nextSwatch: 0 }, writes, condition));
  await writePast(tx, num, Math.max(old.revision, past.done.length), past.done);

  for (const kit of await tx.all<{ revision: number; choices: string; at: number }>(
    sql`SELECT * FROM old_kits WHERE library_id = ${id} ORDER BY id`,
  ))
    await tx.insert(kits).values({
      library: num,
      revision: kit.revision,
      choices: kitData.write(JSON.parse(kit.choices) as KitChoices),
      at: new Date(kit.at),
    });
  for (const p of await tx.all<{
    id: string;
    name: string;
    width: number;
    height: number;
    mime: string;
    copy: ArrayBuffer;
    takes: string;
    at: number;
  }>(sql`SELECT * FROM old_pictures WHERE library_id = ${id} ORDER BY at`))
    await tx.insert(pictures).values({
      id: p.id,
      library: num,
      name: p.name,
      width: p.width,
      height: p.height,
      asset: await keepAsset(tx, { mime: p.mime, bytes: new Uint8Array(p.copy) }),
      takes: takesData.write({ takes: JSON.parse(p.takes) as Take[] }),
      at: new Date(p.at),
    });
  for (const [table, column] of [
    ['old_pictures', 'library_id'],
    ['old_kits', 'library_id'],
    ['old_history', 'library_id'],
    ['old_libraries', 'id'],
  ])
    await tx.run(sql`DELETE FROM ${sql.identifier(table!)} WHERE ${sql.identifier(column!)} = ${id}`);
}

interface Past {
  rows: LibraryRows;
  done: Omit<typeof changes.$inferInsert, 'n' | 'library' | 'seq'>[];
}

/** The history as changes of rows, from the document as it is now back to its beginning and forward again. */
function pastOf(now: Library, steps: OldStep[]): Past {
  try {
    let document = now;
    const done = steps.filter((s) => !s.undone);
    for (const { inverse } of [...done].reverse()) document = applyEdit(document, inverse).library;
    const rows = LibraryRows.of(document);
    const past: Past['done'] = [];
    const forward = ({ edit, at }: OldStep, undone: boolean): string => {
      const next = applyEdit(document, edit).library;
      // an edit leaves what it does not touch the same objects
      const applied = rows.apply(changeTo(rows, next, document));
      document = next;
      const id = nanoid();
      past.push({
        ...kept(id, describeEdit(edit), applied, at),
        step: 'edit',
        undone,
      });
      return id;
    };
    for (const step of done) forward(step, false);
    // what had been taken back is done once more and taken back again, so that it can be done again
    const undone = steps.filter((s) => s.undone);
    const before: Library[] = [];
    const ids: string[] = [];
    for (const step of undone) {
      before.push(document);
      ids.push(forward(step, true));
    }
    for (const [i, step] of [...undone.entries()].reverse()) {
      const applied = rows.apply(changeTo(rows, before[i]!, document));
      document = before[i]!;
      past.push({
        ...kept(nanoid(), describeEdit(step.edit), applied, step.at),
        step: 'undo',
        undoes: ids[i],
      });
    }
    if (!same(document, now)) throw new Error('The history leads elsewhere.');
    return { rows, done: past };
  } catch {
    // a history that does not fit its document is of no use to anyone; the document is what counts
    return { rows: LibraryRows.of(now), done: [] };
  }
}

function kept(id: string, label: string, applied: ReturnType<LibraryRows['apply']>, at: number) {
  return {
    id,
    author: '',
    label,
    rows: applied.writes.length,
    ops: opsData.write({ ops: applied.ops }),
    inverse: opsData.write({ ops: applied.inverse }),
    at: new Date(at),
  };
}

async function writePast(tx: Tx, num: number, last: number, done: Past['done']): Promise<void> {
  for (const [i, change] of done.entries()) {
    const seq = last - done.length + 1 + i;
    await tx.insert(changes).values({ n: firstNumber(num) + seq, library: num, seq, ...change });
  }
}

/** All rows of a library, to be written. */
function allRows(rows: LibraryRows): Write[] {
  const made = (of: 'group' | 'swatch', id: string): Write => ({
    of,
    id,
    before: null,
    after: rows.get(of, id),
  });
  return rows.library.groups.flatMap((g) => [
    made('group', g.id),
    ...g.swatches.map((s) => made('swatch', s.id)),
  ]);
}

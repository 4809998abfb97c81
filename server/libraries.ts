import { and, desc, eq, isNotNull, isNull, like, ne, sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { toHex } from '../core/color/index.ts';
import {
  applyEdit,
  checkLibrary,
  describeEdit,
  type Edit,
  EditError,
  isLoose,
  type Library,
  toSearchText,
  withNewIds,
} from '../core/swatch/index.ts';
import type { Db } from './db.ts';
import { type Band, history, libraries } from './schema.ts';

/** The tray is a library too, so that it is edited, kept and undone in the same way. It is in no list. */
export const TRAY = 'tray';

/** The bands of a list need no more colours than a screen has room for. */
const BAND_COLORS = 240;

export interface Summary {
  id: string;
  name: string;
  band: Band;
  swatchCount: number;
  groupCount: number;
  changedAt: Date;
  /** What a search found inside, for the list to show. */
  found?: string[];
}

/** A library as the browser works on it. */
export interface State {
  library: Library;
  revision: number;
  /** What undo and redo would do next, in words; null when there is nothing. */
  undo: string | null;
  redo: string | null;
}

const now = () => new Date();
const lower = (text: string) => text.toLocaleLowerCase('en');
const oneLine = (text: string) => lower(text).replace(/[\r\n]+/g, ' ');

function derived(library: Library) {
  const total = library.groups.reduce((n, g) => n + g.swatches.length, 0);
  const step = Math.max(1, Math.ceil(total / BAND_COLORS));
  return {
    name: library.name,
    content: library,
    band: library.groups
      .map((g) => g.swatches.filter((_, i) => i % step === 0).map((s) => toHex(s.color)))
      .filter((g) => g.length > 0),
    swatchCount: total,
    groupCount: library.groups.filter((g) => !isLoose(library, g)).length,
    searchText: [
      oneLine(library.name),
      ...library.groups.flatMap((g) => [oneLine(g.name), ...g.swatches.map(toSearchText)]),
    ].join('\n'),
    changedAt: now(),
  };
}

const summaryColumns = {
  id: libraries.id,
  name: libraries.name,
  band: libraries.band,
  swatchCount: libraries.swatchCount,
  groupCount: libraries.groupCount,
  changedAt: libraries.changedAt,
};

/** All libraries, newest change first; with a query, those in which a library, group or swatch is so named. */
export async function listLibraries(db: Db, query = ''): Promise<Summary[]> {
  const wanted = lower(query.trim());
  const pattern = `%${wanted.replace(/[\\%_]/g, '\\$&')}%`;
  const rows = await db
    .select({ ...summaryColumns, ...(wanted ? { searchText: libraries.searchText } : {}) })
    .from(libraries)
    .where(
      and(
        isNull(libraries.deletedAt),
        ne(libraries.id, TRAY),
        wanted ? sql`${like(libraries.searchText, pattern)} ESCAPE '\\'` : undefined,
      ),
    )
    .orderBy(desc(libraries.changedAt));
  return rows.map(({ searchText, ...row }) => ({
    ...row,
    ...(searchText
      ? {
          found: [
            ...new Set(
              (searchText as string)
                .split('\n')
                .slice(1)
                .filter((l) => l.includes(wanted)),
            ),
          ].slice(0, 6),
        }
      : {}),
  }));
}

/** Deleted libraries, which can be brought back, latest first. */
export async function listDeleted(db: Db): Promise<Summary[]> {
  return db
    .select(summaryColumns)
    .from(libraries)
    .where(isNotNull(libraries.deletedAt))
    .orderBy(desc(libraries.deletedAt));
}

/** Keeps a library under new identifiers, so that adding one never replaces another. */
export async function createLibrary(db: Db, library: Library): Promise<string> {
  const own = checkLibrary(withNewIds(library, () => nanoid(12)));
  await db.insert(libraries).values({ id: own.id, ...derived(own) });
  return own.id;
}

export async function duplicateLibrary(db: Db, id: string): Promise<string | null> {
  const state = await readLibrary(db, id);
  if (!state) return null;
  return createLibrary(db, { ...state.library, name: `${state.library.name} copy` });
}

/** Takes a library out of the lists; {@link restoreLibrary} brings it back as it was. */
export async function deleteLibrary(db: Db, id: string): Promise<void> {
  if (id === TRAY) return;
  await db.update(libraries).set({ deletedAt: now() }).where(eq(libraries.id, id));
}

export async function restoreLibrary(db: Db, id: string): Promise<void> {
  await db.update(libraries).set({ deletedAt: null }).where(eq(libraries.id, id));
}

/** A library with its revision and what can be undone; null when there is none. */
export async function readLibrary(db: Db, id: string): Promise<State | null> {
  const [row] = await db
    .select({ content: libraries.content, revision: libraries.revision })
    .from(libraries)
    .where(and(eq(libraries.id, id), isNull(libraries.deletedAt)));
  if (!row) return null;
  return { library: row.content, revision: row.revision, ...(await steps(db, id)) };
}

/** The tray, made empty when there is none yet. */
export async function readTray(db: Db): Promise<State> {
  const found = await readLibrary(db, TRAY);
  if (found) return found;
  const tray: Library = { id: TRAY, name: 'Tray', groups: [{ id: TRAY, name: '', swatches: [] }] };
  await db
    .insert(libraries)
    .values({ id: TRAY, ...derived(tray) })
    .onConflictDoNothing();
  return { library: tray, revision: 0, undo: null, redo: null };
}

type Executor = Pick<Db, 'select'>;

async function steps(db: Executor, id: string): Promise<{ undo: string | null; redo: string | null }> {
  const undo = await lastStep(db, id, false);
  const redo = await lastStep(db, id, true);
  return { undo: undo && describeEdit(undo.edit), redo: redo && describeEdit(redo.edit) };
}

/** The last edit done, or the first one undone. */
async function lastStep(db: Executor, id: string, undone: boolean) {
  const [row] = await db
    .select()
    .from(history)
    .where(and(eq(history.libraryId, id), eq(history.undone, undone)))
    .orderBy(undone ? history.id : desc(history.id))
    .limit(1);
  return row ?? null;
}

export type Change = { edit: Edit } | { step: 'undo' | 'redo' };

export interface Changed extends Omit<State, 'library'> {
  /** Given when the browser cannot know it: after undo and redo, or when others changed the library before. */
  library?: Library;
}

/**
 * The one place where an edit is applied and kept. An edit made on an older revision is applied to what is
 * there now when it still fits.
 * @throws EditError when it does not fit, or there is nothing to undo or redo
 */
export async function changeLibrary(
  db: Db,
  id: string,
  change: Change,
  onRevision: number,
): Promise<Changed> {
  return db.transaction(async (tx) => {
    const [row] = await tx
      .select({ content: libraries.content, revision: libraries.revision })
      .from(libraries)
      .where(and(eq(libraries.id, id), isNull(libraries.deletedAt)));
    if (!row) throw new EditError('The library has been deleted. Bring it back from the list of libraries.');
    let library: Library;
    if ('edit' in change) {
      const applied = applyEdit(row.content, change.edit);
      library = applied.library;
      // what was undone before a new edit cannot be redone after it
      await tx.delete(history).where(and(eq(history.libraryId, id), eq(history.undone, true)));
      await tx
        .insert(history)
        .values({ libraryId: id, edit: change.edit, inverse: applied.inverse, at: now() });
    } else {
      const undo = change.step === 'undo';
      const step = await lastStep(tx, id, !undo);
      if (!step) throw new EditError(`There is nothing to ${change.step}.`);
      library = applyEdit(row.content, undo ? step.inverse : step.edit).library;
      await tx.update(history).set({ undone: undo }).where(eq(history.id, step.id));
    }
    const revision = row.revision + 1;
    await tx
      .update(libraries)
      .set({ ...derived(library), revision })
      .where(eq(libraries.id, id));
    const known = 'edit' in change && row.revision === onRevision;
    return { revision, ...(await steps(tx, id)), ...(known ? {} : { library }) };
  });
}

import { and, asc, desc, eq, gt, lt } from 'drizzle-orm';
import { type KitChoices, kitData, presetData } from '../core/formats/plan.ts';
import { findLibrary } from './changes.ts';
import { type Db, only, write } from './db.ts';
import { firstNumber } from './rows.ts';
import { changes, kits, presets } from './schema.ts';

/** A hand-over of the past. */
export interface TakenKit {
  id: number;
  /** The number of the library's last change before it. */
  revision: number;
  choices: KitChoices;
  at: Date;
}

export interface Preset {
  name: string;
  destinations: KitChoices['destinations'];
}

/** More are not shown, and not needed to take one again. */
const KITS_KEPT = 20;

/** The kits taken of a library, the latest first. @throws RefusedError when it is not there */
export async function listKits(db: Db, libraryId: string): Promise<TakenKit[]> {
  const { num } = await findLibrary(db, libraryId);
  const rows = await db
    .select({ id: kits.id, revision: kits.revision, choices: kits.choices, at: kits.at })
    .from(kits)
    .where(eq(kits.library, num))
    .orderBy(desc(kits.id))
    .limit(KITS_KEPT);
  return rows.map((row) => ({ ...row, choices: kitData.read(row.choices) }));
}

/** The last kit taken of a library, if there is one. @throws RefusedError when the library is not there */
export async function lastKit(db: Db, libraryId: string): Promise<Pick<TakenKit, 'revision' | 'at'> | null> {
  const { num, seq } = await findLibrary(db, libraryId);
  const [row] = await db
    .select({ revision: kits.revision, at: kits.at })
    .from(kits)
    .where(eq(kits.library, num))
    .orderBy(desc(kits.id))
    .limit(1);
  if (!row) return null;
  const [other] = await db
    .select({ seq: changes.seq })
    .from(changes)
    .where(
      and(
        gt(changes.n, firstNumber(num) + row.revision),
        lt(changes.n, firstNumber(num + 1)),
        eq(changes.talk, false),
      ),
    )
    .limit(1);
  // comments that came since make no kit another
  return other ? row : { ...row, revision: Math.max(row.revision, seq) };
}

/** Remembers that a kit was taken. @throws RefusedError when the library is not there */
export function keepKit(db: Db, libraryId: string, revision: number, choices: KitChoices): Promise<TakenKit> {
  return write(db, async (tx) => {
    const { num } = await findLibrary(tx, libraryId);
    const at = new Date();
    const { id } = only(
      await tx
        .insert(kits)
        .values({ library: num, revision, choices: kitData.write(choices), at })
        .returning({ id: kits.id }),
    );
    return { id, revision, choices, at };
  });
}

export async function listPresets(db: Db): Promise<Preset[]> {
  const rows = await db.select().from(presets).orderBy(asc(presets.name));
  return rows.map(({ name, destinations }) => ({ name, ...presetData.read(destinations) }));
}

/** Keeps a preset; one of the same name is replaced. */
export function keepPreset(db: Db, { name, destinations }: Preset): Promise<void> {
  const kept = presetData.write({ destinations });
  return write(db, async (tx) => {
    await tx
      .insert(presets)
      .values({ name, destinations: kept })
      .onConflictDoUpdate({ target: presets.name, set: { destinations: kept } });
  });
}

export const deletePreset = (db: Db, name: string): Promise<void> =>
  write(db, async (tx) => {
    await tx.delete(presets).where(eq(presets.name, name));
  });

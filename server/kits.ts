import { asc, desc, eq } from 'drizzle-orm';
import type { KitChoices } from '../core/formats/kit.ts';
import type { Db } from './db.ts';
import { kits, presets } from './schema.ts';

/** A hand-over of the past. */
export interface TakenKit {
  id: number;
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

/** The kits taken of a library, the latest first. */
export function listKits(db: Db, libraryId: string): Promise<TakenKit[]> {
  return db
    .select({ id: kits.id, revision: kits.revision, choices: kits.choices, at: kits.at })
    .from(kits)
    .where(eq(kits.libraryId, libraryId))
    .orderBy(desc(kits.id))
    .limit(KITS_KEPT);
}

/** Remembers that a kit was taken. */
export async function keepKit(
  db: Db,
  libraryId: string,
  revision: number,
  choices: KitChoices,
): Promise<TakenKit> {
  const [row] = await db.insert(kits).values({ libraryId, revision, choices, at: new Date() }).returning();
  return { id: row.id, revision: row.revision, choices: row.choices, at: row.at };
}

export function listPresets(db: Db): Promise<Preset[]> {
  return db.select().from(presets).orderBy(asc(presets.name));
}

/** Keeps a preset; one of the same name is replaced. */
export async function keepPreset(db: Db, preset: Preset): Promise<void> {
  await db
    .insert(presets)
    .values(preset)
    .onConflictDoUpdate({ target: presets.name, set: { destinations: preset.destinations } });
}

export async function deletePreset(db: Db, name: string): Promise<void> {
  await db.delete(presets).where(eq(presets.name, name));
}

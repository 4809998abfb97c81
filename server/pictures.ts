import { and, asc, eq } from 'drizzle-orm';
import type { Take } from '../core/picture/take.ts';
import type { Db } from './db.ts';
import { pictures } from './schema.ts';

/** The longer side of a copy, px, and what a copy of that size can weigh. */
export const COPY_SIDE = 1600;
export const COPY_BYTES = 16 * 1024 * 1024;

/** A picture kept with a library, without its pixels. */
export interface KeptPicture {
  id: string;
  name: string;
  width: number;
  height: number;
  takes: Take[];
}

export interface PictureCopy {
  mime: string;
  bytes: Uint8Array;
}

/** The pictures kept with a library, in the order they came. */
export function listPictures(db: Db, libraryId: string): Promise<KeptPicture[]> {
  return db
    .select({
      id: pictures.id,
      name: pictures.name,
      width: pictures.width,
      height: pictures.height,
      takes: pictures.takes,
    })
    .from(pictures)
    .where(eq(pictures.libraryId, libraryId))
    .orderBy(asc(pictures.at));
}

const one = (libraryId: string, id: string) => and(eq(pictures.libraryId, libraryId), eq(pictures.id, id));

/** Keeps a copy and the takes. Keeping it again brings both up to date. */
export async function keepPicture(
  db: Db,
  libraryId: string,
  { id, name, width, height, takes }: KeptPicture,
  { mime, bytes }: PictureCopy,
): Promise<void> {
  const values = { name, width, height, mime, copy: Buffer.from(bytes), takes };
  await db
    .insert(pictures)
    .values({ id, libraryId, ...values, at: new Date() })
    .onConflictDoUpdate({ target: [pictures.libraryId, pictures.id], set: values });
}

/** The pixels of a kept picture; null when it is not there. */
export async function readCopy(db: Db, libraryId: string, id: string): Promise<PictureCopy | null> {
  const [row] = await db
    .select({ mime: pictures.mime, bytes: pictures.copy })
    .from(pictures)
    .where(one(libraryId, id));
  return row ?? null;
}

/** Brings the takes of a kept picture up to date; false when it is not there. */
export async function saveTakes(db: Db, libraryId: string, id: string, takes: Take[]): Promise<boolean> {
  const rows = await db
    .update(pictures)
    .set({ takes })
    .where(one(libraryId, id))
    .returning({ id: pictures.id });
  return rows.length > 0;
}

export async function forgetPicture(db: Db, libraryId: string, id: string): Promise<void> {
  await db.delete(pictures).where(one(libraryId, id));
}

import { and, asc, eq } from 'drizzle-orm';
import { type Take, takesData } from '../core/picture/take.ts';
import { type Asset, dropUnused, keepAsset, readAsset } from './assets.ts';
import { findLibrary } from './changes.ts';
import { type Db, write } from './db.ts';
import { pictures } from './schema.ts';

/** A picture kept with a library, without its pixels. */
export interface KeptPicture {
  id: string;
  name: string;
  width: number;
  height: number;
  takes: Take[];
}

const one = (library: number, id: string) => and(eq(pictures.library, library), eq(pictures.id, id));

/** The pictures kept with a library, in the order they came. @throws RefusedError when it is not there */
export async function listPictures(db: Db, libraryId: string): Promise<KeptPicture[]> {
  const { num } = await findLibrary(db, libraryId);
  const rows = await db
    .select({
      id: pictures.id,
      name: pictures.name,
      width: pictures.width,
      height: pictures.height,
      takes: pictures.takes,
    })
    .from(pictures)
    .where(eq(pictures.library, num))
    .orderBy(asc(pictures.at));
  return rows.map((row) => ({ ...row, takes: takesData.read(row.takes).takes }));
}

/** Keeps a copy and the takes. Keeping it again brings both up to date. @throws RefusedError when the library is not there */
export function keepPicture(
  db: Db,
  libraryId: string,
  { id, name, width, height, takes }: KeptPicture,
  copy: Asset,
): Promise<void> {
  return write(db, async (tx) => {
    const { num } = await findLibrary(tx, libraryId);
    const asset = await keepAsset(tx, copy);
    const values = { name, width, height, asset, takes: takesData.write({ takes }) };
    await tx
      .insert(pictures)
      .values({ id, library: num, ...values, at: new Date() })
      .onConflictDoUpdate({ target: [pictures.library, pictures.id], set: values });
    await dropUnused(tx);
  });
}

/** The pixels of a kept picture; null when it is not there. @throws RefusedError when the library is not there */
export async function readCopy(db: Db, libraryId: string, id: string): Promise<Asset | null> {
  const { num } = await findLibrary(db, libraryId);
  const [row] = await db.select({ asset: pictures.asset }).from(pictures).where(one(num, id));
  return row ? readAsset(db, row.asset) : null;
}

/** Brings the takes of a kept picture up to date; false when it is not there. @throws RefusedError when the library is not there */
export function saveTakes(db: Db, libraryId: string, id: string, takes: Take[]): Promise<boolean> {
  return write(db, async (tx) => {
    const { num } = await findLibrary(tx, libraryId);
    const rows = await tx
      .update(pictures)
      .set({ takes: takesData.write({ takes }) })
      .where(one(num, id))
      .returning({ id: pictures.id });
    return rows.length > 0;
  });
}

/** @throws RefusedError when the library is not there */
export function forgetPicture(db: Db, libraryId: string, id: string): Promise<void> {
  return write(db, async (tx) => {
    const { num } = await findLibrary(tx, libraryId);
    await tx.delete(pictures).where(one(num, id));
    await dropUnused(tx);
  });
}

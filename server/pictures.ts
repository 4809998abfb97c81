import { createHash } from 'node:crypto';
import { and, asc, eq, sql } from 'drizzle-orm';
import { type Take, takesData } from '../core/picture/take.ts';
import { findLibrary } from './changes.ts';
import { type Db, type Tx, write } from './db.ts';
import { artworks, assets, pictures, profiles } from './schema.ts';

/** A picture kept with a library, without its pixels. */
export interface KeptPicture {
  id: string;
  name: string;
  width: number;
  height: number;
  takes: Take[];
}

/** A file's bytes as they are kept. */
export interface Asset {
  mime: string;
  bytes: Uint8Array;
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

/** Keeps the bytes of a file once, and gives what to refer to it by: their SHA-256. */
export async function keepAsset(tx: Tx, { mime, bytes }: Asset): Promise<string> {
  const hash = createHash('sha256').update(bytes).digest('hex');
  await tx
    .insert(assets)
    .values({ hash, mime, bytes: Buffer.from(bytes) })
    .onConflictDoNothing();
  return hash;
}

/** Lets go of files that nothing refers to any more. */
export const dropUnused = (tx: Tx) =>
  tx
    .delete(assets)
    .where(
      sql`${assets.hash} NOT IN (SELECT ${pictures.asset} FROM ${pictures}) AND ${assets.hash} NOT IN (SELECT ${profiles.hash} FROM ${profiles}) AND ${assets.hash} NOT IN (SELECT ${artworks.hash} FROM ${artworks})`,
    );

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
  const [row] = await db
    .select({ mime: assets.mime, bytes: assets.bytes })
    .from(pictures)
    .innerJoin(assets, eq(assets.hash, pictures.asset))
    .where(one(num, id));
  return row ?? null;
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

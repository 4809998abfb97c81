import { createHash } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { type Asset, keepAsset, readAsset } from './assets.ts';
import { type Db, write } from './db.ts';
import { artworks } from './schema.ts';

/** Keeps the bytes of a piece of artwork, once. False when they are not what their hash says: some were lost on the way. */
export async function keepArtwork(db: Db, hash: string, artwork: Asset): Promise<boolean> {
  if (createHash('sha256').update(artwork.bytes).digest('hex') !== hash) return false;
  await write(db, async (tx) => {
    await keepAsset(tx, artwork);
    await tx.insert(artworks).values({ hash, at: new Date() }).onConflictDoNothing();
  });
  return true;
}

/** The bytes of a piece of artwork; null when it is not here. */
export async function readArtworkBytes(db: Db, hash: string): Promise<Uint8Array | null> {
  const [row] = await db.select({ hash: artworks.hash }).from(artworks).where(eq(artworks.hash, hash));
  return row ? ((await readAsset(db, hash))?.bytes ?? null) : null;
}

import { createHash } from 'node:crypto';
import { asc, eq, sql } from 'drizzle-orm';
import { joined } from '../core/join.ts';
import { ask, run, statement, type Tx } from './db.ts';
import { artworks, assetParts, assets, MAX_VALUE_BYTES, pictures, profiles } from './schema.ts';

/** A file's bytes as they are kept. */
export interface Asset {
  mime: string;
  bytes: Uint8Array;
}

/** Keeps the bytes of a file once, and gives what to refer to it by: their SHA-256. */
export async function keepAsset(tx: Tx, { mime, bytes }: Asset): Promise<string> {
  const hash = createHash('sha256').update(bytes).digest('hex');
  const [known] = await tx.select({ hash: assets.hash }).from(assets).where(eq(assets.hash, hash));
  if (known) return hash;
  const pieces: Buffer[] = [];
  for (let at = 0; at === 0 || at < bytes.length; at += MAX_VALUE_BYTES)
    pieces.push(Buffer.from(bytes.subarray(at, at + MAX_VALUE_BYTES)));
  const [first, ...rest] = pieces;
  await run(tx, [
    statement(tx.insert(assets).values({ hash, mime, bytes: first! })),
    ...rest.map((piece, i) => statement(tx.insert(assetParts).values({ hash, part: i + 1, bytes: piece }))),
  ]);
  return hash;
}

/** The bytes that are kept under a hash; null when there are none. */
export async function readAsset(tx: Tx, hash: string): Promise<Asset | null> {
  const [[asset], parts] = await ask(tx, [
    tx.select({ mime: assets.mime, bytes: assets.bytes }).from(assets).where(eq(assets.hash, hash)),
    tx
      .select({ part: assetParts.part })
      .from(assetParts)
      .where(eq(assetParts.hash, hash))
      .orderBy(asc(assetParts.part)),
  ]);
  if (!asset) return null;
  const pieces: Uint8Array[] = [new Uint8Array(asset.bytes)];
  // one at a time: an answer must not become too large, either
  for (const { part } of parts) {
    const [row] = await tx
      .select({ bytes: assetParts.bytes })
      .from(assetParts)
      .where(sql`${assetParts.hash} = ${hash} AND ${assetParts.part} = ${part}`);
    if (!row) return null;
    pieces.push(new Uint8Array(row.bytes));
  }
  return { mime: asset.mime, bytes: pieces.length === 1 ? pieces[0]! : joined(pieces) };
}

const unused = sql`SELECT hash FROM ${assets} WHERE hash NOT IN (SELECT ${pictures.asset} FROM ${pictures})
  AND hash NOT IN (SELECT ${profiles.hash} FROM ${profiles}) AND hash NOT IN (SELECT ${artworks.hash} FROM ${artworks})
  AND hash NOT IN (SELECT data ->> '$.pinned.hash' FROM links WHERE data ->> '$.pinned.hash' IS NOT NULL)`;

/** Lets go of files that nothing refers to any more. */
export const dropUnused = (tx: Tx): Promise<void> =>
  run(tx, [
    statement(sql`DELETE FROM asset_parts WHERE hash IN (${unused})`),
    statement(sql`DELETE FROM assets WHERE hash IN (${unused})`),
  ]);

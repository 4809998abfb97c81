import { createHash, randomBytes } from 'node:crypto';
import { and, asc, eq, inArray, isNull, type SQL, sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import type { FileChoice } from '../core/formats/plan.ts';
import type { Level } from '../core/level.ts';
import { stored } from '../core/stored.ts';
import { type Asset, keepAsset } from './assets.ts';
import { findLibrary, RefusedError } from './changes.ts';
import { type Db, write } from './db.ts';
import { libraries, links } from './schema.ts';

/** What a link shows to whoever has it. */
export interface PageLink {
  is: 'page';
  /** To whom it was given. */
  name: string;
  access: Level;
  /** The board it shows; null for the whole library. */
  board: string | null;
  /** Formats that may be downloaded; null for all. */
  formats: string[] | null;
  /** When it ends, ms since 1970; null for never. */
  expires: number | null;
}

/** What a link to a file returns. */
export interface FileLink {
  is: 'file';
  name: string;
  file: Pick<FileChoice, 'format' | 'options'>;
  /** Groups by their ids; null for the whole library. */
  groups: string[] | null;
  /** Whether pages of other sites may read it with scripts. */
  cors: boolean;
  /** As the file was at this time, ms since 1970, by the SHA-256 of its bytes; null for always as it is now. */
  pinned: { hash: string; at: number } | null;
}

export type LinkData = PageLink | FileLink;
const linkData = stored<LinkData>([
  (old) => old,
  // the first links were all to view
  (old) => ({ ...((old as LinkData).is === 'page' ? { access: 'view' } : {}), ...(old as LinkData) }),
]);

/** A link as the list shows it. */
export interface Link<D extends LinkData = LinkData> {
  id: string;
  data: D;
  at: Date;
  usedAt: Date | null;
  uses: number;
}

/** A link as it is used. */
export interface OpenLink<D extends LinkData = LinkData> {
  id: string;
  /** Of its token. */
  hash: string;
  data: D;
  /** Another whenever it shows something else. */
  version: string;
  library: { id: string; num: number; seq: number; name: string; changedAt: Date };
}

/** A library has no more links. */
export const MAX_LINKS = 1000;
const TOKEN_BYTES = 16;
/** A use is written down again after this time. */
const USE_MS = 60_000;

/** By what a token is known. */
export const hashOf = (token: string) => createHash('sha256').update(token).digest('base64url');
const newToken = () => randomBytes(TOKEN_BYTES).toString('base64url');
/** What a link shows is another once its library has changed, or the link itself. */
const versionOf = (seq: number, data: string) => `${seq}-${hashOf(data).slice(0, 8)}`;
/** What a token looks like: nothing else is looked for. */
export const isToken = (text: string) => /^[\w-]{22}$/.test(text);

/** Uses that are not written down yet, by the link. */
const uses = new Map<string, { count: number; written: number }>();

const shown = (row: typeof links.$inferSelect): Link => ({
  ...{ id: row.id, data: linkData.read(row.data), at: row.at, usedAt: row.usedAt },
  uses: row.uses + (uses.get(row.id)?.count ?? 0),
});

/** The links of a library, the oldest first. @throws RefusedError when it is not there */
export async function listLinks(db: Db, libraryId: string): Promise<Link[]> {
  const { num } = await findLibrary(db, libraryId);
  const rows = await db
    .select()
    .from(links)
    .where(eq(links.library, num))
    .orderBy(asc(links.at), asc(links.id));
  return rows.map(shown);
}

/** Makes a link, and keeps its file where it is pinned. @returns it, and its token, which is not known afterwards */
export function makeLink(
  db: Db,
  libraryId: string,
  data: LinkData,
  pinned: Asset | null = null,
): Promise<{ link: Link; token: string }> {
  return write(db, async (tx) => {
    const { num } = await findLibrary(tx, libraryId);
    const [{ count } = { count: 0 }] = await tx
      .select({ count: sql<number>`count(*)` })
      .from(links)
      .where(eq(links.library, num));
    if (count >= MAX_LINKS)
      throw new RefusedError(`A library has up to ${MAX_LINKS} links. Revoke one that nobody needs.`);
    if (pinned) await keepAsset(tx, pinned);
    const token = newToken();
    const row = {
      ...{ id: nanoid(12), library: num, kind: data.is, hash: hashOf(token), data: linkData.write(data) },
      ...{ at: new Date(), usedAt: null, uses: 0 },
    };
    await tx.insert(links).values(row);
    return { link: shown(row), token };
  });
}

const GONE = 'This link is not there any more. Load the list again.';

async function ofLibrary(
  tx: Pick<Db, 'select'>,
  num: number,
  id: string,
): Promise<typeof links.$inferSelect> {
  const [row] = await tx
    .select()
    .from(links)
    .where(and(eq(links.library, num), eq(links.id, id)));
  if (!row) throw new RefusedError(GONE, 'never');
  return row;
}

/** Changes what a link shows and allows. @throws RefusedError when it is not there */
export function changeLink(
  db: Db,
  libraryId: string,
  id: string,
  data: LinkData,
  pinned: Asset | null = null,
): Promise<Link> {
  return write(db, async (tx) => {
    const { num } = await findLibrary(tx, libraryId);
    const row = await ofLibrary(tx, num, id);
    if (row.kind !== data.is) throw new RefusedError('A link to a page cannot become one to a file.');
    if (pinned) await keepAsset(tx, pinned);
    const next = linkData.write(data);
    await tx.update(links).set({ data: next }).where(eq(links.id, id));
    return shown({ ...row, data: next });
  });
}

/** Gives a link another address; the old one ends at once. @returns the token */
export function renewLink(db: Db, libraryId: string, id: string): Promise<string> {
  return write(db, async (tx) => {
    const { num } = await findLibrary(tx, libraryId);
    await ofLibrary(tx, num, id);
    const token = newToken();
    await tx
      .update(links)
      .set({ hash: hashOf(token) })
      .where(eq(links.id, id));
    return token;
  });
}

export const revokeLink = (db: Db, libraryId: string, id: string): Promise<void> =>
  write(db, async (tx) => {
    const { num } = await findLibrary(tx, libraryId);
    await tx.delete(links).where(and(eq(links.library, num), eq(links.id, id)));
  });

/** What a token opens now; null when it opens nothing: never made, revoked, renewed, expired, or its library deleted. */
export async function openLink<K extends LinkData['is']>(
  db: Db,
  token: string,
  kind: K,
  now = Date.now(),
): Promise<OpenLink<Extract<LinkData, { is: K }>> | null> {
  return isToken(token) ? openLinkWhere(db, eq(links.hash, hashOf(token)), kind, now) : null;
}

/** The link of a page by its id, as long as it is the one that somebody came by: a renewed one is another. */
export const openLinkAgain = (db: Db, id: string, hash: string): Promise<OpenLink<PageLink> | null> =>
  openLinkWhere(db, and(eq(links.id, id), eq(links.hash, hash)), 'page', Date.now());

async function openLinkWhere<K extends LinkData['is']>(
  db: Db,
  which: SQL | undefined,
  kind: K,
  now: number,
): Promise<OpenLink<Extract<LinkData, { is: K }>> | null> {
  const [row] = await db
    .select({
      id: links.id,
      hash: links.hash,
      data: links.data,
      usedAt: links.usedAt,
      library: {
        ...{ id: libraries.id, num: libraries.num, seq: libraries.seq, name: libraries.name },
        changedAt: libraries.changedAt,
      },
    })
    .from(links)
    .innerJoin(libraries, eq(libraries.num, links.library))
    .where(and(which, eq(links.kind, kind), isNull(libraries.deletedAt)));
  if (!row) return null;
  const data = linkData.read(row.data);
  if (data.is === 'page' && data.expires !== null && data.expires <= now) return null;
  const version = versionOf(row.library.seq, row.data);
  return {
    id: row.id,
    hash: row.hash,
    version,
    data: data as Extract<LinkData, { is: K }>,
    library: row.library,
  };
}

/** Counts that a link was used; written at once for the first, then once a minute. */
export async function countUse(db: Db, id: string, now = Date.now()): Promise<void> {
  const known = uses.get(id) ?? { count: 0, written: 0 };
  known.count++;
  uses.set(id, known);
  if (now - known.written < USE_MS) return;
  const { count } = known;
  uses.set(id, { count: 0, written: now });
  await db
    .update(links)
    .set({ usedAt: new Date(now), uses: sql`${links.uses} + ${count}` })
    .where(eq(links.id, id));
}

/** The versions of links and what they allow, by the hashes of their tokens; those that open nothing any more are missing. */
export async function linksNow(
  db: Db,
  hashes: readonly string[],
  now = Date.now(),
): Promise<Map<string, { version: string; access: Level }>> {
  if (hashes.length === 0) return new Map();
  const rows = await db
    .select({ hash: links.hash, data: links.data, seq: libraries.seq })
    .from(links)
    .innerJoin(libraries, eq(libraries.num, links.library))
    .where(and(inArray(links.hash, [...hashes]), eq(links.kind, 'page'), isNull(libraries.deletedAt)));
  return new Map(
    rows.flatMap(({ hash, data, seq }) => {
      const read = linkData.read(data);
      if (read.is !== 'page' || (read.expires !== null && read.expires <= now)) return [];
      return [[hash, { version: versionOf(seq, data), access: read.access }] as const];
    }),
  );
}

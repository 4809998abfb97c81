import { createHash, randomBytes } from 'node:crypto';
import { and, eq, sql } from 'drizzle-orm';
import { nanoid } from 'nanoid';
import { RefusedError } from './changes.ts';
import { type Db, write } from './db.ts';
import { type OpenLink, openLinkAgain, type PageLink } from './links.ts';
import { people } from './schema.ts';

// Who works with a library. Owners are known by what their browser calls itself; who came by a link by a secret of their own, so
// that nobody takes another's name or takes back what another did.

export interface Person {
  id: string;
  name: string;
}

/** Somebody who came by a link, with what it opens now. */
export interface Visitor extends Person {
  link: OpenLink<PageLink>;
}

/** So many people one link lets in under names. */
const MAX_PEOPLE = 500;
/** What a browser holds of links is looked at up to here. */
const MAX_CARDS = 20;

const hashOf = (secret: string) => createHash('sha256').update(secret).digest('base64url');

/** By what somebody's browser is known again: their id, and a secret. */
export const cardOf = (id: string, secret: string) => `${id}.${secret}`;
const isCard = (card: string) => /^[\w-]{12}\.[\w-]{22}$/.test(card);

/** Gives somebody who came by a link a name. @returns them, and the card their browser is to keep */
export const joinLink = (
  db: Db,
  link: OpenLink<PageLink>,
  name: string,
): Promise<{ person: Person; card: string }> =>
  write(db, async (tx) => {
    const [{ count } = { count: 0 }] = await tx
      .select({ count: sql<number>`count(*)` })
      .from(people)
      .where(and(eq(people.link, link.id), eq(people.linkHash, link.hash)));
    if (count >= MAX_PEOPLE)
      throw new RefusedError(`${MAX_PEOPLE} people have come by this link already. Ask for one of your own.`);
    const secret = randomBytes(16).toString('base64url');
    const person = { id: nanoid(12), name };
    await tx
      .insert(people)
      .values({ ...person, link: link.id, linkHash: link.hash, hash: hashOf(secret), at: new Date() });
    return { person, card: cardOf(person.id, secret) };
  });

/** Who the holder of a card is, and what their link opens now; null where it opens nothing any more. */
export async function visitorOf(db: Db, card: string): Promise<Visitor | null> {
  if (!isCard(card)) return null;
  const [id = '', secret = ''] = card.split('.');
  const [row] = await db
    .select()
    .from(people)
    .where(and(eq(people.id, id), eq(people.hash, hashOf(secret))));
  if (!row?.link || !row.linkHash) return null;
  const link = await openLinkAgain(db, row.link, row.linkHash);
  return link && { id, name: row.name, link };
}

/** All that a browser is by the cards it holds. */
export async function visitorsOf(db: Db, cards: readonly string[]): Promise<Visitor[]> {
  const found = await Promise.all(cards.slice(0, MAX_CARDS).map((card) => visitorOf(db, card)));
  return found.filter((v) => v !== null);
}

/** Sets somebody's name; of an owner who has none yet, too. */
export const nameOwner = (db: Db, { id, name }: Person): Promise<void> =>
  write(db, async (tx) => {
    await tx
      .insert(people)
      .values({ id, name, at: new Date() })
      // nobody becomes an owner by it, and no visitor is renamed
      .onConflictDoUpdate({ target: people.id, set: { name }, setWhere: sql`${people.link} IS NULL` });
  });

/** Another name for who came by a link. */
export const renameVisitor = (db: Db, { id, name }: Person): Promise<void> =>
  write(db, async (tx) => {
    await tx.update(people).set({ name }).where(eq(people.id, id));
  });

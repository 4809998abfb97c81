import { deflateRawSync, inflateRawSync } from 'node:zlib';
import { sql } from 'drizzle-orm';
import {
  blob,
  customType,
  index,
  integer,
  primaryKey,
  real,
  sqliteTable,
  text,
  uniqueIndex,
} from 'drizzle-orm/sqlite-core';

/** Facts about the database itself: its epoch is another after it has been put in place of another. */
export const about = sqliteTable('about', {
  key: text('key').primaryKey(),
  value: text('value').notNull(),
});

/** What the list of libraries shows of one: its groups' colours as hex, cut short for very large ones. */
export type Band = string[][];

// Swatches and changes are numbered through: the library's number, then this many bits for those of one library. So a range of
// numbers is one library, which is what the search and the reading of a whole library go by.
export const NUMBER_BITS = 24;

/** A database server takes no text, no blob and no row of more than 5 MB. */
export const MAX_VALUE_BYTES = 4_000_000;

/** Text of more bytes than this is kept packed. */
const MAX_PLAIN_BYTES = 1_000_000;

/** Text of any length: a long one is kept as a blob of its bytes, deflated. */
const longText = customType<{ data: string; driverData: string | Buffer | ArrayBuffer }>({
  dataType: () => 'text',
  toDriver: (text) => (Buffer.byteLength(text) > MAX_PLAIN_BYTES ? deflateRawSync(text) : text),
  fromDriver: (kept) =>
    typeof kept === 'string' ? kept : inflateRawSync(new Uint8Array(kept)).toString('utf8'),
});

export const libraries = sqliteTable(
  'libraries',
  {
    num: integer('num').primaryKey({ autoIncrement: true }),
    id: text('id').notNull(),
    name: text('name').notNull(),
    /** The name in lower case, for the search. */
    folded: text('folded').notNull(),
    /** Note and columns, as JSON with a version. */
    data: text('data').notNull(),
    /** The number of its last change. */
    seq: integer('seq').notNull().default(0),
    /** The number its next swatch gets. */
    nextSwatch: integer('next_swatch').notNull().default(0),
    /** Null when a change has made it old: it is rebuilt when it is next looked at. */
    band: text('band', { mode: 'json' }).$type<Band>(),
    swatchCount: integer('swatch_count').notNull().default(0),
    groupCount: integer('group_count').notNull().default(0),
    changedAt: integer('changed_at', { mode: 'timestamp_ms' }).notNull(),
    deletedAt: integer('deleted_at', { mode: 'timestamp_ms' }),
    /** When it was archived: hidden from the usual list, and kept. */
    archivedAt: integer('archived_at', { mode: 'timestamp_ms' }),
    /** The names of the shelves it is on. */
    shelves: text('shelves', { mode: 'json' }).$type<string[]>().notNull().default([]),
    /** It is a book, as its data say. */
    book: integer('book', { mode: 'boolean' }).notNull().default(false),
  },
  (t) => [uniqueIndex('libraries_id').on(t.id), index('libraries_by_change').on(t.deletedAt, t.changedAt)],
);

const library = () =>
  integer('library')
    .notNull()
    .references(() => libraries.num);

export const groups = sqliteTable(
  'groups',
  {
    library: library(),
    id: text('id').notNull(),
    orderKey: text('order_key').notNull(),
    name: text('name').notNull(),
    folded: text('folded').notNull(),
    /** The rest of the group, as JSON with a version. */
    data: text('data').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.library, t.id] }),
    index('groups_in_order').on(t.library, t.orderKey, t.id),
  ],
);

export const swatches = sqliteTable(
  'swatches',
  {
    n: integer('n').primaryKey(),
    library: integer('library').notNull(),
    id: text('id').notNull(),
    groupId: text('group_id').notNull(),
    orderKey: text('order_key').notNull(),
    name: text('name').notNull(),
    code: text('code'),
    kind: text('kind').notNull(),
    role: text('role'),
    hex: text('hex').notNull(),
    /** CIE L*a*b*, D50. */
    l: real('l').notNull(),
    a: real('a').notNull(),
    b: real('b').notNull(),
    /** The part of Lab the colour lies in, for finding those close to one. */
    cell: integer('cell').notNull(),
    /** The rest of the swatch, as JSON with a version. */
    data: text('data').notNull(),
  },
  (t) => [
    uniqueIndex('swatches_id').on(t.library, t.id),
    index('swatches_in_order').on(t.library, t.groupId, t.orderKey, t.id),
    index('swatches_by_color').on(t.cell, t.l, t.a, t.b),
    index('swatches_by_book')
      .on(sql`data ->> '$.origin.book'`, sql`data ->> '$.origin.code'`)
      .where(sql`data ->> '$.origin.book' IS NOT NULL`),
  ],
);

/** What a library holds beside swatches. */
export const items = sqliteTable(
  'items',
  {
    library: library(),
    id: text('id').notNull(),
    orderKey: text('order_key').notNull(),
    kind: text('kind').notNull(),
    name: text('name').notNull(),
    /** References and content, as JSON with a version. */
    data: text('data').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.library, t.id] }),
    index('items_by_source').on(t.kind, sql`data ->> '$.data.source'`),
  ],
);

export const changes = sqliteTable(
  'changes',
  {
    n: integer('n').primaryKey(),
    /** Given by whoever made it, so that the same one is never done twice. */
    id: text('id').notNull(),
    library: integer('library').notNull(),
    /** Counts the library's changes from 1. */
    seq: integer('seq').notNull(),
    author: text('author').notNull(),
    step: text('step').$type<'edit' | 'undo' | 'redo'>().notNull(),
    /** The change that this one takes back. */
    undoes: text('undoes'),
    /** Taken back by a later one. */
    undone: integer('undone', { mode: 'boolean' }).notNull().default(false),
    label: text('label').notNull(),
    /** How many rows it touched. */
    rows: integer('rows').notNull(),
    /** It touched comments alone: what is handed over stays as it was. */
    talk: integer('talk', { mode: 'boolean' }).notNull().default(false),
    /** As JSON with a version; both are null once the user has had old history removed. */
    ops: longText('ops'),
    inverse: longText('inverse'),
    /** What was reported to whoever made it, as JSON; null for nothing. */
    said: text('said'),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
  },
  (t) => [
    uniqueIndex('changes_id').on(t.id),
    index('changes_of_author').on(t.library, t.author, t.step, t.undone, t.seq),
  ],
);

/** What was handed over, when, and after which change; the files themselves can be made again. */
export const kits = sqliteTable(
  'kits',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    library: library(),
    revision: integer('revision').notNull(),
    choices: text('choices').notNull(),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
  },
  (t) => [index('kits_by_library').on(t.library, t.id)],
);

/** Destinations and formats kept under a name, for any library. */
export const presets = sqliteTable('presets', {
  name: text('name').primaryKey(),
  destinations: text('destinations').notNull(),
});

/** Files that are kept once, however often they are referred to, by the SHA-256 of their bytes. */
export const assets = sqliteTable('assets', {
  hash: text('hash').primaryKey(),
  mime: text('mime').notNull(),
  /** The first {@link MAX_VALUE_BYTES} of it. */
  bytes: blob('bytes', { mode: 'buffer' }).notNull(),
});

/** What follows in larger files, in pieces numbered from 1. */
export const assetParts = sqliteTable(
  'asset_parts',
  {
    hash: text('hash')
      .notNull()
      .references(() => assets.hash),
    part: integer('part').notNull(),
    bytes: blob('bytes', { mode: 'buffer' }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.hash, t.part] })],
);

/** ICC profiles that users have added, by the SHA-256 of their bytes; those lie among the assets. */
export const profiles = sqliteTable('profiles', {
  hash: text('hash')
    .primaryKey()
    .references(() => assets.hash),
  /** Its own description. */
  name: text('name').notNull(),
  space: text('space').$type<'rgb' | 'cmyk' | 'gray'>().notNull(),
  kind: text('kind').notNull(),
  version: text('version').notNull(),
  size: integer('size').notNull(),
  /** Whether colours can be brought to its device, and not only from it. */
  prints: integer('prints', { mode: 'boolean' }).notNull(),
  at: integer('at', { mode: 'timestamp_ms' }).notNull(),
});

/** Artwork that libraries hold as items. It stays when an item goes, so that undo brings both back. */
export const artworks = sqliteTable('artworks', {
  hash: text('hash')
    .primaryKey()
    .references(() => assets.hash),
  at: integer('at', { mode: 'timestamp_ms' }).notNull(),
});

/** A small copy of a picture that colours were taken from, kept with the library on the user's say-so. */
export const pictures = sqliteTable(
  'pictures',
  {
    id: text('id').notNull(),
    library: library(),
    name: text('name').notNull(),
    /** Of the copy, px. */
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    asset: text('asset')
      .notNull()
      .references(() => assets.hash),
    /** As JSON with a version. */
    takes: text('takes').notNull(),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
  },
  // the same picture may be kept with several libraries
  (t) => [primaryKey({ columns: [t.library, t.id] }), index('pictures_by_library').on(t.library, t.at)],
);

/** What lets others see a library or fetch a file of it. The token itself is known only to those who have the link. */
export const links = sqliteTable(
  'links',
  {
    id: text('id').primaryKey(),
    library: library(),
    kind: text('kind').$type<'page' | 'file'>().notNull(),
    /** SHA-256 of the token. */
    hash: text('hash').notNull(),
    /** What it shows and allows, as JSON with a version. */
    data: text('data').notNull(),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
    usedAt: integer('used_at', { mode: 'timestamp_ms' }),
    uses: integer('uses').notNull().default(0),
  },
  (t) => [uniqueIndex('links_by_hash').on(t.hash), index('links_by_library').on(t.library, t.at)],
);

/** Who works with libraries under a name: the owners, and who came by a link. */
export const people = sqliteTable(
  'people',
  {
    /** As changes name their authors. */
    id: text('id').primaryKey(),
    name: text('name').notNull(),
    /** The link they came by, which counts as long as its token has this hash; null for owners. */
    link: text('link'),
    linkHash: text('link_hash'),
    /** SHA-256 of what their browser knows them by; null for owners. */
    hash: text('hash'),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
  },
  (t) => [index('people_by_link').on(t.link, t.at)],
);

/** What somebody had seen of a library when they last left it. */
export const visits = sqliteTable(
  'visits',
  {
    library: library(),
    person: text('person').notNull(),
    /** The number of the last change they had seen. */
    seq: integer('seq').notNull(),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.library, t.person] })],
);

/** The pages that look at libraries now, of all servers; each is renewed while it is open. */
export const present = sqliteTable(
  'present',
  {
    page: text('page').primaryKey(),
    library: library(),
    person: text('person').notNull(),
    name: text('name').notNull(),
    /** What is selected there, as a JSON list of ids. */
    selection: text('selection').notNull(),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
  },
  (t) => [index('present_by_library').on(t.library, t.at)],
);

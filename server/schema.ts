import { blob, index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { KitChoices } from '../core/formats/kit.ts';
import type { Take } from '../core/picture/take.ts';
import type { Edit } from '../core/swatch/edits.ts';
import type { Library } from '../core/swatch/model.ts';

/** What the list of libraries shows of one: its groups' colours as hex, cut short for very large ones. */
export type Band = string[][];

export const libraries = sqliteTable(
  'libraries',
  {
    id: text('id').primaryKey(),
    name: text('name').notNull(),
    content: text('content', { mode: 'json' }).$type<Library>().notNull(),
    /** Raised by every edit, undo and redo. */
    revision: integer('revision').notNull().default(0),
    /** Derived from the content with each edit, for the list and the search. */
    band: text('band', { mode: 'json' }).$type<Band>().notNull(),
    swatchCount: integer('swatch_count').notNull(),
    groupCount: integer('group_count').notNull(),
    /** Names, codes and roles in lower case, one to a line. */
    searchText: text('search_text').notNull(),
    changedAt: integer('changed_at', { mode: 'timestamp_ms' }).notNull(),
    deletedAt: integer('deleted_at', { mode: 'timestamp_ms' }),
  },
  (table) => [index('libraries_changed').on(table.deletedAt, table.changedAt)],
);

export const history = sqliteTable(
  'history',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    libraryId: text('library_id')
      .notNull()
      .references(() => libraries.id),
    edit: text('edit', { mode: 'json' }).$type<Edit>().notNull(),
    inverse: text('inverse', { mode: 'json' }).$type<Edit>().notNull(),
    undone: integer('undone', { mode: 'boolean' }).notNull().default(false),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
  },
  (table) => [index('history_of_library').on(table.libraryId, table.undone, table.id)],
);

/** What was handed over, when, and at which revision; the files themselves can be made again. */
export const kits = sqliteTable(
  'kits',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    libraryId: text('library_id')
      .notNull()
      .references(() => libraries.id),
    revision: integer('revision').notNull(),
    choices: text('choices', { mode: 'json' }).$type<KitChoices>().notNull(),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
  },
  (table) => [index('kits_of_library').on(table.libraryId, table.id)],
);

/** Destinations and formats kept under a name, for any library. */
export const presets = sqliteTable('presets', {
  name: text('name').primaryKey(),
  destinations: text('destinations', { mode: 'json' }).$type<KitChoices['destinations']>().notNull(),
});

/** A small copy of a picture that colours were taken from, kept with the library on the user's say-so. */
export const pictures = sqliteTable(
  'pictures',
  {
    id: text('id').notNull(),
    libraryId: text('library_id')
      .notNull()
      .references(() => libraries.id),
    name: text('name').notNull(),
    /** Of the copy, px. */
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    mime: text('mime').notNull(),
    copy: blob('copy', { mode: 'buffer' }).notNull(),
    takes: text('takes', { mode: 'json' }).$type<Take[]>().notNull(),
    at: integer('at', { mode: 'timestamp_ms' }).notNull(),
  },
  // the same picture may be kept with several libraries
  (table) => [
    primaryKey({ columns: [table.libraryId, table.id] }),
    index('pictures_of_library').on(table.libraryId, table.at),
  ],
);

import { sql } from 'drizzle-orm';
import {
  boxOf,
  type Color,
  type ColorWords,
  conditionOf,
  deltaE00,
  type Lab,
  offWords,
  type Reach,
  reachOf,
  toLab,
  typedColor,
} from '../core/color/index.ts';
import { conditionFor } from './conditions.ts';
import type { Tx } from './db.ts';
import { cellNumber, cellsOf } from './rows.ts';
import { NUMBER_BITS } from './schema.ts';

/** A swatch that was found, in words for the list. */
export interface Hit {
  /** The library's number. */
  library: number;
  text: string;
}

/** The search index finds parts of this many characters and more. */
const TRIGRAM = 3;
/** At most this many swatches are looked at before one is looked for in each library. */
const MAX_HITS = 300;
/** Shorter queries are looked for as the beginnings of a number of indexed parts. */
const MAX_TERMS = 200;
const PER_LIBRARY = 6;
const OFFSET_BITS = 2 ** NUMBER_BITS;

/** Swatches whose name, code, role or hex code holds the text (in lower case), of every library that has some. */
export async function findSwatches(db: Tx, wanted: string): Promise<Hit[]> {
  const match = await matching(db, wanted);
  if (!match) return [];
  const first = await db.all<{ n: number }>(
    sql`SELECT rowid AS n FROM swatch_search WHERE swatch_search MATCH ${match} LIMIT ${MAX_HITS}`,
  );
  let numbers = first.map((r) => r.n);
  if (first.length === MAX_HITS) {
    const libraryOf = (n: number) => Math.floor(n / OFFSET_BITS);
    const [last] = numbers.slice(-1);
    // there are very many, of which the first of each library is enough. Where they stand thickly it is looked for from one
    // library's range of numbers to the next, else it is quicker to go through all of them
    const thick = libraryOf(numbers[0]!) === libraryOf(last!);
    const more = thick
      ? await db.all<{ n: number }>(sql`WITH RECURSIVE hit(n) AS (
      SELECT ${last} UNION ALL
      SELECT (SELECT rowid FROM swatch_search WHERE swatch_search MATCH ${match}
        AND rowid >= ((hit.n >> ${NUMBER_BITS}) + 1) << ${NUMBER_BITS} LIMIT 1) FROM hit WHERE hit.n IS NOT NULL)
      SELECT n FROM hit WHERE n IS NOT NULL`)
      : await db.all<{ n: number }>(
          sql`SELECT min(rowid) AS n FROM swatch_search WHERE swatch_search MATCH ${match} AND rowid > ${last} GROUP BY rowid >> ${NUMBER_BITS}`,
        );
    numbers = [...numbers, ...more.map((r) => r.n).filter((n) => n > last!)];
  }
  const perLibrary = new Map<number, number>();
  const shown = numbers.filter((n) => {
    const library = Math.floor(n / OFFSET_BITS);
    const count = perLibrary.get(library) ?? 0;
    perLibrary.set(library, count + 1);
    return count < PER_LIBRARY * 2;
  });
  const rows = await db.all<{
    library: number;
    name: string;
    code: string | null;
    role: string | null;
    hex: string;
  }>(
    sql`SELECT library, name, code, role, hex FROM swatches
      WHERE n IN (SELECT value FROM json_each(${JSON.stringify(shown)})) ORDER BY n`,
  );
  return rows.map(({ library, ...texts }) => ({
    library,
    // the text it was found by, as it is written
    text:
      [texts.name, texts.code, texts.role, texts.hex].find((t) =>
        t?.toLocaleLowerCase('en').includes(wanted),
      ) ?? texts.name,
  }));
}

/** The query in the index's own language; null when nothing can match. */
async function matching(db: Tx, wanted: string): Promise<string | null> {
  const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`;
  if ([...wanted].length >= TRIGRAM) return quoted(wanted);
  const last = [...wanted].at(-1);
  if (!last) return null;
  const end = `${wanted.slice(0, -last.length)}${String.fromCodePoint(last.codePointAt(0)! + 1)}`;
  const terms = await db.all<{ term: string }>(
    sql`SELECT term FROM swatch_search_terms WHERE term >= ${wanted} AND term < ${end} LIMIT ${MAX_TERMS}`,
  );
  return terms.length > 0 ? terms.map((t) => quoted(t.term)).join(' OR ') : null;
}

/** Colours further away than this are not close, ΔE00. */
const CLOSE = 5;
/** At most this many different colours are enough. */
const MAX_CLOSE_MATCHES = 100;
const MAX_MEANT = 400;
/** Words mean whole regions of colour: in a very large database at most this many different colours are compared. */
const MAX_LOOKED_AT = 20_000;

/** A query that is a colour, with or without “close to” before it; null when it is none. */
export const isColorQuery = (query: string): Color | null =>
  typedColor(query.trim().replace(/^close to\s+/i, ''));

/** Swatches with a colour close to one, the closest first, some of every library that has any. */
export async function findColor(db: Tx, color: Color): Promise<Hit[]> {
  // a colour that is typed in inks is looked for as the usual paper shows it
  const wanted = toLab(color, await conditionFor(db, conditionOf({})));
  const around = reachOf(wanted, CLOSE);
  const different = await db.all<Place>(
    sql`SELECT DISTINCT cell, l, a, b FROM swatches
      WHERE cell IN (SELECT value FROM json_each(${JSON.stringify(cellsAround(wanted, around))}))
      AND abs((a - ${wanted[1]}) * ${around.toGrey[0]} + (b - ${wanted[2]}) * ${around.toGrey[1]}) <= ${around.chroma}
      AND abs((b - ${wanted[2]}) * ${around.toGrey[0]} - (a - ${wanted[1]}) * ${around.toGrey[1]}) <= ${around.hue}`,
  );
  const close = different
    .map((c) => ({ ...c, deltaE00: deltaE00(wanted, [c.l, c.a, c.b]) }))
    .filter((c) => c.deltaE00 <= CLOSE)
    .sort((x, y) => x.deltaE00 - y.deltaE00)
    .slice(0, MAX_CLOSE_MATCHES);
  return hitsAt(db, close);
}

/** Swatches that words such as “dark blue” mean, the most typical first, some of every library that has any. */
export async function findByWords(db: Tx, words: ColorWords): Promise<Hit[]> {
  const different = await db.all<Place>(
    sql`SELECT DISTINCT cell, l, a, b FROM swatches
      WHERE cell IN (SELECT value FROM json_each(${JSON.stringify(cellsMeant(words))})) LIMIT ${MAX_LOOKED_AT}`,
  );
  const meant = different.flatMap((c) => {
    const off = offWords([c.l, c.a, c.b], words);
    return off === null ? [] : [{ ...c, off }];
  });
  return hitsAt(db, meant.sort((x, y) => x.off - y.off).slice(0, MAX_MEANT));
}

/** A color as the index of colors has it. */
interface Place {
  cell: number;
  l: number;
  a: number;
  b: number;
}

/** The first swatch of every library at each of these places, in their order; a few of each library. */
async function hitsAt(db: Tx, places: readonly Place[]): Promise<Hit[]> {
  // a number written as text and read again may be another in its last place
  const first = await db.all<{ n: number; at: number }>(
    sql`SELECT min(s.n) AS n, j.key AS at FROM json_each(${JSON.stringify(places)}) AS j CROSS JOIN swatches AS s
      ON s.cell = j.value->>'cell' AND s.l BETWEEN (j.value->>'l') - 1e-9 AND (j.value->>'l') + 1e-9
      AND abs(s.a - (j.value->>'a')) < 1e-9 AND abs(s.b - (j.value->>'b')) < 1e-9
      GROUP BY j.key, s.n >> ${NUMBER_BITS} ORDER BY j.key`,
  );
  const perLibrary = new Map<number, number>();
  const shown = first.filter(({ n }) => {
    const library = Math.floor(n / OFFSET_BITS);
    const count = perLibrary.get(library) ?? 0;
    perLibrary.set(library, count + 1);
    return count < PER_LIBRARY;
  });
  const rows = await db.all<{ n: number; library: number; name: string; hex: string }>(
    sql`SELECT n, library, name, hex FROM swatches
      WHERE n IN (SELECT value FROM json_each(${JSON.stringify(shown.map((s) => s.n))}))`,
  );
  const byNumber = new Map(rows.map((r) => [r.n, r]));
  return shown.flatMap(({ n }) => {
    const row = byNumber.get(n);
    return row ? [{ library: row.library, text: row.name || row.hex.toUpperCase() }] : [];
  });
}

/** Finer than a cell, so that none is left out. */
const STEP = 4;

/** The cells that words mean something of. */
function cellsMeant(words: ColorWords): number[] {
  const cells = new Set<number>();
  for (let l = 0; l <= 100; l += STEP)
    for (let a = -128; a <= 128; a += STEP)
      for (let b = -128; b <= 128; b += STEP)
        if (offWords([l, a, b], words) !== null) cells.add(cellNumber(cellsOf([l, a, b])));
  return [...cells];
}

/** The cells that those colours can lie in. */
function cellsAround(lab: Lab, around: Reach): number[] {
  const [dl, da, db] = boxOf(around);
  const low = cellsOf([lab[0] - dl, lab[1] - da, lab[2] - db]);
  const high = cellsOf([lab[0] + dl, lab[1] + da, lab[2] + db]);
  const cells: number[] = [];
  for (let l = low[0]; l <= high[0]; l++)
    for (let a = low[1]; a <= high[1]; a++)
      for (let b = low[2]; b <= high[2]; b++) cells.push(cellNumber([l, a, b]));
  return cells;
}

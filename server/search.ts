import { sql } from 'drizzle-orm';
import { type Color, deltaE00, type Lab, NotationError, parseColor, toLab } from '../core/color/index.ts';
import type { Db } from './db.ts';
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
/** So many swatches are looked at before one is looked for in each library. */
const MOST_HITS = 1000;
/** Shorter queries are looked for as the beginnings of so many indexed parts. */
const MOST_TERMS = 200;
const PER_LIBRARY = 6;
const OFFSET_BITS = 2 ** NUMBER_BITS;

/** Swatches whose name, code, role or hex code holds the text (in lower case), of every library that has some. */
export async function findSwatches(db: Db, wanted: string): Promise<Hit[]> {
  const match = await matching(db, wanted);
  if (!match) return [];
  const first = await db.all<{ n: number }>(
    sql`SELECT rowid AS n FROM swatch_search WHERE swatch_search MATCH ${match} LIMIT ${MOST_HITS}`,
  );
  let numbers = first.map((r) => r.n);
  if (first.length === MOST_HITS) {
    // there are very many: the first of each library, from one library's range of numbers to the next
    const jumps = await db.all<{ n: number }>(sql`WITH RECURSIVE hit(n) AS (
      SELECT ${numbers.at(-1)} UNION ALL
      SELECT (SELECT rowid FROM swatch_search WHERE swatch_search MATCH ${match}
        AND rowid >= ((hit.n >> ${NUMBER_BITS}) + 1) << ${NUMBER_BITS} LIMIT 1) FROM hit WHERE hit.n IS NOT NULL)
      SELECT n FROM hit WHERE n IS NOT NULL`);
    numbers = [...numbers, ...jumps.slice(1).map((r) => r.n)];
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
async function matching(db: Db, wanted: string): Promise<string | null> {
  const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`;
  if ([...wanted].length >= TRIGRAM) return quoted(wanted);
  const last = [...wanted].at(-1);
  if (!last) return null;
  const end = `${wanted.slice(0, -last.length)}${String.fromCodePoint(last.codePointAt(0)! + 1)}`;
  const terms = await db.all<{ term: string }>(
    sql`SELECT term FROM swatch_search_terms WHERE term >= ${wanted} AND term < ${end} LIMIT ${MOST_TERMS}`,
  );
  return terms.length > 0 ? terms.map((t) => quoted(t.term)).join(' OR ') : null;
}

/** Colours further away than this are not close, ΔE00. */
const CLOSE = 5;
const MOST_CLOSE = 400;

/** A query that is a colour, with or without “close to” before it; null when it is none. */
export function isColorQuery(query: string): Color | null {
  const text = query.trim().replace(/^close to\s+/i, '');
  // a bare number or name may be what something is called
  if (!/^(#|[a-z]+\()/i.test(text)) return null;
  try {
    return parseColor(text);
  } catch (error) {
    if (error instanceof NotationError) return null;
    throw error;
  }
}

/** Swatches with a colour close to one, the closest first. */
export async function findColor(db: Db, color: Color): Promise<(Hit & { deltaE00: number })[]> {
  const wanted = toLab(color);
  const rows = await db.all<{ library: number; name: string; hex: string; l: number; a: number; b: number }>(
    sql`SELECT library, name, hex, l, a, b FROM swatches
      WHERE cell IN (SELECT value FROM json_each(${JSON.stringify(cellsAround(wanted))}))`,
  );
  return rows
    .map(({ library, name, hex, l, a, b }) => ({
      library,
      text: name || hex.toUpperCase(),
      deltaE00: deltaE00(wanted, [l, a, b]),
    }))
    .filter((hit) => hit.deltaE00 <= CLOSE)
    .sort((x, y) => x.deltaE00 - y.deltaE00)
    .slice(0, MOST_CLOSE);
}

/**
 * The cells that colours within {@link CLOSE} can lie in. ΔE00 counts strong colours' distances less: a difference of chroma by
 * 1 + 0.045 C, one of hue by 1 + 0.015 C, one of lightness by up to 1.75 (CIE 142-2001), and rotates them a little in the blues.
 */
function cellsAround(lab: Lab): number[] {
  const chroma = Math.hypot(lab[1], lab[2]);
  const reach = { l: CLOSE * 1.75, c: CLOSE * (1 + 0.045 * (chroma + CLOSE)) * 1.1 };
  const low = cellsOf([lab[0] - reach.l, lab[1] - reach.c, lab[2] - reach.c]);
  const high = cellsOf([lab[0] + reach.l, lab[1] + reach.c, lab[2] + reach.c]);
  const cells: number[] = [];
  for (let l = low[0]; l <= high[0]; l++)
    for (let a = low[1]; a <= high[1]; a++)
      for (let b = low[2]; b <= high[2]; b++) cells.push(cellNumber([l, a, b]));
  return cells;
}

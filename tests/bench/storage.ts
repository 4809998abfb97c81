import { existsSync, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Client, createClient } from '@libsql/client';
import { fromRgb8, toHex } from '../../core/color/index.ts';
import { applyEdit, type Edit } from '../../core/swatch/documents.ts';
import {
  addSwatches,
  countingIds,
  type Draft,
  type Library,
  type LibraryRows,
  moveSwatches,
  removeSwatches,
  type Swatch,
  setFields,
  sortSwatches,
  swatchOrders,
  toSearchText,
} from '../../core/swatch/index.ts';
import { coated } from '../../core/testing.ts';
import { applyChanges } from '../../server/changes.ts';
import { closeDatabase, type Db } from '../../server/db.ts';
import { createLibrary, listLibraries, readRows } from '../../server/libraries.ts';
import { openDatabase } from '../../server/open.ts';
import { Harness } from '../browser/harness.ts';

// npm run bench -- storage [single | bulk | many | search | browser] [--json]: what an edit, a whole library, the home and the search cost, beside the way of the first
// versions, which kept a library as one document.

const LARGE = 100_000;
const BULK = 10_000;
const RUNS = 25;
const EDITS = 10_000;

const words =
  'harbour rope enamel brass signal deep pale grey teal navy sand foam kelp slate rust ember'.split(' ');
/** A swatch with a measured curve, as large ones have. */
function swatch(i: number, id: string): Swatch {
  const rgb = [i * 37, i * 91, i * 13].map((v) => v % 256) as [number, number, number];
  const values = Array.from({ length: 36 }, (_, k) => Math.round(1e4 * Math.abs(Math.sin(i + k))) / 1e4);
  return {
    id,
    name: `${words[i % 16]} ${words[(i * 7 + 3) % 13]} ${i}`,
    kind: 'process',
    color: fromRgb8(...rgb),
    spectrum: { start: 380, step: 10, values },
  };
}
function library(n: number, name = 'Bench'): Library {
  const newId = countingIds('s');
  const size = Math.max(1, Math.ceil(n / 20));
  return {
    id: 'bench',
    name,
    groups: Array.from({ length: Math.ceil(n / size) }, (_, g) => ({
      id: `g${g}`,
      name: `Group ${g}`,
      swatches: Array.from({ length: Math.min(size, n - g * size) }, (_, i) => swatch(g * size + i, newId())),
    })),
  };
}

const median = (all: number[]) => all.sort((a, b) => a - b)[all.length >> 1];
const newId = countingIds('bench-change-');
const elapsed = async (run: () => unknown) => {
  const start = performance.now();
  await run();
  return performance.now() - start;
};

/** A server that keeps rows. */
class Rows {
  id = '';
  rows!: LibraryRows;
  private seen = 0;
  constructor(private readonly db: Db) {}

  async open(of: Library): Promise<this> {
    this.id = await createLibrary(this.db, of);
    this.rows = (await readRows(this.db, this.id))!.rows;
    return this;
  }

  /** Makes a change on the server; what it costs there and in the page, ms. */
  async make(make: (rows: LibraryRows) => Draft): Promise<{ server: number; page: number }> {
    let draft!: Draft;
    const page = await elapsed(() => {
      draft = make(this.rows);
      this.rows.apply(draft.ops);
    });
    const changes = [{ id: newId(), by: 'bench', ...draft }];
    const server = await elapsed(async () => {
      this.seen = (await applyChanges(this.db, this.id, { by: 'bench', seen: this.seen, changes })).seq;
    });
    return { server, page };
  }
}

/** The first versions' way: the document is read, changed, and written with its band, its search text and the edit. */
class Documents {
  private constructor(private readonly client: Client) {}

  static async open(file: string, of: Library): Promise<Documents> {
    const client = createClient({ url: `file:${file}` });
    await client.execute('PRAGMA journal_mode = WAL');
    await client.execute(
      'CREATE TABLE libraries (id TEXT PRIMARY KEY, content TEXT, band TEXT, search_text TEXT)',
    );
    await client.execute('CREATE TABLE history (id INTEGER PRIMARY KEY, edit TEXT, inverse TEXT)');
    await client.execute({
      sql: "INSERT INTO libraries VALUES ('l', ?, '', '')",
      args: [JSON.stringify(of)],
    });
    return new Documents(client);
  }

  async edit(make: (library: Library) => Edit): Promise<number> {
    return elapsed(async () => {
      const tx = await this.client.transaction('write');
      const now = JSON.parse(
        (await tx.execute('SELECT content FROM libraries')).rows[0].content as string,
      ) as Library;
      const edit = make(now);
      const { library, inverse } = applyEdit(now, edit);
      await tx.execute({
        sql: 'INSERT INTO history (edit, inverse) VALUES (?, ?)',
        args: [JSON.stringify(edit), JSON.stringify(inverse)],
      });
      const all = library.groups.flatMap((g) => g.swatches);
      const step = Math.max(1, Math.ceil(all.length / 240));
      await tx.execute({
        sql: 'UPDATE libraries SET content = ?, band = ?, search_text = ?',
        args: [
          JSON.stringify(library),
          JSON.stringify(all.filter((_, i) => i % step === 0).map((s) => toHex(s.color, coated))),
          all.map((s) => toSearchText(s, coated)).join('\n'),
        ],
      });
      await tx.commit();
    });
  }
}

export async function benchStorage(json: boolean, only?: string): Promise<void> {
  const figures: Record<string, unknown> = {};
  const say = (text: string) => {
    if (!json) console.log(text);
  };
  const folder = mkdtempSync(join(tmpdir(), 'papillon-bench-'));
  try {
    const parts = { single, bulk, many, search, browser };
    for (const [name, part] of Object.entries(parts))
      if (!only || only === name) await part(folder, figures, say);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  if (json) console.log(JSON.stringify(figures));
}

type Say = (text: string) => void;
type Figures = Record<string, unknown>;
const ms = (v: number) => v.toFixed(v < 10 ? 2 : 0).padStart(9);

const singles: Record<string, (i: number) => (rows: LibraryRows) => Draft> = {
  rename: (i) => (rows) => setFields([rows.library.groups[0].swatches[i].id], { name: `Renamed ${i}` }),
  recolour: (i) => (rows) =>
    setFields([rows.library.groups[0].swatches[i].id], { color: fromRgb8(i % 256, 100, 50) }),
  move: (i) => (rows) => {
    const ends = [rows.library.groups[0], rows.library.groups.at(-1)!];
    const [from, to] = i % 2 ? ends : ends.reverse();
    return moveSwatches(rows, [from.swatches[0].id], to.id, 0);
  },
};
const oldSingles: Record<string, (i: number) => (library: Library) => Edit> = {
  rename: (i) => (l) => ({
    type: 'change',
    changes: [{ id: l.groups[0].swatches[i].id, set: { name: `Renamed ${i}` } }],
  }),
  recolour: (i) => (l) => ({
    type: 'change',
    changes: [{ id: l.groups[0].swatches[i].id, set: { color: fromRgb8(i % 256, 100, 50) } }],
  }),
  move: (i) => (l) => {
    const ends = [l.groups[0], l.groups.at(-1)!];
    const [from, to] = i % 2 ? ends : ends.reverse();
    return { type: 'move', positions: [{ id: from.swatches[0].id, group: to.id, index: 0 }] };
  },
};

async function single(folder: string, figures: Figures, say: Say): Promise<void> {
  say('\nOne edit, ms (median)                 server     page   documents');
  const found: Figures = {};
  for (const n of [100, LARGE]) {
    const of = library(n);
    const rows = await new Rows(await openDatabase(`file:${join(folder, `one-${n}.db`)}`)).open(of);
    const documents = await Documents.open(join(folder, `old-${n}.db`), of);
    for (const [name, make] of Object.entries(singles)) {
      const all: { server: number; page: number }[] = [];
      for (let i = 0; i < RUNS; i++) all.push(await rows.make(make(n === 100 ? i % 2 : i)));
      const old: number[] = [];
      for (let i = 0; i < (n === 100 ? RUNS : 3); i++)
        old.push(await documents.edit(oldSingles[name](n === 100 ? i % 2 : i)));
      const server = median(all.map((a) => a.server));
      const page = median(all.map((a) => a.page));
      found[`${name} ${n}`] = { server, page, documents: median(old) };
      say(`${`${name}, ${n} swatches with spectra`.padEnd(36)}${ms(server)}${ms(page)}${ms(median(old))}`);
    }
  }
  figures.one = found;
}

async function bulk(folder: string, figures: Figures, say: Say): Promise<void> {
  say(`\n${BULK} swatches of ${LARGE} at once, ms        server     page`);
  const of = library(LARGE);
  const rows = await new Rows(await openDatabase(`file:${join(folder, 'bulk.db')}`)).open(of);
  const make = countingIds('bulk-');
  const pasted = Array.from({ length: BULK }, (_, i) => swatch(i, make()));
  const ids = pasted.map((s) => s.id);
  const edits: [string, (rows: LibraryRows) => Draft][] = [
    ['paste', (r) => addSwatches(r, r.library.groups[0].id, pasted)],
    ['sort', (r) => sortSwatches(r, ids, swatchOrders.name.by(), 'name')],
    ['move', (r) => moveSwatches(r, ids, r.library.groups[1].id, 5)],
    ['recolour', () => setFields(ids, { color: fromRgb8(1, 2, 3) })],
    ['delete', () => removeSwatches(ids)],
  ];
  const found: Figures = {};
  for (const [name, edit] of edits) {
    const cost = await rows.make(edit);
    found[name] = cost;
    say(`${name.padEnd(36)}${ms(cost.server)}${ms(cost.page)}`);
  }
  figures.bulk = found;
}

async function many(folder: string, figures: Figures, say: Say): Promise<void> {
  const file = join(folder, 'many.db');
  const db = await openDatabase(`file:${file}`);
  const rows = await new Rows(db).open(library(LARGE));
  const size = async () => {
    await db.$client.execute('PRAGMA wal_checkpoint(TRUNCATE)');
    return statSync(file).size;
  };
  const before = await size();
  const costs: { server: number; page: number }[] = [];
  for (let i = 0; i < EDITS; i++) costs.push(await rows.make(singles.rename(i % 5000)));
  const growth = ((await size()) - before) / EDITS;
  const part = (from: number) => median(costs.slice(from, from + 500).map((c) => c.server));
  figures.many = { edits: EDITS, bytesPerEdit: growth, first: part(0), last: part(EDITS - 500) };
  say(
    `\n${EDITS} renames of ${LARGE}: ${growth.toFixed(0)} bytes of growth for each; the first 500 ${part(0).toFixed(2)} ms, the last 500 ${part(EDITS - 500).toFixed(2)} ms`,
  );
}

async function search(folder: string, figures: Figures, say: Say): Promise<void> {
  const db = await openDatabase(`file:${join(folder, 'search.db')}`);
  const newId = countingIds('m');
  for (let l = 0; l < 200; l++)
    await createLibrary(db, {
      id: 'x',
      name: `Library ${l}`,
      groups: [
        {
          id: 'g',
          name: 'Hull',
          swatches: Array.from({ length: 5000 }, (_, i) => {
            const { spectrum: _spectrum, ...plain } = swatch(l * 5000 + i, newId());
            return plain;
          }),
        },
      ],
    });
  // the bands are made when the home is first looked at
  await listLibraries(db);
  say('\nSearch over 1,000,000 swatches in 200 libraries, ms (median of 5)');
  const found: Figures = {};
  for (const query of ['brass', 'rope sand', '999999', 'ra', 'close to #8a1c24', '#00a0ff']) {
    const times: number[] = [];
    let hits = 0;
    for (let i = 0; i < 5; i++)
      times.push(
        await elapsed(async () => {
          hits = (await listLibraries(db, query)).length;
        }),
      );
    found[query] = { ms: median(times), libraries: hits };
    say(`${query.padEnd(36)}${ms(median(times))}   ${hits} libraries`);
  }
  figures.search = found;
}

async function browser(folder: string, figures: Figures, say: Say): Promise<void> {
  if (!existsSync('build/server/index.js')) {
    say('\nIn the browser: build the application first (npm run build).');
    return;
  }
  const url = `file:${join(folder, 'browser.db')}`;
  const db = await openDatabase(url);
  const id = await createLibrary(db, library(LARGE));
  for (let l = 0; l < 499; l++) await createLibrary(db, library(300, `Library ${l}`));
  await listLibraries(db);
  closeDatabase(db);
  const harness = await Harness.start({ DATABASE_URL: url });
  try {
    const home: number[] = [];
    for (let i = 0; i < 7; i++) home.push(await elapsed(async () => (await fetch(harness.url)).text()));
    const screen = await harness.page('/convert');
    const { page } = screen;
    const opening: { first: number; whole: number }[] = [];
    for (let i = 0; i < 3; i++) {
      await page.goto('about:blank');
      const start = performance.now();
      await page.goto(`${harness.url}/libraries/${id}/arrange`, { waitUntil: 'domcontentloaded' });
      await page.waitForSelector('[role=option]', { timeout: 60_000 });
      const first = performance.now() - start;
      await page.waitForFunction(() => /100,000 swatches · saved/.test(document.body.textContent ?? ''), {
        timeout: 60_000,
      });
      opening.push({ first, whole: performance.now() - start });
    }
    const edits: number[] = [];
    for (let i = 0; i < 9; i++) {
      await page.focus('[role=listbox]');
      await page.keyboard.press('ArrowRight');
      await page.keyboard.press('Enter');
      await page.waitForSelector('[aria-label="Name of the swatch"]');
      await page.keyboard.type(`Name ${i}`);
      // from the key until the page is redrawn and free for the next one
      edits.push(
        await page.evaluate(async () => {
          const field = document.querySelector<HTMLInputElement>('[aria-label="Name of the swatch"]')!;
          const start = performance.now();
          field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
          await Promise.resolve();
          await new Promise((resolve) => setTimeout(resolve));
          return performance.now() - start;
        }),
      );
    }
    const html = await (await fetch(`${harness.url}/libraries/${id}/arrange`)).text();
    figures.browser = {
      homeMs: median(home),
      firstChipsMs: median(opening.map((o) => o.first)),
      wholeMs: median(opening.map((o) => o.whole)),
      renameMs: median(edits),
      htmlBytes: html.length,
    };
    say(`\nIn the browser, ${LARGE} swatches with spectra, ms (median)`);
    say(`the home with 500 libraries         ${ms(median(home))}`);
    say(`opening, to the first chips         ${ms(median(opening.map((o) => o.first)))}`);
    say(`opening, to the whole               ${ms(median(opening.map((o) => o.whole)))}`);
    say(`a rename, until the page is free    ${ms(median(edits))}`);
    say(`the page’s HTML                     ${String(html.length).padStart(9)} bytes`);
  } finally {
    await harness.stop();
  }
}

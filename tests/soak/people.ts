import 'fake-indexeddb/auto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Colors } from '../../app/colors/colors.ts';
import type { LibraryStore } from '../../app/state/library-store.ts';
import { Shelf } from '../../app/state/shelf.ts';
import { Stores } from '../../app/state/stores.ts';
import { checkSent } from '../../core/swatch/checks.ts';
import {
  DATABASE_HEADER,
  keysAt,
  type LibraryRows,
  moveSwatches,
  type Op,
  removeGroup,
  removeSwatches,
} from '../../core/swatch/index.ts';
import { engine } from '../../core/testing.ts';
import { answered } from '../../server/answers.ts';
import { applyChanges, epochOf, newsOf } from '../../server/changes.ts';
import { closeDatabase } from '../../server/db.ts';
import { createLibrary, readRows, streamLibrary } from '../../server/libraries.ts';
import { openDatabase } from '../../server/open.ts';
import { random } from '../fuzz/mutate.ts';

const ITEM_KINDS = ['gradient', 'pairing', 'colorway', 'artwork', 'set', 'materials', 'anything'];

/** Every row of a library, in a form that two of them have in common. */
export function rowsIn(rows: LibraryRows): string {
  const { library } = rows;
  const sorted = (value: unknown): unknown =>
    Array.isArray(value)
      ? value.map(sorted)
      : value && typeof value === 'object'
        ? Object.fromEntries(
            Object.entries(value)
              .sort(([a], [b]) => (a < b ? -1 : 1))
              .map(([k, v]) => [k, sorted(v)]),
          )
        : value;
  return JSON.stringify(
    sorted([
      rows.get('library', library.id),
      library.groups.map((g) => [g.id, rows.get('group', g.id)]),
      library.groups.flatMap((g) => g.swatches.map((s) => [s.id, rows.get('swatch', s.id)])),
      (library.items ?? []).map((i) => [i.id, rows.get('item', i.id)]),
    ]),
  );
}

/**
 * Several people edit one library at random, with every step there is, over a line that loses; at the end of each round they and
 * the database must hold the same rows.
 *
 * @throws Error with the seed and the round where they do not
 */
export async function people(
  rounds: number,
  seed: number,
  tell: (round: number) => void = () => undefined,
): Promise<{ edits: number; undone: number }> {
  const next = random(seed);
  const dice = (n: number) => Math.floor(next() * n);
  const pick = <T>(list: readonly T[]): T | undefined => list[dice(list.length)];
  const folder = mkdtempSync(join(tmpdir(), 'papillon-people-'));
  const db = await openDatabase(`file:${join(folder, 'papillon.db')}`);
  const color = () => ({ space: 'rgb' as const, components: [next(), next(), next()] });
  const line: typeof fetch = async (input, init) => {
    const url = new URL(String(input), 'http://papillon');
    const [, , id = ''] = url.pathname.split('/');
    const fault = dice(25);
    if (fault === 0) throw new TypeError('the request was lost');
    const response = await answered(
      async () => {
        const by = url.searchParams.get('by') ?? '';
        if (url.pathname.endsWith('/rows')) return new Response(await streamLibrary(db, id, by));
        if (init?.method === 'POST')
          return Response.json(await applyChanges(db, id, checkSent(JSON.parse(String(init.body)))));
        return Response.json(await newsOf(db, id, Number(url.searchParams.get('after')), by));
      },
      async () => ({ [DATABASE_HEADER]: await epochOf(db) }),
    );
    if (fault === 1) throw new TypeError('the reply was lost');
    if (fault === 2) return new Response((await response.text()).slice(0, 40), { status: response.status });
    return response;
  };
  const id = await createLibrary(db, {
    id: 'x',
    name: 'Shared',
    groups: ['', 'Hull', 'Deck'].map((name, g) => ({
      id: `g${g}`,
      name,
      swatches: Array.from({ length: 6 }, (_, i) => ({
        id: `s${g}-${i}`,
        name: `${g} ${i}`,
        kind: 'process',
        color: color(),
      })),
    })),
  });
  const all = ['one', 'two', 'three'].map((by) => {
    const stores = new Stores({
      by,
      fetch: line,
      shelf: new Shelf(`people-${seed}-${by}`),
      colors: new Colors(undefined, engine),
    });
    const store = stores.library(id);
    return { by, stores, store, close: store.open() };
  });
  const until = async (met: () => boolean, what: string) => {
    for (let i = 0; !met(); i++) {
      if (i > 4000) throw new Error(`seed ${seed}: ${what} does not come to its end.`);
      for (const { stores } of all) stores.outbox.wake();
      await new Promise((done) => setTimeout(done, 5));
    }
  };
  for (const { store } of all) await until(() => store.snapshot().whole, 'reading');

  let made = 0;
  let undone = 0;
  const swatchIds = (rows: LibraryRows) => rows.library.groups.flatMap((g) => g.swatches.map((s) => s.id));
  /** One step of any kind. */
  const step = (rows: LibraryRows, by: string): Op[] => {
    const { groups, items = [] } = rows.library;
    const newId = `${by}-${made}-${dice(1e6)}`;
    const group = pick(groups);
    // now and then one that is gone by now, or never was
    const groupId = dice(12) === 0 ? `gone-${dice(4)}` : (group?.id ?? 'none');
    const swatch = dice(12) === 0 ? `gone-${dice(4)}` : (pick(swatchIds(rows)) ?? 'none');
    const item = pick(items)?.id ?? 'none';
    const place = group ? keysAt(rows.placesIn(group.id), dice(group.swatches.length + 1), 1) : null;
    const groupPlace = keysAt(rows.groupPlaces(), dice(groups.length + 1), 1);
    const order = place?.keys[0] ?? 'a0';
    switch (dice(15)) {
      case 0:
      case 1: {
        const fields = { name: newId, kind: 'process', color: color(), group: groupId, order };
        return [{ op: 'put', of: 'swatch', id: newId, fields }];
      }
      case 2:
        return [{ op: 'set', of: 'swatch', id: swatch, fields: { group: groupId, order } }];
      case 3:
        return [
          { op: 'set', of: 'swatch', id: swatch, fields: { name: newId, role: dice(2) ? 'rail' : null } },
        ];
      case 4:
        return [
          { op: 'set', of: 'swatch', id: swatch, fields: { color: color(), note: dice(2) ? newId : null } },
        ];
      case 5:
        return [{ op: 'drop', of: 'swatch', id: swatch }];
      case 6:
        return [
          {
            op: 'put',
            of: 'group',
            id: newId,
            fields: { name: dice(3) ? newId : '', order: groupPlace.keys[0]! },
          },
        ];
      case 7:
        // the first one is that for swatches in no group, where it has no name
        return [
          {
            op: 'set',
            of: 'group',
            id: dice(2) ? (groups[0]?.id ?? 'none') : groupId,
            fields: { name: dice(3) ? newId : '' },
          },
        ];
      case 8:
        return [
          {
            op: 'set',
            of: 'group',
            id: dice(2) ? (groups[0]?.id ?? 'none') : groupId,
            fields: { order: groupPlace.keys[0]! },
          },
        ];
      case 9:
        return [{ op: 'drop', of: 'group', id: groupId }];
      case 10: {
        const keys = keysAt(rows.itemPlaces(), dice(items.length + 1), 1);
        const fields = {
          kind: pick(ITEM_KINDS)!,
          name: newId,
          refs: [swatch],
          data: { n: dice(9) },
          order: keys.keys[0]!,
        };
        return [{ op: 'put', of: 'item', id: newId, fields }];
      }
      case 11:
        return [{ op: 'set', of: 'item', id: item, fields: { name: newId, data: { n: dice(9), by } } }];
      case 12:
        return [{ op: 'drop', of: 'item', id: item }];
      default:
        return [
          {
            op: 'set',
            of: 'library',
            id,
            fields: { name: newId, note: dice(2) ? newId : null, columns: dice(2) ? dice(20) : null },
          },
        ];
    }
  };
  const edit = ({ store, by }: { store: LibraryStore; by: string }) => {
    const { rows } = store;
    const kind = dice(10);
    const group = pick(rows.library.groups);
    if (kind === 0) store.undo();
    else if (kind === 1) store.redo();
    else if (kind === 2 && group && rows.library.groups.length > 1) store.edit(removeGroup(rows, group.id));
    else if (kind === 3 && group)
      store.edit(
        moveSwatches(
          rows,
          swatchIds(rows).filter(() => dice(4) === 0),
          group.id,
          dice(4),
        ),
      );
    else if (kind === 4 && swatchIds(rows).length > 30)
      store.edit(removeSwatches(swatchIds(rows).slice(0, 8), rows));
    else
      store.edit({
        label: `${by} ${made}`,
        ops: Array.from({ length: 1 + dice(4) }, () => step(rows, by)).flat(),
      });
    made++;
    if (kind < 2) undone++;
  };

  try {
    for (let round = 0; round < rounds; round++) {
      for (let edits = 1 + dice(12); edits > 0; edits--) {
        edit(pick(all)!);
        if (dice(3) === 0) await new Promise((done) => setTimeout(done, 0));
      }
      await until(() => all.every((p) => p.stores.outbox.snapshot().waiting === 0), `round ${round}`);
      const there = (await readRows(db, id))!;
      // each asks for what the others have done last
      await until(
        () =>
          all.every(({ store }) => {
            if (store.snapshot().revision < there.seq) void store.look(true);
            return store.snapshot().revision >= there.seq;
          }),
        `round ${round}, hearing`,
      );
      const right = rowsIn(there.rows);
      for (const { by, store } of all)
        if (rowsIn(store.rows) !== right)
          throw new Error(
            `seed ${seed}, round ${round}: the page of ${by} differs from the database.\\n${rowsIn(store.rows)}\\n${right}`,
          );
      tell(round);
    }
    return { edits: made, undone };
  } finally {
    for (const { close } of all) close();
    closeDatabase(db);
    rmSync(folder, { recursive: true, force: true });
  }
}

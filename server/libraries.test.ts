import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { fromRgb8 } from '../core/color/index.ts';
import { countingIds, gradientThrough, type Library, type Swatch, setFields } from '../core/swatch/index.ts';
import { anyLibrary } from '../core/testing.ts';
import { applyChanges } from './changes.ts';
import type { Db } from './db.ts';
import {
  createLibrary,
  duplicateLibrary,
  listDeleted,
  listLibraries,
  readLibrary,
  readRows,
  streamLibrary,
} from './libraries.ts';
import { openDatabase } from './open.ts';
import { deleteLibraries, restoreLibraries } from './shelves.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-db-'));
afterAll(() => rmSync(folder, { recursive: true }));
let n = 0;
let url = '';
let db: Db;
beforeEach(async () => {
  url = `file:${join(folder, `${n++}.db`)}`;
  db = await openDatabase(url);
});

const swatch = (id: string, name = id): Swatch => ({
  id,
  name,
  kind: 'process',
  color: fromRgb8(138, 28, 36),
});
const ropes: Library = {
  id: 'x',
  name: 'Ropes',
  groups: [{ id: 'g', name: '', swatches: [swatch('a', 'Old brass')] }],
};
const renamed = (id: string, name: string) => ({
  by: 'me',
  seen: 0,
  changes: [
    {
      id: `rename-${id}-${n++}`,
      by: 'me',
      label: 'rename the library',
      ops: [{ op: 'set' as const, of: 'library' as const, id, fields: { name } }],
    },
  ],
});
/** Ids are new in a kept library; all else is to be as it was. */
const withoutIds = ({ id: _, groups, ...rest }: Library) => ({
  ...rest,
  groups: groups.map(({ id: _, swatches, ...g }) => ({
    ...g,
    swatches: swatches.map(({ id: _, ...s }) => s),
  })),
});

describe('libraries', () => {
  it('come back as they were kept, whatever their names and colours', async () => {
    await fc.assert(
      fc.asyncProperty(anyLibrary(), async (library) => {
        const id = await createLibrary(db, library);
        expect(withoutIds((await readLibrary(db, id))!)).toEqual(withoutIds(library));
      }),
      { numRuns: 60 },
    );
  });

  it('keep what a column cannot hold: a NUL in a name, half a surrogate pair', async () => {
    const odd = 'a\0b\ud800';
    const library: Library = {
      id: 'x',
      name: odd,
      groups: [{ id: 'g', name: odd, swatches: [{ ...swatch('a', odd), code: odd, role: odd }] }],
    };
    const id = await createLibrary(db, library);
    expect(withoutIds((await readLibrary(db, id))!)).toEqual(withoutIds(library));
    expect((await listLibraries(db))[0].name).toBe(odd);
    const rows = (await readRows(db, id))!.rows;
    const [{ id: of }] = rows.library.groups[0].swatches;
    await applyChanges(db, id, {
      by: '',
      seen: 0,
      changes: [{ id: 'change-odd', by: '', ...setFields([of], { name: `${odd}!` }) }],
    });
    expect((await readLibrary(db, id))!.groups[0].swatches[0].name).toBe(`${odd}!`);
  });

  it('are made once, however often the same one is asked for', async () => {
    const made = await Promise.all([1, 2, 3].map(() => createLibrary(db, ropes, 'wanted-id')));
    expect(made).toEqual(['wanted-id', 'wanted-id', 'wanted-id']);
    expect(await listLibraries(db)).toHaveLength(1);
    await Promise.all([1, 2].map(() => duplicateLibrary(db, 'wanted-id', 'copy-id')));
    expect((await listLibraries(db)).map((l) => l.name).sort()).toEqual(['Ropes', 'Ropes copy']);
  });

  it('deleting can be taken back, duplicating makes a library of its own', async () => {
    const id = await createLibrary(db, ropes);
    const copy = (await duplicateLibrary(db, id))!;
    await deleteLibraries(db, [id]);
    expect((await listLibraries(db)).map((l) => l.name)).toEqual(['Ropes copy']);
    expect((await listDeleted(db)).map((l) => l.name)).toEqual(['Ropes']);
    await expect(applyChanges(db, id, renamed(id, ''))).rejects.toThrow(/deleted/);
    await restoreLibraries(db, [id]);
    await applyChanges(db, copy, renamed(copy, 'Other'));
    expect((await listLibraries(db)).map((l) => l.name).sort()).toEqual(['Other', 'Ropes']);
  });

  it('the tray is made when it is asked for, kept, and in no list', async () => {
    expect((await readLibrary(db, 'tray'))?.groups).toEqual([{ id: 'tray', name: '', swatches: [] }]);
    db = await openDatabase(url);
    expect(await readLibrary(db, 'tray')).not.toBeNull();
    expect(await listLibraries(db)).toEqual([]);
  });

  it('show a band of their colours in order, thinned out when there are many, and count what they hold', async () => {
    const newId = countingIds('s');
    const many = Array.from({ length: 1000 }, () => swatch(newId()));
    const id = await createLibrary(db, {
      ...ropes,
      groups: [
        { id: 'loose', name: '', swatches: [] },
        { id: 'b', name: 'Hull', swatches: many },
        { id: 'a', name: 'Deck', swatches: [{ ...swatch('x'), color: fromRgb8(1, 2, 3) }] },
      ],
    });
    const [{ band, swatchCount, groupCount }] = await listLibraries(db);
    expect([swatchCount, groupCount, band.length, band[1]]).toEqual([1001, 2, 2, ['#010203']]);
    const small = await createLibrary(db, {
      ...ropes,
      groups: ['z', 'y'].map((g, k) => ({
        id: g,
        name: g,
        swatches: [5, 3, 9, 1].map((v, i) => ({ ...swatch(`${g}${9 - i}`), color: fromRgb8(k, v, 0) })),
      })),
    });
    expect((await listLibraries(db)).find((l) => l.id === small)?.band).toEqual([
      ['#000500', '#000300', '#000900', '#000100'],
      ['#010500', '#010300', '#010900', '#010100'],
    ]);
    expect(band[0].length).toBeGreaterThan(150);
    expect(band[0].length).toBeLessThanOrEqual(240);
    const rows = (await readRows(db, id))!.rows;
    const last = rows.library.groups[2].swatches[0].id;
    const change = { id: 'change-blue', by: '', ...setFields([last], { color: fromRgb8(0, 0, 255) }) };
    await applyChanges(db, id, { by: '', seen: 0, changes: [change] });
    expect((await listLibraries(db)).find((l) => l.id === id)?.band[1]).toEqual(['#0000ff']);
  });

  it('are read in pieces, the first of them the first to be seen', async () => {
    const newId = countingIds('s');
    const many = (k: number) => Array.from({ length: k }, () => swatch(newId()));
    const id = await createLibrary(db, {
      ...ropes,
      groups: ['one', 'two', 'three'].map((name) => ({ id: name, name, swatches: many(3000) })),
    });
    const text = await new Response(await streamLibrary(db, id, 'me')).text();
    const lines = text
      .trimEnd()
      .split('\n')
      .map((l) => JSON.parse(l));
    const library = (await readLibrary(db, id))!;
    expect(lines[0].head).toMatchObject({ id, swatchCount: 9000, seq: 0 });
    expect(lines[1].swatches.map((s: string[]) => s[0])).toEqual(
      library.groups[0].swatches.slice(0, 400).map((s) => s.id),
    );
    expect(lines.at(-1)).toEqual({ end: true });
    expect(new Set(lines.flatMap((l) => l.swatches ?? []).map((s: string[]) => s[0])).size).toBe(9000);
    expect(library.groups.map((g) => g.swatches.length)).toEqual([3000, 3000, 3000]);
  });

  it('readers that stop reading hold up nobody else, and are cut off', async () => {
    const newId = countingIds('s');
    const swatches = Array.from({ length: 12_000 }, () => swatch(newId()));
    const id = await createLibrary(db, { ...ropes, groups: [{ id: 'g', name: 'g', swatches }] });
    const stalled = Array.from({ length: 30 }, async () => {
      const reader = (await streamLibrary(db, id, 'me', 100)).getReader();
      await reader.read();
      return reader;
    });
    // the first ones read, the others wait for their turn; the search and an edit do not
    await stalled[7];
    expect(await listLibraries(db, 'rope')).toHaveLength(1);
    await applyChanges(db, id, renamed(id, 'Lines'));
    const last = await stalled[29];
    await new Promise((resolve) => setTimeout(resolve, 150));
    await expect(
      (async () => {
        while (!(await last.read()).done);
      })(),
    ).rejects.toThrow(/stopped reading/);
    const text = await new Response(await streamLibrary(db, id, 'me', 100)).text();
    expect(text.trimEnd().endsWith('{"end":true}')).toBe(true);
  });

  it('reading one of a moment is not disturbed by what is changed meanwhile', async () => {
    const newId = countingIds('s');
    const swatches = Array.from({ length: 12_000 }, () => swatch(newId()));
    const id = await createLibrary(db, { ...ropes, groups: [{ id: 'g', name: 'g', swatches }] });
    const stream = (await streamLibrary(db, id, 'me')).getReader();
    await stream.read();
    const { rows } = (await readRows(db, id))!;
    const all = rows.library.groups[0].swatches.map((s) => s.id);
    await applyChanges(db, id, {
      by: '',
      seen: 0,
      changes: [{ id: 'change-all', by: '', ...setFields(all, { name: 'new' }) }],
    });
    let text = '';
    for (let part = await stream.read(); !part.done; part = await stream.read())
      text += new TextDecoder().decode(part.value);
    expect(text).not.toMatch(/"new"/);
    expect((await readLibrary(db, id))!.groups[0].swatches.every((s) => s.name === 'new')).toBe(true);
  });
});

describe('search', () => {
  const found = async (query: string) => (await listLibraries(db, query)).map((l) => l.name);

  it('finds by library, group and swatch name, code, role and hex, in any case and script, wildcards as they are', async () => {
    await createLibrary(db, ropes);
    await createLibrary(db, {
      id: 'y',
      name: 'Flags',
      groups: [
        {
          id: 'g',
          name: 'قارب',
          swatches: [{ ...swatch('a', '100 % Ölrot'), code: 'KF 12', role: 'funnel' }],
        },
        { id: 'h', name: '', swatches: [swatch('b', '朱红'), swatch('c', 'say "aye"')] },
      ],
    });
    for (const query of ['flag', 'قارب', 'ölrot', '0 %', '%', 'kf 12', 'FUNNEL', '朱红', '红', '"aye"'])
      expect([query, await found(query)]).toEqual([query, ['Flags']]);
    for (const query of ['BRASS', 'old b', 'ss', 'rope'])
      expect([query, await found(query)]).toEqual([query, ['Ropes']]);
    expect((await found('8a1c24')).length).toBe(2);
    for (const query of ['_', 'zzz', '99']) expect([query, await found(query)]).toEqual([query, []]);
    expect((await listLibraries(db, 'brass'))[0].found).toEqual(['Old brass']);
    expect((await listLibraries(db, 'kf 1'))[0].found).toEqual(['KF 12']);
    expect((await found('')).length).toBe(2);
  });

  it('finds a gradient by its name', async () => {
    const [one, two] = [swatch('a', 'Dawn'), swatch('b', 'Dusk')];
    await createLibrary(db, {
      id: 'y',
      name: 'Sky',
      groups: [{ id: 'g', name: '', swatches: [one, two] }],
      items: [gradientThrough('i', 'Ölrot at First Light 100%', [one, two], 'oklch')],
    });
    for (const query of ['first light', 'Ölrot', '100%']) {
      const [library] = await listLibraries(db, query);
      expect([query, library?.found]).toEqual([query, ['Ölrot at First Light 100%']]);
    }
    expect(await listLibraries(db, 'first_light')).toEqual([]);
  });

  it('finds what edits have made of a name, and not what it was', async () => {
    const id = await createLibrary(db, ropes);
    const rows = (await readRows(db, id))!.rows;
    const of = rows.library.groups[0].swatches[0].id;
    const say = (name: string, k: number) =>
      applyChanges(db, id, {
        by: '',
        seen: 0,
        changes: [{ id: `change-name-${k}`, by: '', ...setFields([of], { name }) }],
      });
    for (let k = 0; k < 5; k++) await say(`Name ${k} halyard`, k);
    expect(await found('brass')).toEqual([]);
    expect(await found('name 3')).toEqual([]);
    expect(await found('name 4 hal')).toEqual(['Ropes']);
    await applyChanges(db, id, {
      by: '',
      seen: 0,
      changes: [{ id: 'change-drop', by: '', label: '', ops: [{ op: 'drop', of: 'swatch', id: of }] }],
    });
    expect(await found('halyard')).toEqual([]);
  });

  it('finds colours in words, the most typical first, beside what is called so', async () => {
    const named = (name: string, hex: string) => ({
      ...swatch(`w-${name}`, name),
      color: fromRgb8(
        ...([1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16)) as [number, number, number]),
      ),
    });
    await createLibrary(db, {
      ...ropes,
      name: 'Words',
      groups: [
        {
          id: 'g',
          name: '',
          swatches: [
            named('Night', '#101c3c'),
            named('Abyss', '#16305e'),
            named('Dawn', '#e7cfa6'),
            named('Dark blue', '#b3262b'),
          ],
        },
      ],
    });
    const [library] = await listLibraries(db, 'Dark blue');
    expect(library?.found).toEqual(['Dark blue', 'Abyss', 'Night']);
    expect((await listLibraries(db, 'pale greyish green')).map((l) => l.name)).not.toContain('Words');
  });

  it('finds colours close to one, by ΔE00, in every part of Lab', async () => {
    const all = [0, 60, 128, 200, 255].flatMap((r) =>
      [0, 60, 128, 200, 255].flatMap((g) => [0, 60, 128, 200, 255].map((b) => [r, g, b] as const)),
    );
    const shifted = all.map(([r, g, b]) => [r, g, b].map((v) => (v > 128 ? v - 4 : v + 4)));
    const newId = countingIds('s');
    await createLibrary(db, {
      ...ropes,
      name: 'All',
      groups: [
        {
          id: 'g',
          name: '',
          swatches: shifted.map(([r, g, b]) => ({
            ...swatch(newId(), `${r} ${g} ${b}`),
            color: fromRgb8(r, g, b),
          })),
        },
      ],
    });
    for (const [i, [r, g, b]] of all.entries()) {
      const [library] = await listLibraries(db, `close to rgb(${r}, ${g}, ${b})`);
      expect([r, g, b, library?.found?.includes(shifted[i].join(' '))]).toEqual([r, g, b, true]);
    }
    expect(await listLibraries(db, '#967832')).toEqual([]);
  });

  it('finds one library among many that all have the name very often', async () => {
    const newId = countingIds('s');
    for (let k = 0; k < 6; k++)
      await createLibrary(db, {
        ...ropes,
        name: `L${k}`,
        groups: [
          {
            id: 'g',
            name: '',
            swatches: Array.from({ length: 800 }, (_, i) => swatch(newId(), `Halyard ${i}`)),
          },
        ],
      });
    expect((await found('halyard')).sort()).toEqual(['L0', 'L1', 'L2', 'L3', 'L4', 'L5']);
    expect((await listLibraries(db, 'halyard')).every((l) => l.found!.length > 0)).toBe(true);
  });
});

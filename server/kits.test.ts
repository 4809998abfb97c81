import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { KitChoices } from '../core/formats/plan.ts';
import type { Db } from './db.ts';
import { deletePreset, keepKit, keepPreset, listKits, listPresets } from './kits.ts';
import { createLibrary } from './libraries.ts';
import { openDatabase } from './open.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-kits-'));
const url = `file:${join(folder, 'papillon.db')}`;
afterAll(() => rmSync(folder, { recursive: true }));
let db: Db;
beforeAll(async () => {
  db = await openDatabase(url);
});

const choices: KitChoices = {
  scope: { what: 'groups', ids: ['a'] },
  destinations: [{ id: 'painting', files: [{ format: 'aco', perGroup: true }] }],
};

it('remembers what was handed over at which revision, after a restart, for each library apart', async () => {
  const [one, other] = await Promise.all(
    ['One', 'Other'].map((name) =>
      createLibrary(db, { id: 'x', name, groups: [{ id: 'a', name: '', swatches: [] }] }),
    ),
  );
  await keepKit(db, one, 12, choices);
  await keepKit(db, one, 14, { ...choices, scope: { what: 'library' } });
  db = await openDatabase(url);
  expect((await listKits(db, one)).map((k) => [k.revision, k.choices.scope.what])).toEqual([
    [14, 'library'],
    [12, 'groups'],
  ]);
  expect((await listKits(db, one))[1].choices).toEqual(choices);
  expect(await listKits(db, other)).toEqual([]);
});

it('keeps presets by name; the same name again takes the place of the first', async () => {
  await keepPreset(db, { name: 'Printer', destinations: [] });
  await keepPreset(db, { name: 'Agency', destinations: choices.destinations });
  await keepPreset(db, { name: 'Printer', destinations: choices.destinations });
  expect(await listPresets(db)).toEqual([
    { name: 'Agency', destinations: choices.destinations },
    { name: 'Printer', destinations: choices.destinations },
  ]);
  await deletePreset(db, 'Agency');
  expect((await listPresets(db)).map((p) => p.name)).toEqual(['Printer']);
});

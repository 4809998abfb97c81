import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ase } from '../core/formats/ase/ase.ts';
import { allSwatches, type Change, emptyBoard, gradientThrough, setFields } from '../core/swatch/index.ts';
import { libraryOf, readBy } from '../core/testing.ts';
import { applyChanges } from './changes.ts';
import type { Db } from './db.ts';
import { createLibrary, readLibrary } from './libraries.ts';
import { downloadOfLink, dropPinned, fileOfLink, linkFrom, PIN_NOW } from './link-files.ts';
import {
  changeLink,
  countUse,
  type FileLink,
  linksNow,
  listLinks,
  makeLink,
  openLink,
  type PageLink,
  renewLink,
  revokeLink,
} from './links.ts';
import { openDatabase } from './open.ts';
import { sharedView } from './shared.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-links-'));
afterAll(() => rmSync(folder, { recursive: true }));
let db: Db;
let id: string;
const library = libraryOf('Harbour', {
  Sky: [
    ['Slate', '#455a66'],
    ['Night', '#263a46'],
  ],
  Hull: [['Red <b>', '#b3262b']],
});
const board = emptyBoard('board', 'On one page', [
  { id: 'o', of: 'swatch', refs: [library.groups[1]!.swatches[0]!.id], name: 'Red', weight: 2 },
]);

beforeAll(async () => {
  db = await openDatabase(`file:${join(folder, 'papillon.db')}`);
  id = await createLibrary(db, { ...library, items: [board] });
});

const page = (more: Partial<PageLink> = {}): PageLink => ({
  ...{ is: 'page', name: 'Printer', access: 'view', board: null, formats: null, expires: null },
  ...more,
});
const file = (more: Partial<FileLink> = {}): FileLink => ({
  ...{ is: 'file', name: 'ASE', file: { format: 'ase' }, groups: null, cors: false, pinned: null },
  ...more,
});
const opened = async (token: string) => (await openLink(db, token, 'page'))!;
const namesIn = (bytes: Uint8Array<ArrayBuffer>) =>
  allSwatches(readBy(ase, bytes).library).map((s) => s.name);
const boardId = async () => (await readLibrary(db, id))!.items![0]!.id;
let changesMade = 0;
const rename = async (name: string) => {
  const { swatches } = (await readLibrary(db, id))!.groups[0]!;
  const { ops, label } = setFields([swatches[0]!.id], { name });
  const change: Change = {
    id: `change-of-links-${changesMade++}`,
    by: 'tester',
    label,
    ops,
  };
  await applyChanges(db, id, { by: 'tester', seen: 0, changes: [change] });
};

describe('a link', () => {
  it('has 128 random bits, of which the database has only a hash', async () => {
    const { link, token } = await makeLink(db, id, page());
    expect(Buffer.from(token, 'base64url').length).toBe(16);
    expect((await makeLink(db, id, page())).token).not.toBe(token);
    const rows = JSON.stringify(await db.all(sql`SELECT * FROM links`));
    expect(rows).not.toContain(token);
    expect((await listLinks(db, id)).map((l) => l.id)).toContain(link.id);
    expect((await opened(token)).library.id).toBe(id);
  });

  it('opens nothing once it is revoked, renewed or expired, and never as one of another kind', async () => {
    const { link, token } = await makeLink(db, id, page());
    expect(await openLink(db, token, 'file')).toBeNull();
    expect(await openLink(db, `${token}a`, 'page')).toBeNull();
    expect(await openLink(db, "' OR 1=1 --aaaaaaaaaaaa", 'page')).toBeNull();
    const next = await renewLink(db, id, link.id);
    expect(await openLink(db, token, 'page')).toBeNull();
    expect(await opened(next)).toBeTruthy();
    await changeLink(db, id, link.id, page({ expires: Date.now() + 1000 }));
    expect(await openLink(db, next, 'page', Date.now())).toBeTruthy();
    expect(await openLink(db, next, 'page', Date.now() + 1001)).toBeNull();
    await changeLink(db, id, link.id, page());
    await revokeLink(db, id, link.id);
    expect(await openLink(db, next, 'page')).toBeNull();
  });

  it('is of one library: through another it is neither changed nor revoked', async () => {
    const other = await createLibrary(db, libraryOf('Other', {}));
    const { link, token } = await makeLink(db, id, page());
    await expect(changeLink(db, other, link.id, page({ name: 'mine' }))).rejects.toThrow(/not there/);
    await expect(renewLink(db, other, link.id)).rejects.toThrow(/not there/);
    await revokeLink(db, other, link.id);
    expect((await opened(token)).data.name).toBe('Printer');
  });

  it('says when it was used last, and how often', async () => {
    const { link } = await makeLink(db, id, page());
    const at = Date.now();
    await countUse(db, link.id, at);
    await countUse(db, link.id, at + 1000);
    await countUse(db, link.id, at + 70_000);
    const used = (await listLinks(db, id)).find((l) => l.id === link.id);
    expect([used?.uses, used?.usedAt?.getTime()]).toEqual([3, at + 70_000]);
  });

  it('says at once what has changed, and when it has ended', async () => {
    const { createHash } = await import('node:crypto');
    const { link, token } = await makeLink(db, id, page());
    const hash = createHash('sha256').update(token).digest('base64url');
    const version = async () => (await linksNow(db, [hash])).get(hash)?.version;
    const first = await version();
    await rename('Slate blue');
    const second = await version();
    await changeLink(db, id, link.id, page({ formats: [] }));
    expect(new Set([first, second, await version()]).size).toBe(3);
    expect((await opened(token)).version).toBe(await version());
    await revokeLink(db, id, link.id);
    expect((await linksNow(db, [hash])).size).toBe(0);
  });
});

describe('what a link shows', () => {
  it('is the library with the values of every swatch', async () => {
    const { token } = await makeLink(db, id, page());
    const view = (await sharedView(db, await opened(token), `/s/${token}`))!;
    expect(view.groups.map((g) => [g.name, g.swatches.length])).toEqual([
      ['Sky', 2],
      ['Hull', 1],
    ]);
    const red = view.groups[1]!.swatches[0]!;
    expect(red.hex).toBe('#b3262b');
    expect(red.values.map(([label]) => label)).toEqual(expect.arrayContaining(['Hex', 'CMYK', 'Lab D50']));
    expect(view.pages).toBeNull();
  });

  it('is a board and the swatches on it, and nothing else of the library', async () => {
    const { token } = await makeLink(db, id, page({ board: await boardId() }));
    const view = (await sharedView(db, await opened(token), `/s/${token}`))!;
    expect([view.title, view.from]).toEqual(['On one page', 'Harbour']);
    expect(view.groups.map((g) => g.name)).toEqual(['Hull']);
    // a name cannot become part of the page
    expect(view.pages?.[0]?.svg).toContain('Red &lt;b&gt;');
    expect(JSON.stringify(view)).not.toContain('Night');
    const download = (await downloadOfLink(db, await opened(token), 'ase'))!;
    expect(namesIn(download.bytes)).toEqual(['Red <b>']);
  });

  it('of a board takes nothing else of the library along, not even in files that hold everything', async () => {
    const secret = emptyBoard('other', 'For nobody', []);
    const own = await createLibrary(db, {
      ...library,
      note: 'Prices: 4 and 5',
      items: [
        board,
        secret,
        gradientThrough('gr', 'Unshown gradient', library.groups[0]!.swatches, 'oklab'),
        gradientThrough(
          'g2',
          'Red to red',
          [library.groups[1]!.swatches[0]!, library.groups[1]!.swatches[0]!],
          'oklab',
        ),
      ],
    });
    const kept = (await readLibrary(db, own))!;
    const shown = kept.items!.find((i) => i.name === 'On one page')!.id;
    const { token } = await makeLink(db, own, page({ board: shown }));
    const text = async (file: { bytes: Uint8Array } | null) => new TextDecoder().decode(file!.bytes);
    const download = await text(await downloadOfLink(db, await opened(token), 'papillon'));
    const view = JSON.stringify(await sharedView(db, await opened(token), '/s/x'));
    const group = await makeLink(
      db,
      own,
      file({ file: { format: 'papillon' }, groups: [kept.groups[1]!.id] }),
    );
    const ofGroup = await text(await fileOfLink(db, (await openLink(db, group.token, 'file'))!));
    expect(download).toContain('On one page');
    expect(ofGroup).toContain('Red to red');
    for (const hidden of ['Prices', 'For nobody', 'Unshown gradient', 'Night', 'Slate'])
      for (const given of [download, view, ofGroup]) expect(given).not.toContain(hidden);
  });

  it('ends with its board', async () => {
    const { token } = await makeLink(db, id, page({ board: 'never' }));
    expect(await sharedView(db, await opened(token), '')).toBeNull();
    expect(await downloadOfLink(db, await opened(token), 'ase')).toBeNull();
  });

  it('is downloaded only in the formats that it allows', async () => {
    const { token } = await makeLink(db, id, page({ formats: ['ase'] }));
    expect(await downloadOfLink(db, await opened(token), 'gpl')).toBeNull();
    expect((await downloadOfLink(db, await opened(token), 'ase'))?.name).toBe('Harbour.ase');
    await expect(linkFrom(db, id, page({ formats: ['../etc'] }), null)).rejects.toThrow(/not a format/);
  });
});

describe('a file link', () => {
  const of = async (token: string) => (await fileOfLink(db, (await openLink(db, token, 'file'))!))!;

  it('gives the file as it is now, with the same tag while it is the same', async () => {
    const { token } = await makeLink(db, id, file());
    const first = await of(token);
    expect(namesIn(first.bytes)).toEqual(['Slate blue', 'Night', 'Red <b>']);
    expect((await of(token)).etag).toBe(first.etag);
    await rename('Sea slate');
    const next = await of(token);
    expect(namesIn(next.bytes)[0]).toBe('Sea slate');
    expect(next.etag).not.toBe(first.etag);
  });

  it('of a group leaves the others out', async () => {
    const { token } = await makeLink(db, id, file({ groups: [(await readLibrary(db, id))!.groups[1]!.id] }));
    expect(namesIn((await of(token)).bytes)).toEqual(['Red <b>']);
  });

  it('that is pinned stays as it was, until the link goes', async () => {
    const { data, pinned } = await linkFrom(db, id, file({ pinned: PIN_NOW }), null);
    const { link, token } = await makeLink(db, id, data, pinned);
    await rename('Something else');
    await dropPinned(db);
    expect(namesIn((await of(token)).bytes)[0]).toBe('Sea slate');
    // nobody names a file that was not kept for this link
    await expect(linkFrom(db, id, data, null)).rejects.toThrow(/not kept/);
    await revokeLink(db, id, link.id);
    await dropPinned(db);
    const { hash } = (data as FileLink).pinned!;
    expect(await db.all(sql`SELECT hash FROM assets WHERE hash = ${hash}`)).toEqual([]);
  });

  it('of more swatches than its format holds says so', async () => {
    const many = libraryOf('Many', {
      All: Array.from({ length: 300 }, (_, i) => [
        `C${i}`,
        `#0000${(i % 256).toString(16).padStart(2, '0')}`,
      ]),
    });
    const { token } = await makeLink(db, await createLibrary(db, many), file({ file: { format: 'act' } }));
    await expect(of(token)).rejects.toThrow(/ACT holds 256 swatches/);
  });
});

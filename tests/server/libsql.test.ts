import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fromRgb8 } from '../../core/color/index.ts';
import type { Library, Swatch } from '../../core/swatch/index.ts';
import { libraryOf } from '../../core/testing.ts';
import { keepArtwork, readArtworkBytes } from '../../server/artworks.ts';
import { makeBackup } from '../../server/backup.ts';
import { applyChanges, newsOf, wayBack } from '../../server/changes.ts';
import { closeDatabase, type Db } from '../../server/db.ts';
import { createLibrary, listHome, listLibraries, readRows, streamLibrary } from '../../server/libraries.ts';
import { openDatabase } from '../../server/open.ts';
import { restoreBackup } from '../../server/restore.ts';
import { random } from '../fuzz/mutate.ts';
import { Line, SqlServer, sqldPath } from '../libsql/real.ts';
import { Running } from './running.ts';

// Against the real database server, where its program can be had; else the stand-in of server/remote.test.ts is what there is.

const swatch = (i: number): Swatch => ({
  id: `s${i}`,
  name: `Rope ${i}`,
  kind: 'spot',
  color: fromRgb8(i % 256, 2, 3),
});
const ropes = (n: number, name = 'Ropes'): Library => ({
  id: 'x',
  name,
  groups: [{ id: 'g', name: 'Hull', swatches: Array.from({ length: n }, (_, i) => swatch(i)) }],
});
let n = 0;
const change = (library: string, name: string) => ({
  id: `change-${String(n++).padStart(6, '0')}`,
  by: 'me',
  label: 'rename',
  ops: [{ op: 'set' as const, of: 'library' as const, id: library, fields: { name } }],
});
const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));

describe.skipIf(!sqldPath())('a real libSQL server', () => {
  let sql: SqlServer;
  let line: Line;
  beforeAll(async () => {
    sql = (await SqlServer.start())!;
    line = await Line.to(sql.url);
  });
  afterAll(async () => {
    await line?.close();
    await sql?.stop();
  });

  describe('by itself', () => {
    let db: Db;
    beforeAll(async () => {
      db = await openDatabase(line.url);
    });
    afterAll(() => closeDatabase(db));

    /** Requests to the database that something takes, those that follow it included. */
    const requests = async (run: () => Promise<unknown>) => {
      line.count = 0;
      await run();
      await wait(60);
      return line.count;
    };

    it('is asked no more often than is needed', async () => {
      let id = '';
      expect(
        await requests(async () => {
          id = await createLibrary(db, ropes(1000));
        }),
      ).toBeLessThanOrEqual(3);
      await createLibrary(db, ropes(10, 'Another'));
      const first = change(id, 'Lines');
      const edit = (sent: object) => () =>
        applyChanges(db, id, { by: 'me', seen: 0, changes: [sent as typeof first] });
      expect(await requests(edit(first))).toBeLessThanOrEqual(3);
      const { rows } = (await readRows(db, id))!;
      await wait(60);
      const [one] = rows.library.groups[0]!.swatches;
      const ops = [{ op: 'set', of: 'swatch', id: one!.id, fields: { name: 'Halyard' } }];
      expect(await requests(edit({ ...change(id, ''), ops }))).toBeLessThanOrEqual(3);
      expect(await requests(edit({ ...change(id, ''), ops: [], undoes: first.id }))).toBeLessThanOrEqual(3);
      expect(await requests(() => newsOf(db, id, 1, 'me'))).toBe(1);
      expect(
        await requests(async () => new Response(await streamLibrary(db, id, 'me')).text()),
      ).toBeLessThanOrEqual(2);
      // the bands have to be made the first time
      expect(await requests(() => listHome(db))).toBeLessThanOrEqual(2);
      expect(await requests(() => listHome(db))).toBe(1);
    });

    it('keeps a drawing that is larger than it takes a value to be', async () => {
      const bytes = new Uint8Array(9_000_000).map((_, i) => (i * 7919) % 251);
      const hash = createHash('sha256').update(bytes).digest('hex');
      expect(await keepArtwork(db, hash, { mime: 'image/svg+xml', bytes })).toBe(true);
      const read = (await readArtworkBytes(db, hash))!;
      expect(createHash('sha256').update(read).digest('hex')).toBe(hash);
    });

    it('takes very large libraries, and very long changes of them', async () => {
      const id = await createLibrary(db, ropes(12_000, 'Large'));
      const { rows } = (await readRows(db, id))!;
      const { swatches } = rows.library.groups[0]!;
      expect(swatches).toHaveLength(12_000);
      const ops = swatches.map((s, i) => ({
        op: 'set' as const,
        of: 'swatch' as const,
        id: s.id,
        fields: { note: `Of coil ${i}, ${'x'.repeat(160)}` },
      }));
      const { outcomes } = await applyChanges(db, id, {
        by: 'me',
        seen: 0,
        changes: [{ id: 'change-of-all-notes', by: 'me', label: 'note', ops }],
      });
      expect(outcomes[0]).toMatchObject({ seq: 1 });
      expect((await readRows(db, id))!.rows.library.groups[0]!.swatches[7]!.note).toMatch(/coil 7/);
    }, 240_000);

    it('takes a change of more than fits into a value, and takes it back', async () => {
      const id = await createLibrary(db, ropes(1, 'Long'));
      const group = (await readRows(db, id))!.rows.library.groups[0]!.id;
      const next = random(5);
      // names and notes that are hardly alike, in a script of three bytes a letter
      const signs = (length: number) =>
        String.fromCodePoint(...Array.from({ length }, () => 0x4e00 + Math.floor(next() * 5000)));
      const ops = Array.from({ length: 6000 }, (_, i) => ({
        op: 'put' as const,
        of: 'swatch' as const,
        id: `long-${i}`,
        fields: {
          group,
          order: `b${String(i).padStart(6, '0')}z`,
          kind: 'process',
          name: signs(30),
          note: signs(200),
          color: fromRgb8(next() * 255, next() * 255, next() * 255),
        },
      }));
      expect(Buffer.byteLength(JSON.stringify(ops))).toBeGreaterThan(5_000_000);
      const send = (sent: object) =>
        applyChanges(db, id, { by: 'me', seen: 0, changes: [{ by: 'me', label: 'long', ...sent } as never] });
      expect((await send({ id: 'change-long-1', ops })).outcomes[0]).toMatchObject({ seq: 1, said: [] });
      // a page that was away reads the library again
      expect((await newsOf(db, id, 0, 'other')).changes).toBeNull();
      expect(
        (await send({ id: 'change-long-2', ops: [], undoes: 'change-long-1' })).outcomes[0],
      ).toMatchObject({
        seq: 2,
      });
      expect((await readRows(db, id))!.rows.library.groups[0]!.swatches).toHaveLength(1);
      const again = await send({ id: 'change-long-3', ops: [], undoes: 'change-long-2' });
      expect(again.outcomes[0]).toMatchObject({ seq: 3, said: [] });
      const { swatches } = (await readRows(db, id))!.rows.library.groups[0]!;
      expect(swatches).toHaveLength(6001);
      expect(swatches.at(-1)!.name).toBe(ops.at(-1)!.fields.name);
      expect((await wayBack(db, id, 0)).inverses).toHaveLength(3);

      // what cannot be packed small enough is refused with a reason, and a page goes on with what comes after it
      const notes = Array.from({ length: 6000 }, (_, i) => ({
        op: 'set' as const,
        of: 'swatch' as const,
        id: `long-${i}`,
        fields: { note: Array.from({ length: 140 }, () => next().toString(36).slice(2, 12)).join('') },
      }));
      expect((await send({ id: 'change-long-4', ops: notes })).outcomes[0]).toMatchObject({
        seq: null,
        said: [expect.stringMatching(/in parts/)],
      });
      expect((await send({ id: 'change-long-5', ops: notes.slice(0, 10) })).outcomes[0]!.seq).toBe(4);

      // nor do letters of three bytes make a row, or an answer, too large
      for (let k = 0; k < 4; k++) {
        const said = ops.slice(0, 900).map(({ id }) => ({
          op: 'set' as const,
          of: 'swatch' as const,
          id,
          fields: { note: signs(950) },
        }));
        expect((await send({ id: `change-signs-${k}`, ops: said })).outcomes[0]!.seq).toBe(5 + k);
      }
      expect((await newsOf(db, id, 4, 'other')).changes).toBeNull();
      expect((await readRows(db, id))!.rows.library.groups[0]!.swatches[9]!.note).toHaveLength(950);
      expect((await wayBack(db, id, 4)).inverses.map((i) => i.seq)).toEqual([8, 7, 6, 5]);
    }, 240_000);

    it('is backed up into a file, and restored from it, with all that is in it', async () => {
      const folder = mkdtempSync(join(tmpdir(), 'papillon-libsql-'));
      process.env.PAPILLON_BACKUPS = folder;
      try {
        const before = (await listLibraries(db)).map((l) => l.name).sort();
        await makeBackup(db, line.url, join(folder, 'copy.db'));
        await createLibrary(db, ropes(3, 'After'));
        const { kept } = await restoreBackup(join(folder, 'copy.db'), line.url);
        expect((await listLibraries(db)).map((l) => l.name).sort()).toEqual(before);
        expect(kept.startsWith(join(folder, 'before-restore-'))).toBe(true);
        expect((await listLibraries(db, 'rope 7')).length).toBeGreaterThan(0);
      } finally {
        delete process.env.PAPILLON_BACKUPS;
        rmSync(folder, { recursive: true });
      }
    }, 240_000);
  });

  it('is followed by a replica, out of which libraries are read, what was just written with them', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'papillon-replica-'));
    process.env.DATABASE_REPLICA = join(folder, 'replica.db');
    try {
      const db = await openDatabase(sql.url);
      const id = await createLibrary(db, ropes(7000, 'Followed'));
      const read = async () => {
        const text = await new Response(await streamLibrary(db, id, 'me')).text();
        const lines = text
          .trimEnd()
          .split('\n')
          .map((l) => JSON.parse(l));
        return { head: lines[0].head, swatches: lines.flatMap((l) => l.swatches ?? []), end: lines.at(-1) };
      };
      await applyChanges(db, id, { by: 'me', seen: 0, changes: [change(id, 'Renamed')] });
      const { head, swatches, end } = await read();
      expect([head.name, head.seq, end]).toEqual(['Renamed', 1, { end: true }]);
      expect(new Set(swatches.map((s: string[]) => s[0])).size).toBe(7000);
      expect(statSync(join(folder, 'replica.db')).size).toBeGreaterThan(1_000_000);
      // what another server writes is there, too
      delete process.env.DATABASE_REPLICA;
      const other = await openDatabase(sql.url);
      await applyChanges(other, id, { by: 'you', seen: 1, changes: [change(id, 'By another')] });
      expect((await read()).head.name).toBe('By another');
      closeDatabase(other);
      closeDatabase(db);
    } finally {
      delete process.env.DATABASE_REPLICA;
      rmSync(folder, { recursive: true });
    }
  }, 120_000);

  it('two Papillon servers, a bad line, and kills of all three: what is confirmed is there, once', async () => {
    const next = random(24);
    const env = { DATABASE_URL: line.url };
    const servers = [await Running.start(env), await Running.start(env)];
    try {
      const made = await servers[0]!.post('/libraries', libraryOf('Shared', { Deck: [['Teak', '#6d4a2c']] }));
      const id = await made.text();
      const confirmed: string[] = [];
      const end = Date.now() + 25_000;
      line.lose = () => {
        const dice = next();
        return dice < 0.02 ? 'request' : dice < 0.04 ? 'reply' : dice < 0.05 ? 'half a reply' : null;
      };
      const editor = async (by: number) => {
        while (Date.now() < end) {
          const sent = change(id, `by ${by}`);
          for (let tries = 0; ; tries++) {
            expect(tries).toBeLessThan(400);
            const response = await servers[by % 2]!.post(`/libraries/${id}/changes`, {
              by: `person-${by}`,
              seen: 0,
              changes: [sent],
            }).catch(() => null);
            if (response?.status === 200) {
              confirmed.push(sent.id);
              break;
            }
            if (response) expect([response.status, await response.text()]).toEqual([503, expect.any(String)]);
            await wait(100);
          }
        }
      };
      const trouble = async () => {
        for (let i = 0; Date.now() < end - 4000; i++) {
          await wait(2000 + next() * 1500);
          if (i % 3 === 0) {
            await sql.kill();
            await wait(300);
            await sql.start();
          } else await servers[i % 2]!.start(env);
        }
      };
      await Promise.all([editor(0), editor(1), editor(2), trouble()]);
      line.lose = () => null;
      const times = await servers[0]!.timesDone(id);
      expect(confirmed.length).toBeGreaterThan(20);
      expect(confirmed.filter((c) => times.get(c) !== 1)).toEqual([]);
      expect([...times].filter(([, many]) => many > 1)).toEqual([]);
    } finally {
      line.lose = () => null;
      for (const server of servers) await server.stop();
    }
  }, 240_000);
});

describe('a server that is asked to end', () => {
  it('answers what it has begun, says at /health that it takes no more, and is gone', async () => {
    const server = await Running.start();
    try {
      expect(await (await fetch(`${server.url}/health`)).json()).toEqual({ ready: true, database: true });
      const id = await (await server.post('/libraries', libraryOf('Hull', {}))).text();
      const sent = Array.from({ length: 20 }, () => change(id, 'Last'));
      const answers = sent.map((one) =>
        server.post(`/libraries/${id}/changes`, { by: 'me', seen: 0, changes: [one] }),
      );
      await wait(5);
      const ended = server.end();
      const statuses = (await Promise.allSettled(answers)).map((a) =>
        a.status === 'fulfilled' ? a.value.status : 'refused',
      );
      expect(await ended).toBe(0);
      await server.start();
      const times = await server.timesDone(id);
      sent.forEach((one, i) => {
        if (statuses[i] === 200) expect(times.get(one.id)).toBe(1);
      });
      expect(statuses.filter((s) => s === 200).length).toBeGreaterThan(0);
      // its log is lines of JSON, without names of libraries or ids in it
      const lines = server.log.split('\n').filter((l) => l.startsWith('{'));
      expect(lines.map((l) => JSON.parse(l).msg)).toEqual(
        expect.arrayContaining(['Started', 'Ending', 'Ended']),
      );
      expect(server.log).not.toContain(id);
    } finally {
      await server.stop();
    }
  });

  it('tells at /health that its data cannot be reached, and nothing else', async () => {
    const server = await Running.start({ DATABASE_URL: 'http://127.0.0.1:9' });
    try {
      const answer = await fetch(`${server.url}/health`);
      expect([answer.status, await answer.json()]).toEqual([503, { ready: false, database: false }]);
    } finally {
      await server.stop();
    }
  });
});

import { execFileSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createClient } from '@libsql/client';
import { afterEach, describe, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { Running } from './running.ts';

const open: Running[] = [];
const started = async (env: Record<string, string> = {}, folder?: string) => {
  const server = await Running.start(env, folder);
  open.push(server);
  return server;
};
afterEach(async () => {
  for (const server of open.splice(0)) await server.stop();
});

const hull = () => libraryOf('Hull', { Deck: [['Teak', '#6d4a2c']] });
const made = async (server: Running) => {
  const response = await server.post('/libraries', hull());
  const text = await response.text();
  expect([response.status, text]).toEqual([201, expect.stringMatching(/^[\w-]{12}$/)]);
  return text;
};
let n = 0;
const change = (library: string, name: string) => ({
  id: `change-${String(n++).padStart(6, '0')}`,
  by: 'me',
  label: 'rename',
  ops: [{ op: 'set', of: 'library', id: library, fields: { name } }],
});
const edit = (server: Running, library: string, name: string, sent = change(library, name)) =>
  server.post(`/libraries/${library}/changes`, { by: 'me', seen: 0, changes: [sent] });
const nameOf = async (server: Running, library: string) =>
  (await (await fetch(`${server.url}/libraries/${library}/changes`)).json()).library.name;
const history = async (server: Running, library: string) =>
  (await (await fetch(`${server.url}/libraries/${library}/changes/history`)).json()).entries as {
    id: string;
  }[];
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Holds the database for writing, as another program would; gives what lets go of it. */
async function held(server: Running): Promise<() => Promise<void>> {
  const client = createClient({ url: `file:${server.database}` });
  const transaction = await client.transaction('write');
  return async () => {
    await transaction.rollback();
    client.close();
  };
}

describe('a database that another program holds', () => {
  it('for a moment: edits wait for it, and go on at once', async () => {
    const server = await started();
    const id = await made(server);
    for (const ms of [300, 1500]) {
      const letGo = await held(server);
      const free = wait(ms).then(letGo);
      expect((await edit(server, id, `after ${ms}`)).status).toBe(200);
      await free;
      const start = performance.now();
      expect((await edit(server, id, 'again')).status).toBe(200);
      expect(performance.now() - start).toBeLessThan(2000);
    }
  });

  it('for long: the reason is reported, nothing is lost, and all goes on when it is free', async () => {
    const server = await started();
    const id = await made(server);
    const letGo = await held(server);
    const sent = change(id, 'held');
    const refused = await edit(server, id, 'held', sent);
    expect([refused.status, await refused.text()]).toEqual([
      503,
      expect.stringMatching(/Another program holds/),
    ]);
    expect(refused.headers.get('Retry-After')).toBeTruthy();
    // reading goes on meanwhile
    expect(await nameOf(server, id)).toBe('Hull');
    expect((await fetch(server.url)).status).toBe(200);
    await letGo();
    expect((await edit(server, id, 'held', sent)).status).toBe(200);
    expect(await nameOf(server, id)).toBe('held');
    expect((await history(server, id)).filter((e) => e.id === sent.id)).toHaveLength(1);
  });
});

describe('a place that cannot be written', () => {
  it('is reported at every page and edit, and is over without a restart', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'papillon-server-'));
    // a file where the folder ought to be stops root, too
    writeFileSync(join(folder, 'data'), '');
    const server = await started({ DATABASE_URL: `file:${folder}/data/papillon.db` }, folder);
    for (const path of [
      '/',
      '/libraries',
      '/libraries/x/arrange',
      '/libraries/x/gather.data',
      '/libraries/x/rows',
    ]) {
      const response = await fetch(server.url + path);
      expect([path, response.status, await response.text()]).toEqual([
        path,
        503,
        expect.stringMatching(/cannot be opened|may not write/),
      ]);
    }
    expect((await server.post('/libraries', hull())).status).toBe(503);
    rmSync(join(folder, 'data'));
    mkdirSync(join(folder, 'data'));
    expect((await server.post('/libraries', hull())).status).toBe(201);
  });

  it('that is no database is reported', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'papillon-server-'));
    writeFileSync(join(folder, 'papillon.db'), 'this is a letter, not a database. '.repeat(400));
    const server = await started({}, folder);
    const response = await fetch(server.url);
    expect([response.status, await response.text()]).toEqual([
      503,
      expect.stringMatching(/is damaged. Restore a backup/),
    ]);
  });

  // root may write everywhere
  it.skipIf(process.getuid?.() === 0)('that is read-only is reported', async () => {
    const server = await started();
    const id = await made(server);
    await server.kill();
    chmodSync(server.database, 0o444);
    await server.start();
    const response = await edit(server, id, 'x');
    expect([response.status, await response.text()]).toEqual([503, expect.stringMatching(/may not write/)]);
  });
});

/** A small disk of its own; null where that is not allowed. */
function smallDisk(megabytes: number): { folder: string; remount(how: string): void; remove(): void } | null {
  const folder = mkdtempSync(join(tmpdir(), 'papillon-disk-'));
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', folder], { stdio: 'ignore' });
  } catch {
    rmSync(folder, { recursive: true });
    return null;
  }
  return {
    folder,
    remount: (how) => execFileSync('mount', ['-o', `remount,${how}`, folder]),
    remove() {
      execFileSync('umount', ['-l', folder]);
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

describe('a disk that is full', () => {
  it('keeps what was confirmed, says so, and goes on when there is room', async ({ skip }) => {
    const disk = smallDisk(4);
    if (!disk) return skip('mounting a small disk is not allowed here');
    const server = await started({ DATABASE_URL: `file:${disk.folder}/papillon.db` });
    try {
      const id = await made(server);
      const confirmed: string[] = [];
      let full: Response | null = null;
      for (let i = 0; i < 400 && !full; i++) {
        const sent = change(id, `${i} ${'x'.repeat(20_000)}`);
        const response = await edit(server, id, '', sent);
        if (response.ok) confirmed.push(sent.id);
        else full = response;
      }
      expect([full?.status, await full?.text()]).toEqual([
        503,
        expect.stringMatching(/disk that holds Papillon’s data is full/),
      ]);
      const page = await fetch(server.url);
      expect([200, 503]).toContain(page.status);
      disk.remount('size=64m');
      const sent = change(id, 'room again');
      expect((await edit(server, id, '', sent)).status).toBe(200);
      // a power cut right after
      await server.kill();
      await server.start({ DATABASE_URL: `file:${disk.folder}/papillon.db` });
      const kept = await server.timesDone(id);
      expect([...confirmed, sent.id].filter((c) => !kept.has(c))).toEqual([]);
    } finally {
      await server.kill();
      disk.remove();
    }
  });

  it('from the start is reported, and ends without a restart', async ({ skip }) => {
    const disk = smallDisk(1);
    if (!disk) return skip('mounting a small disk is not allowed here');
    try {
      try {
        writeFileSync(join(disk.folder, 'ballast'), Buffer.alloc(4_000_000));
      } catch {
        // that is what full means
      }
      const server = await started({ DATABASE_URL: `file:${disk.folder}/papillon.db` });
      const response = await fetch(server.url);
      expect([response.status, await response.text()]).toEqual([
        503,
        expect.stringMatching(/full|cannot be read or written/),
      ]);
      disk.remount('size=64m');
      expect((await server.post('/libraries', hull())).status).toBe(201);
      await server.kill();
    } finally {
      disk.remove();
    }
  });
});

describe('a server that is cut off', () => {
  it('in the middle of edits has all that it confirmed, each once, and none in part', async () => {
    const server = await started();
    const id = await made(server);
    const confirmed: string[] = [];
    const unanswered: ReturnType<typeof change>[] = [];
    for (let round = 0; round < 5; round++) {
      const stop = wait(60 + 70 * round).then(() => server.kill());
      for (let alive = true; alive; ) {
        const sent = change(id, `round ${round}`);
        await edit(server, id, '', sent).then(
          (r) => r.ok && confirmed.push(sent.id),
          () => {
            alive = false;
            unanswered.push(sent);
          },
        );
      }
      await stop;
      await server.start();
      // the page asks again under the same id
      for (const sent of unanswered.splice(0)) {
        expect((await edit(server, id, '', sent)).status).toBe(200);
        confirmed.push(sent.id);
      }
    }
    const counts = await server.timesDone(id);
    expect(confirmed.length).toBeGreaterThan(5);
    expect(confirmed.filter((c) => counts.get(c) !== 1)).toEqual([]);
  });

  it('repeated requests are done once', async () => {
    const server = await started();
    const id = await made(server);
    const sent = change(id, 'Once');
    const answers = await Promise.all(
      Array.from({ length: 10 }, () => edit(server, id, '', sent).then((r) => r.json())),
    );
    expect(new Set(answers.map((a) => a.outcomes[0].seq)).size).toBe(1);
    expect((await history(server, id)).filter((e) => e.id === sent.id)).toHaveLength(1);
    for (let i = 0; i < 2; i++)
      expect((await server.post('/libraries?id=made-once-only', hull())).status).toBe(201);
    const list = (await (await fetch(`${server.url}/libraries`)).json()) as { id: string }[];
    expect(list.filter((l) => l.id === 'made-once-only')).toHaveLength(1);
  });

  it('two that start on one new database both work', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'papillon-server-'));
    const servers = await Promise.all([started({}, folder), started({}, folder)]);
    const ids = await Promise.all(servers.map(made));
    for (const server of servers)
      for (const id of ids) {
        const response = await edit(server, id, `by ${server.url}`);
        expect([response.status, response.ok || (await response.text())]).toEqual([200, true]);
      }
  });
});

it('a request that is sent too slowly is given up, and others are answered meanwhile', async () => {
  const server = await started();
  const { connect } = await import('node:net');
  const { port } = new URL(server.url);
  const sockets = Array.from({ length: 50 }, () => {
    const socket = connect(Number(port), '127.0.0.1');
    socket.on('error', () => undefined);
    socket.write('POST /presets HTTP/1.1\r\nHost: 127.0.0.1\r\n');
    return socket;
  });
  try {
    expect((await fetch(server.url)).status).toBe(200);
    const said = await new Promise<string>((resolve) => {
      let text = '';
      sockets[0].on('data', (d) => {
        text += d;
      });
      sockets[0].on('close', () => resolve(text));
    });
    expect(said).toMatch(/^HTTP\/1.1 408 .*did not come to its end/s);
  } finally {
    for (const socket of sockets) socket.destroy();
  }
});

import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createClient } from '@libsql/client';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { Running } from './running.ts';

// What is uploaded while the server is killed is there as a whole or not at all, and can be sent again.

let server: Running;
let library = '';
beforeAll(async () => {
  server = await Running.start();
  library = await (
    await server.post('/libraries', libraryOf('Hull', { Deck: [['Teak', '#6d4a2c']] }))
  ).text();
});
afterAll(() => server?.stop());

const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));
const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** Rows of a table, and assets without anything that refers to them, read from the file itself. */
async function stored(table: string): Promise<{ rows: number; orphans: number; torn: number }> {
  const client = createClient({ url: `file:${server.database}` });
  try {
    const count = async (sql: string) => Number((await client.execute(sql)).rows[0]!.n);
    return {
      rows: await count(`SELECT count(*) AS n FROM ${table}`),
      orphans: await count(
        `SELECT count(*) AS n FROM assets WHERE hash NOT IN (SELECT asset FROM pictures UNION SELECT hash FROM profiles UNION SELECT hash FROM artworks)`,
      ),
      torn: await count('SELECT count(*) AS n FROM asset_parts WHERE hash NOT IN (SELECT hash FROM assets)'),
    };
  } finally {
    client.close();
  }
}

const drawing = (n: number) =>
  new TextEncoder().encode(
    `<svg xmlns="http://www.w3.org/2000/svg"><!--${n}${'x'.repeat(9_000_000)}--></svg>`,
  );

it.each([
  [
    'artworks',
    async (n: number) => {
      const bytes = drawing(n);
      const hash = sha256(bytes);
      const send = () =>
        fetch(`${server.url}/artworks/${hash}`, {
          method: 'PUT',
          headers: { 'Content-Type': 'application/octet-stream' },
          body: bytes,
        });
      const read = async () =>
        new Uint8Array(await (await fetch(`${server.url}/artworks/${hash}`)).arrayBuffer());
      return { send, read, bytes };
    },
  ],
  [
    'profiles',
    async (n: number) => {
      const bytes = new Uint8Array(readFileSync('profiles/uncoated-offset.icc'));
      // another one each time: a byte of the header that means nothing
      bytes[120] = n;
      const send = () =>
        fetch(`${server.url}/profiles/kept`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/vnd.iccprofile' },
          body: bytes,
        });
      const read = async () =>
        new Uint8Array(await (await fetch(`${server.url}/profiles/${sha256(bytes)}`)).arrayBuffer());
      return { send, read, bytes };
    },
  ],
  [
    'pictures',
    async (n: number) => {
      const noise = Buffer.from(Array.from({ length: 1200 * 900 * 3 }, (_, i) => (i * 7919 + n * 31) % 251));
      const bytes = new Uint8Array(
        await sharp(noise, { raw: { width: 1200, height: 900, channels: 3 } })
          .png()
          .toBuffer(),
      );
      const send = () => {
        const form = new FormData();
        form.append('about', JSON.stringify({ name: `${n}.png`, width: 1200, height: 900, takes: [] }));
        form.append('copy', new Blob([bytes], { type: 'image/png' }), 'copy.png');
        return fetch(`${server.url}/libraries/${library}/pictures/p${n}`, { method: 'PUT', body: form });
      };
      const read = async () =>
        new Uint8Array(
          await (await fetch(`${server.url}/libraries/${library}/pictures/p${n}`)).arrayBuffer(),
        );
      return { send, read, bytes };
    },
  ],
])(
  '%s',
  async (table, prepare) => {
    for (const [n, ms] of [0, 4, 10, 20, 40, 80, 160, 320].entries()) {
      const { send, read, bytes } = await prepare(n + 1);
      const before = await stored(table);
      // the server may be killed between the head of its answer and the end of it
      const sending = send().then(
        (r) =>
          r.text().then(
            () => r.status,
            () => r.status,
          ),
        () => null,
      );
      await wait(ms);
      await server.kill();
      const status = await sending;
      await server.start();
      const after = await stored(table);
      expect([after.orphans, after.torn]).toEqual([0, 0]);
      // what was answered is there
      if (status !== null && status < 300) expect(after.rows).toBe(before.rows + 1);
      else expect([before.rows, before.rows + 1]).toContain(after.rows);
      const again = await send();
      expect([again.status < 300, again.status < 300 || (await again.text())]).toEqual([true, true]);
      expect(sha256(await read())).toBe(sha256(bytes));
      expect((await stored(table)).rows).toBe(before.rows + 1);
    }
  },
  240_000,
);

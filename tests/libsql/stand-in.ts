import { randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo, Socket } from 'node:net';
import Database from 'libsql';

// A small libSQL server: the client's remote protocol (Hrana 2 over HTTP, as its specification describes it and the client in
// node_modules speaks it), over a local file. What the client is reported can be cut off after it has been done.

type Value =
  | { type: 'null' }
  | { type: 'integer'; value: string }
  | { type: 'float'; value: number }
  | { type: 'text'; value: string }
  | { type: 'blob'; base64: string };
interface Stmt {
  sql?: string;
  sql_id?: number;
  args?: Value[];
  named_args?: { name: string; value: Value }[];
}
type Condition =
  | { type: 'ok' | 'error'; step: number }
  | { type: 'not'; cond: Condition }
  | { type: 'and' | 'or'; conds: Condition[] }
  | { type: 'is_autocommit' };
type Ask =
  | { type: 'execute'; stmt: Stmt }
  | { type: 'batch'; batch: { steps: { condition?: Condition; stmt: Stmt }[] } }
  | { type: 'sequence'; sql?: string; sql_id?: number }
  | { type: 'store_sql'; sql_id: number; sql: string }
  | { type: 'close_sql'; sql_id: number }
  | { type: 'get_autocommit' }
  | { type: 'close' };

const fromValue = (v: Value) =>
  v.type === 'null'
    ? null
    : v.type === 'integer'
      ? BigInt(v.value)
      : v.type === 'blob'
        ? Buffer.from(v.base64, 'base64')
        : v.value;

function toValue(v: unknown): Value {
  if (v === null || v === undefined) return { type: 'null' };
  if (typeof v === 'bigint') return { type: 'integer', value: String(v) };
  if (typeof v === 'number') return { type: 'float', value: v };
  if (typeof v === 'string') return { type: 'text', value: v };
  return {
    type: 'blob',
    base64: Buffer.from(v as Uint8Array)
      .toString('base64')
      .replace(/=+$/, ''),
  };
}

const EXPIRY_MS = 300;

/** A connection that a client holds over several requests. */
class Stream {
  readonly db: InstanceType<typeof Database>;
  readonly texts = new Map<number, string>();

  constructor(file: string) {
    this.db = new Database(file, { timeout: 50 });
    this.db.exec('PRAGMA journal_mode = WAL');
  }

  /** Lets go of everything; what was begun is undone. */
  end(): void {
    if (this.db.inTransaction) this.db.exec('ROLLBACK');
    this.db.close();
  }

  readonly textOf = ({ sql, sql_id }: Stmt): string => sql ?? this.texts.get(sql_id!) ?? '';

  execute(stmt: Stmt) {
    const prepared = this.db.prepare(this.textOf(stmt)).safeIntegers(true);
    const args = (stmt.args ?? []).map(fromValue);
    const bound =
      args.length > 0
        ? args
        : Object.fromEntries((stmt.named_args ?? []).map((n) => [n.name, fromValue(n.value)]));
    let cols: { name: string }[] = [];
    try {
      cols = prepared.columns().map(({ name }: { name: string }) => ({ name }));
    } catch {
      // a statement without rows
    }
    if (cols.length > 0) {
      const rows = prepared.raw(true).all(bound) as unknown[][];
      return { cols, rows: rows.map((r) => r.map(toValue)), affected_row_count: 0, last_insert_rowid: null };
    }
    const { changes, lastInsertRowid } = prepared.run(bound);
    return {
      cols: [],
      rows: [],
      affected_row_count: Number(changes),
      last_insert_rowid: String(lastInsertRowid),
    };
  }

  answer(ask: Ask): unknown {
    switch (ask.type) {
      case 'execute':
        return { type: 'execute', result: this.execute(ask.stmt) };
      case 'batch':
        return { type: 'batch', result: this.batch(ask.batch.steps) };
      case 'sequence':
        this.db.exec(ask.sql ?? this.texts.get(ask.sql_id!)!);
        return { type: 'sequence' };
      case 'store_sql':
        this.texts.set(ask.sql_id, ask.sql);
        return { type: 'store_sql' };
      case 'close_sql':
        this.texts.delete(ask.sql_id);
        return { type: 'close_sql' };
      case 'get_autocommit':
        return { type: 'get_autocommit', is_autocommit: !this.db.inTransaction };
      case 'close':
        return { type: 'close' };
    }
  }

  private batch(steps: { condition?: Condition; stmt: Stmt }[]) {
    const step_results: unknown[] = [];
    const step_errors: unknown[] = [];
    const holds = (c: Condition): boolean => {
      if (c.type === 'ok') return step_results[c.step] != null;
      if (c.type === 'error') return step_errors[c.step] != null;
      if (c.type === 'not') return !holds(c.cond);
      if (c.type === 'and') return c.conds.every(holds);
      if (c.type === 'or') return c.conds.some(holds);
      return !this.db.inTransaction;
    };
    for (const { condition, stmt } of steps) {
      let [result, error]: [unknown, unknown] = [null, null];
      try {
        if (!condition || holds(condition)) result = this.execute(stmt);
      } catch (e) {
        error = wrong(e);
      }
      step_results.push(result);
      step_errors.push(error);
    }
    return { step_results, step_errors };
  }
}

const wrong = (e: unknown) => ({
  message: (e as Error).message,
  code: (e as { code?: string }).code ?? 'UNKNOWN',
});

const bodyOf = async (request: IncomingMessage) => {
  const parts: Buffer[] = [];
  for await (const part of request) parts.push(part as Buffer);
  return JSON.parse(Buffer.concat(parts).toString());
};

export class StandIn {
  private server: Server | null = null;
  private readonly sockets = new Set<Socket>();
  private streams = new Map<string, Stream>();
  private port = 0;
  /** Statements seen, for the tests to look at. */
  readonly seen: string[] = [];
  /** Asked for each request once it has been done: true cuts the connection instead of answering. */
  cut: (statements: string[]) => boolean = () => false;

  constructor(private readonly file: string) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Starts it, or starts it again at the same address. */
  async start(): Promise<void> {
    this.server = createServer(async (request, response) => {
      if (request.url !== '/v2/pipeline') {
        response.writeHead(404).end();
        return;
      }
      const { baton, requests } = (await bodyOf(request)) as { baton?: string; requests: Ask[] };
      const stream = baton ? this.streams.get(baton) : new Stream(this.file);
      if (!stream) {
        response
          .writeHead(400)
          .end(JSON.stringify({ message: 'The stream has expired', code: 'STREAM_EXPIRED' }));
        return;
      }
      if (baton) this.streams.delete(baton);
      const statements: string[] = [];
      const results = requests.map((ask) => {
        if (ask.type === 'execute') statements.push(stream.textOf(ask.stmt));
        if (ask.type === 'batch') statements.push(...ask.batch.steps.map((s) => stream.textOf(s.stmt)));
        try {
          return { type: 'ok', response: stream.answer(ask) };
        } catch (e) {
          return { type: 'error', error: wrong(e) };
        }
      });
      this.seen.push(...statements);
      let next: string | null = null;
      if (requests.some((r) => r.type === 'close')) stream.end();
      else {
        next = randomUUID();
        this.streams.set(next, stream);
      }
      if (this.cut(statements)) {
        request.socket.destroy();
        // the client can never name this stream again; a server lets go of it after a while
        setTimeout(() => this.expire(next), EXPIRY_MS);
        return;
      }
      response.writeHead(200, { 'Content-Type': 'application/json' });
      response.end(JSON.stringify({ baton: next, base_url: null, results }));
    });
    this.server.on('connection', (socket) => {
      this.sockets.add(socket);
      socket.on('close', () => this.sockets.delete(socket));
    });
    await new Promise<void>((resolve) => this.server!.listen(this.port, '127.0.0.1', resolve));
    this.port = (this.server.address() as AddressInfo).port;
  }

  private expire(baton: string | null): void {
    const stream = baton && this.streams.get(baton);
    if (!stream) return;
    stream.end();
    this.streams.delete(baton);
  }

  /** Goes away at once, and lets go of whatever clients had begun. */
  async stop(): Promise<void> {
    for (const stream of this.streams.values()) stream.end();
    this.streams = new Map();
    const closed = new Promise((resolve) => this.server?.close(resolve));
    for (const socket of this.sockets) socket.destroy();
    await closed;
  }
}

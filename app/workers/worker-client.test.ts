import { beforeEach, describe, expect, it, vi } from 'vitest';
import { type Locked, latestOnly, type Reply, StoppedError, serve, WorkerClient } from './worker-client';

type Q = {
  double: { ask: { n: number }; answer: number };
  greet: { ask: { name: string }; answer: string };
  open: { ask: { id: string }; answer: null };
  shut: { ask: { id: string }; answer: null };
};
interface Message {
  id: number;
  name: string;
  ask: unknown;
  stop?: number;
}

/** Workers that do nothing by themselves: the test answers for them. The last one is the one in use. */
function setUp() {
  const workers: {
    sent: Message[];
    lock: string | null;
    onmessage: ((event: { data: Reply | Locked }) => void) | null;
    onerror: (() => void) | null;
    terminate: ReturnType<typeof vi.fn>;
  }[] = [];
  const spawn = () => {
    const sent: Message[] = [];
    const worker = {
      sent,
      lock: null as string | null,
      onmessage: null,
      onerror: null,
      terminate: vi.fn(),
      postMessage: (message: Message | { lock: string }) => {
        if ('lock' in message) worker.lock = message.lock;
        else sent.push(message);
      },
    };
    workers.push(worker);
    return worker as unknown as Worker;
  };
  const client = new WorkerClient<Q>(spawn, 'Too much for the memory.', {
    keep: 'open',
    forget: 'shut',
    key: (ask) => (ask as { id: string }).id,
  });
  const last = () => workers[workers.length - 1];
  const reply = (data: Reply) => last().onmessage?.({ data });
  return { client, workers, last, reply };
}
/** Hears what becomes of a promise without waiting for it. */
const outcome = (answer: Promise<unknown>) =>
  answer.then(
    (value) => value,
    (error: Error) => `${error.name}: ${error.message}`,
  );

beforeEach(() => {
  vi.useRealTimers();
});

describe('questions', () => {
  it('get each its own answer, in whatever order they come', async () => {
    const { client, last, reply } = setUp();
    const four = client.ask('double', { n: 2 });
    const hello = client.ask('greet', { name: 'crew' });
    expect(last().sent.map((s) => [s.name, s.ask])).toEqual([
      ['double', { n: 2 }],
      ['greet', { name: 'crew' }],
    ]);
    reply({ id: hello.id, answer: 'Hello, crew' });
    reply({ id: four.id, answer: 4 });
    expect(await four).toBe(4);
    expect(await hello).toBe('Hello, crew');
  });

  it('hear the stages of their own, and nothing after the answer', async () => {
    const { client, reply } = setUp();
    const stages: string[] = [];
    const answer = client.ask('double', { n: 1 }, (text) => stages.push(text));
    const other = client.ask('double', { n: 9 });
    reply({ id: answer.id, stage: 'Reading' });
    reply({ id: other.id, stage: 'of another' });
    reply({ id: answer.id, answer: 2 });
    reply({ id: answer.id, stage: 'too late' });
    await answer;
    expect(stages).toEqual(['Reading']);
  });

  it('hear what went wrong, in words', async () => {
    const { client, reply } = setUp();
    const answer = client.ask('double', { n: 1 });
    reply({ id: answer.id, error: 'It is damaged.' });
    await expect(answer).rejects.toThrow('It is damaged.');
  });
});

describe('a worker that dies', () => {
  it('is replaced, and what it was asked is asked again', async () => {
    const { client, workers, last, reply } = setUp();
    const answer = client.ask('double', { n: 2 });
    workers[0].onerror?.();
    expect([workers.length, workers[0].terminate.mock.calls.length]).toEqual([2, 1]);
    expect(last().sent.map((s) => s.name)).toEqual(['double']);
    reply({ id: answer.id, answer: 4 });
    expect(await answer).toBe(4);
    const later = client.ask('greet', { name: 'x' });
    reply({ id: later.id, answer: 'Hello' });
    expect(await later).toBe('Hello');
  });

  it('twice over the same question tells whoever waits, and answers the next', async () => {
    const { client, last, reply } = setUp();
    const answer = outcome(client.ask('double', { n: 2 }));
    last().onerror?.();
    const innocent = client.ask('greet', { name: 'x' });
    last().onerror?.();
    expect(await answer).toBe('Error: Too much for the memory.');
    reply({ id: innocent.id, answer: 'Hello' });
    expect(await innocent).toBe('Hello');
  });

  it('leaves what it held to the one in its place, but not what it was asked to let go', async () => {
    const { client, last, reply } = setUp();
    for (const id of ['a', 'b', 'c']) {
      const open = client.ask('open', { id });
      reply({ id: open.id, answer: null });
      await open;
    }
    reply({ id: client.ask('shut', { id: 'b' }).id, answer: null });
    const answer = client.ask('double', { n: 2 });
    last().onerror?.();
    expect(last().sent.map((s) => [s.name, s.ask])).toEqual([
      ['open', { id: 'a' }],
      ['open', { id: 'c' }],
      ['double', { n: 2 }],
    ]);
    reply({ id: answer.id, answer: 4 });
    expect(await answer).toBe(4);
  });

  it('while nobody waits is not missed at the next question', async () => {
    const { client, workers, reply } = setUp();
    workers[0].onerror?.();
    const answer = client.ask('double', { n: 1 });
    reply({ id: answer.id, answer: 2 });
    expect(await answer).toBe(2);
  });

  it('without a word is seen by the lock that it held; one that is slow to start is not taken for dead', async () => {
    /** As the browser has them: who asks first has it, the others wait. */
    const waiting = new Map<string, (() => void)[]>();
    vi.stubGlobal('navigator', {
      locks: {
        request: async (name: string, run: () => void) => {
          const queue = waiting.get(name) ?? [];
          waiting.set(name, [...queue, run]);
          if (queue.length === 0) run();
        },
      },
    });
    const { client, workers, last, reply } = setUp();
    const answer = client.ask('double', { n: 2 });
    await new Promise((resolve) => setTimeout(resolve, 30));
    expect(workers).toHaveLength(1);
    const { lock } = last();
    waiting.set(lock!, [() => undefined]);
    last().onmessage?.({ data: { locked: lock! } });
    expect([workers.length, waiting.get(lock!)?.length]).toEqual([1, 2]);
    // it is gone, and the lock goes to the next one
    waiting.get(lock!)![1]();
    expect(workers).toHaveLength(2);
    reply({ id: answer.id, answer: 4 });
    expect(await answer).toBe(4);
    vi.unstubAllGlobals();
  });
});

describe('a job', () => {
  it('stops by itself when it can, and the worker goes on with the others', async () => {
    vi.useFakeTimers();
    const { client, workers, last, reply } = setUp();
    const job = client.ask('double', { n: 1 });
    const other = client.ask('greet', { name: 'x' });
    const stopped = outcome(job);
    job.stop();
    expect(await stopped).toBe('StoppedError: Stopped.');
    expect(last().sent.at(-1)?.stop).toBe(job.id);
    reply({ id: job.id, stopped: true });
    await vi.advanceTimersByTimeAsync(5000);
    expect(workers).toHaveLength(1);
    reply({ id: other.id, answer: 'Hello' });
    expect(await other).toBe('Hello');
  });

  it('that does not stop by itself is ended with its worker, and others are asked again', async () => {
    vi.useFakeTimers();
    const { client, workers, last, reply } = setUp();
    const job = client.ask('double', { n: 1 });
    const other = client.ask('greet', { name: 'x' });
    const stopped = outcome(job);
    job.stop();
    await vi.advanceTimersByTimeAsync(5000);
    expect(await stopped).toBe('StoppedError: Stopped.');
    expect(workers).toHaveLength(2);
    expect(last().sent.map((s) => s.name)).toEqual(['greet']);
    reply({ id: other.id, answer: 'Hello' });
    expect(await other).toBe('Hello');
  });

  it('in the worker breathes between its steps, so that a wish to stop reaches it', async () => {
    const posted: Reply[] = [];
    const self_ = { postMessage: (reply: Reply) => posted.push(reply), onmessage: null as unknown };
    vi.stubGlobal('self', self_);
    let steps = 0;
    serve<{ count: { ask: number; answer: number } }>(
      {
        async count(n, { stage, breathe }) {
          for (; steps < n; steps++) {
            stage(`${steps}`);
            await breathe();
          }
          return steps;
        },
      },
      (error) => String(error),
    );
    const send = (data: unknown) => (self_.onmessage as (event: { data: unknown }) => void)({ data });
    send({ id: 1, name: 'count', ask: 1_000_000 });
    await new Promise((resolve) => setTimeout(resolve, 20));
    send({ stop: 1 });
    await vi.waitFor(() => expect(posted.at(-1)).toEqual({ id: 1, stopped: true }));
    expect(steps).toBeLessThan(1000);
    steps = 0;
    send({ id: 2, name: 'count', ask: 3 });
    await vi.waitFor(() => expect(posted.at(-1)).toEqual({ id: 2, answer: 3 }));
    vi.unstubAllGlobals();
  });
});

describe('closing', () => {
  it('ends the worker and tells everyone who waits; later questions fail at once', async () => {
    const { client, workers } = setUp();
    const answer = outcome(client.ask('double', { n: 1 }));
    client.close('The picture was closed.');
    expect(await answer).toBe('StoppedError: The picture was closed.');
    expect(workers[0].terminate).toHaveBeenCalledOnce();
    await expect(client.ask('double', { n: 1 })).rejects.toThrow(StoppedError);
  });
});

describe('of many questions', () => {
  const noise = (error: Error) => {
    throw error;
  };

  it('runs the first and then only the newest', async () => {
    const asked: number[] = [];
    const done: number[] = [];
    const finish: (() => void)[] = [];
    const ask = latestOnly(
      (n: number) => {
        asked.push(n);
        return new Promise<number>((resolve) => finish.push(() => resolve(n * 10)));
      },
      (answer) => done.push(answer),
      noise,
    );
    for (const n of [1, 2, 3, 4]) ask(n);
    expect(asked).toEqual([1]);
    finish[0]();
    await vi.waitFor(() => expect(asked).toEqual([1, 4]));
    finish[1]();
    await vi.waitFor(() => expect(done).toEqual([10, 40]));
  });

  it('tells what failed and goes on with the newest; what was stopped on purpose is not told', async () => {
    const done: number[] = [];
    const told: string[] = [];
    const ask = latestOnly(
      (n: number) =>
        n === 1
          ? Promise.reject(new Error('damaged'))
          : n === 2
            ? Promise.reject(new StoppedError('closed'))
            : Promise.resolve(n),
      (answer: number) => done.push(answer),
      (error) => told.push(error.message),
    );
    ask(1);
    ask(2);
    await vi.waitFor(() => expect(told).toEqual(['damaged']));
    ask(3);
    await vi.waitFor(() => expect(done).toEqual([3]));
    expect(told).toEqual(['damaged']);
  });
});

import { expect, it, vi } from 'vitest';
import { latestOnly, type Reply, WorkerClient } from './worker-client';

type Q = {
  double: { ask: { n: number }; answer: number };
  greet: { ask: { name: string }; answer: string };
};

/** A worker that does nothing by itself: the test answers for it. */
function setUp() {
  const sent: { id: number; name: string; ask: unknown }[] = [];
  const worker = {
    onmessage: null as ((event: { data: Reply }) => void) | null,
    onerror: null as (() => void) | null,
    postMessage: (message: (typeof sent)[number]) => sent.push(message),
    terminate: vi.fn(),
  };
  const client = new WorkerClient<Q>(worker as unknown as Worker, 'Too much for the memory.');
  const reply = (data: Reply) => worker.onmessage?.({ data });
  return { client, worker, sent, reply };
}

it('gives each question its own answer, in whatever order they come', async () => {
  const { client, sent, reply } = setUp();
  const four = client.ask('double', { n: 2 });
  const hello = client.ask('greet', { name: 'crew' });
  expect(sent.map((s) => [s.name, s.ask])).toEqual([
    ['double', { n: 2 }],
    ['greet', { name: 'crew' }],
  ]);
  reply({ id: sent[1].id, answer: 'Hello, crew' });
  reply({ id: sent[0].id, answer: 4 });
  expect(await four).toBe(4);
  expect(await hello).toBe('Hello, crew');
});

it('tells the stages of the one that asked, and nothing after its answer', async () => {
  const { client, sent, reply } = setUp();
  const stages: string[] = [];
  const answer = client.ask('double', { n: 1 }, (text) => stages.push(text));
  client.ask('double', { n: 9 });
  reply({ id: sent[0].id, stage: 'Reading' });
  reply({ id: sent[1].id, stage: 'of another' });
  reply({ id: sent[0].id, answer: 2 });
  reply({ id: sent[0].id, stage: 'too late' });
  await answer;
  expect(stages).toEqual(['Reading']);
});

it('passes on what went wrong, in words', async () => {
  const { client, sent, reply } = setUp();
  const answer = client.ask('double', { n: 1 });
  reply({ id: sent[0].id, error: 'It is damaged.' });
  await expect(answer).rejects.toThrow('It is damaged.');
});

it('when the worker dies, tells everyone who waits', async () => {
  const { client, worker } = setUp();
  const answers = [client.ask('double', { n: 1 }), client.ask('greet', { name: 'x' })];
  worker.onerror?.();
  for (const answer of answers) await expect(answer).rejects.toThrow('Too much for the memory.');
});

it('closing ends the worker, and late answers mean nothing', async () => {
  const { client, worker, sent, reply } = setUp();
  let heard = false;
  client.ask('double', { n: 1 }).then(() => {
    heard = true;
  });
  client.close();
  reply({ id: sent[0].id, answer: 2 });
  await Promise.resolve();
  expect(worker.terminate).toHaveBeenCalledOnce();
  expect(heard).toBe(false);
});

it('closing with a reason tells everyone who waits', async () => {
  const { client } = setUp();
  const answer = client.ask('double', { n: 1 });
  client.close('The picture was closed.');
  await expect(answer).rejects.toThrow('The picture was closed.');
});

it('of many questions runs the first and then only the newest', async () => {
  const asked: number[] = [];
  const done: number[] = [];
  const finish: (() => void)[] = [];
  const ask = latestOnly(
    (n: number) => {
      asked.push(n);
      return new Promise<number>((resolve) => finish.push(() => resolve(n * 10)));
    },
    (answer) => done.push(answer),
  );
  for (const n of [1, 2, 3, 4]) ask(n);
  expect(asked).toEqual([1]);
  finish[0]();
  await vi.waitFor(() => expect(asked).toEqual([1, 4]));
  finish[1]();
  await vi.waitFor(() => expect(done).toEqual([10, 40]));
});

it('goes on with the newest after one that failed', async () => {
  const done: number[] = [];
  const ask = latestOnly(
    (n: number) => (n === 1 ? Promise.reject(new Error('closed')) : Promise.resolve(n)),
    (answer: number) => done.push(answer),
  );
  ask(1);
  ask(2);
  await vi.waitFor(() => expect(done).toEqual([2]));
});

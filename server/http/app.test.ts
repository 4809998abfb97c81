import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import express, { type RequestHandler } from 'express';
import { afterEach, expect, it, vi } from 'vitest';
import { inTime, inWords, notTooOften } from './app.ts';

const servers: Server[] = [];
afterEach(() => {
  for (const server of servers.splice(0)) server.close();
});

async function serve(...handlers: RequestHandler[]): Promise<() => Promise<[number, string]>> {
  const server = createServer(
    express()
      .use(...handlers)
      .use(inWords),
  );
  servers.push(server);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  return async () => {
    const response = await fetch(`http://127.0.0.1:${port}/`, {
      // a connection that ends with its answer is not used again
      headers: { Connection: 'close' },
    });
    return [response.status, await response.text()];
  };
}
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

it('one who asks too often is answered with words in place of work, after a pause, and again a little later', async () => {
  const work = vi.fn<RequestHandler>((_, response) => void response.send('done'));
  const ask = await serve(notTooOften(3, 4000), work);
  const answers = [await ask(), await ask(), await ask()];
  const start = performance.now();
  // who asks again at each answer is not answered more often than others
  answers.push(...(await Promise.all([ask(), ask()])));
  expect(performance.now() - start).toBeGreaterThan(900);
  expect(answers.map(([status]) => status)).toEqual([200, 200, 200, 429, 429]);
  expect(answers[4]![1]).toMatch(/more than Papillon can answer/);
  expect(work).toHaveBeenCalledTimes(3);
  await wait(4000);
  expect(await ask()).toEqual([200, 'done']);
});

it('what takes too long is given up, and what comes of it later hurts nobody', async () => {
  let later: unknown = null;
  const ask = await serve(inTime(100), (_request, response, next) => {
    setTimeout(() => {
      try {
        response.setHeader('X-Late', '1');
      } catch (error) {
        later = error;
        next(error);
      }
    }, 250);
  });
  expect(await ask()).toEqual([503, expect.stringMatching(/took too long/)]);
  await vi.waitFor(() => expect(later).toBeInstanceOf(Error));
  expect((await ask())[0]).toBe(503);
});

it('a mistake beside the routes is reported in words, with its mark and not its text', async () => {
  const ask = await serve(() => {
    throw new TypeError('secret is not a function');
  });
  const [status, text] = await ask();
  expect([status, text]).toEqual([500, expect.stringMatching(/Error [0-9a-f]{6} is in the server log/)]);
  expect(text).not.toContain('secret');
});

import { expect, it } from 'vitest';
import { inSlices } from './slices';

it('runs to the end, yields to other tasks, and stops when aborted', async () => {
  let steps = 0;
  function* work(n: number) {
    for (let i = 0; i < n; i++) {
      for (const until = performance.now() + 0.05; performance.now() < until; );
      steps++;
      yield;
    }
  }
  let others = 0;
  const timer = setInterval(() => others++, 1);
  expect(await inSlices(work(2000), new AbortController().signal)).toBe(true);
  expect(steps).toBe(2000);
  expect(others).toBeGreaterThan(1);
  const stop = new AbortController();
  const stopped = inSlices(work(100_000), stop.signal);
  setTimeout(() => stop.abort(), 5);
  expect(await stopped).toBe(false);
  expect(steps).toBeLessThan(50_000);
  clearInterval(timer);
});

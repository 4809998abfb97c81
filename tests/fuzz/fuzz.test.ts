import { expect, it } from 'vitest';
import { watched } from './watch.ts';

/** Far more than any of it takes: a slow machine is not to be taken for a file that never ends. */
const LIMIT_MS = 20_000;

it('damaged files of every format and pictures of every kind open or are refused with a reason', async () => {
  const { files, opened, refused, peakMB } = await watched({ files: 1500, seed: 20 }, LIMIT_MS);
  expect(opened + refused).toBe(files);
  // a fuzzer that breaks everything, or nothing, would test nothing
  expect(opened).toBeGreaterThan(150);
  expect(refused).toBeGreaterThan(150);
  expect(peakMB).toBeLessThan(700);
}, 300_000);

it('files that are made to take for ever end', async () => {
  const { files, opened, refused, peakMB } = await watched({ shapes: 40_000 }, LIMIT_MS);
  expect(opened + refused).toBe(files);
  expect(files).toBeGreaterThan(2000);
  expect(peakMB).toBeLessThan(900);
}, 600_000);

it('damaged PDFs have their inks read and changed, or are refused with a reason', async () => {
  const { files, opened, refused } = await watched({ kind: 'PDF', files: 400, seed: 3 }, LIMIT_MS);
  expect(opened + refused).toBe(files);
  expect(opened).toBeGreaterThan(50);
  expect(refused).toBeGreaterThan(20);
}, 300_000);

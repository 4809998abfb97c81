import { expect, it } from 'vitest';
import { fuzz } from './run.ts';

it('3,000 damaged files of every format open or are refused with a reason', async () => {
  const report = await fuzz(3000, 20);
  expect(report.opened + report.refused).toBe(3000);
  // a fuzzer that breaks everything, or nothing, would test nothing
  expect(report.opened).toBeGreaterThan(300);
  expect(report.refused).toBeGreaterThan(300);
});

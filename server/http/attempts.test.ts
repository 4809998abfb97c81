import { expect, it } from 'vitest';
import { Attempts } from './attempts.ts';

it('each wrong try of an address makes its next wait longer, up to a minute, and the right one ends it', () => {
  let now = 0;
  const attempts = new Attempts(() => now);
  const waits: number[] = [];
  for (let i = 0; i < 12; i++) {
    attempts.failed('10.0.0.1');
    waits.push(attempts.waitFor('10.0.0.1'));
    now += waits.at(-1)!;
  }
  expect(waits.slice(0, 5)).toEqual([0, 0, 1000, 2000, 4000]);
  expect(waits.at(-1)).toBe(60_000);
  expect(attempts.waitFor('10.0.0.2')).toBe(0);
  attempts.failed('10.0.0.1');
  attempts.succeeded('10.0.0.1');
  expect(attempts.waitFor('10.0.0.1')).toBe(0);
  for (let i = 0; i < 9; i++) attempts.failed('10.0.0.1');
  now += 3_600_000;
  expect(attempts.waitFor('10.0.0.1')).toBe(0);
});

it('many addresses that guess make everyone wait a little, but for browsers that were signed in before', () => {
  const attempts = new Attempts(() => 0);
  for (let i = 0; i < 200; i++) attempts.failed(`10.0.${i >> 8}.${i & 255}`);
  expect(attempts.waitFor('192.0.2.1')).toBe(10_000);
  expect(attempts.waitFor('192.0.2.1', 'mine')).toBe(0);
  for (let i = 0; i < 4; i++) attempts.failed('192.0.2.1', 'mine');
  expect(attempts.waitFor('192.0.2.1', 'mine')).toBe(2000);
});

it('a whole network of version 6 is one address, and an address of version 4 in disguise is itself', () => {
  const attempts = new Attempts(() => 0);
  for (let i = 0; i < 4; i++) attempts.failed(`2001:db8:0:1::${i}`);
  expect(attempts.waitFor('2001:db8:0:1:ffff::9')).toBe(2000);
  expect(attempts.waitFor('2001:db8:0:2::1')).toBe(0);
  for (let i = 0; i < 4; i++) attempts.failed('::ffff:192.0.2.7');
  expect(attempts.waitFor('192.0.2.7')).toBe(2000);
  expect(attempts.waitFor('192.0.2.8')).toBe(0);
});

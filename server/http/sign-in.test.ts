import { expect, it } from 'vitest';
import { cookieOf } from './cookies.ts';
import { ownPath, Sessions } from './sign-in.ts';

const HOUR = 3_600_000;

it('a session ends after half a day of nothing, and after a week in any case', () => {
  let now = 0;
  const sessions = new Sessions(() => now);
  const [idle, busy, left] = [sessions.begin(), sessions.begin(), sessions.begin()];
  expect(new Set([idle, busy, left]).size).toBe(3);
  sessions.end(left);
  expect([idle, left, 'guessed', '', undefined].map((t) => sessions.goesOn(t))).toEqual([
    true,
    false,
    false,
    false,
    false,
  ]);
  for (; now < 7 * 24 * HOUR; now += 11 * HOUR) expect(sessions.goesOn(busy)).toBe(true);
  expect([idle, busy].map((t) => sessions.goesOn(t))).toEqual([false, false]);
  // and it does not come back
  now = 0;
  expect(sessions.goesOn(busy)).toBe(false);
});

it('no more sessions are held than people could need; the oldest goes', () => {
  const sessions = new Sessions();
  const first = sessions.begin();
  const others = Array.from({ length: 1000 }, () => sessions.begin());
  expect(sessions.goesOn(first)).toBe(false);
  expect(others.every((t) => sessions.goesOn(t))).toBe(true);
});

it('the cookie is found by its whole name', () => {
  expect(cookieOf('a=1; papillon-session=x=y; b=2', 'papillon-session')).toBe('x=y');
  expect(cookieOf('not-papillon-session=x', 'papillon-session')).toBeUndefined();
  expect(cookieOf(undefined, 'papillon-session')).toBeUndefined();
});

it('signing in leads to a path of this server alone', () => {
  expect(['/gather?q=1', '/a%20b'].map(ownPath)).toEqual(['/gather?q=1', '/a%20b']);
  for (const to of [
    '//evil.example',
    '/\\evil.example',
    '/\t/evil.example',
    'https://evil.example',
    '/.//evil.example',
    '/a/..//evil.example',
    'javascript:alert(1)',
    5,
    undefined,
    `/${'a'.repeat(3000)}`,
  ])
    expect(ownPath(to)).toBe('/');
});

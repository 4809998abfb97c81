import { expect, it } from 'vitest';
import { when } from './when';

it.each([
  [new Date(2026, 10, 24, 9, 12), 'today 09:12'],
  [new Date(2026, 10, 23, 23, 59), 'yesterday'],
  [new Date(2026, 10, 20, 8, 0), 'Friday'],
  [new Date(2026, 10, 3, 8, 0), '3 November'],
  [new Date(2025, 10, 3, 8, 0), '3 November 2025'],
])('%s', (date, text) => {
  expect(when(date, new Date(2026, 10, 24, 10, 0))).toBe(text);
});

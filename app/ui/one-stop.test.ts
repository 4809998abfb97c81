import { describe, expect, it } from 'vitest';
import { nearestAcross } from './one-stop';

describe('up and down in a list', () => {
  const grid = [0, 1, 2, 3, 4].map((i) => ({ x: 40 * (i % 3), y: 40 * Math.floor(i / 3) }));
  it('lead to what lies straight across, else to the nearest of the next line', () => {
    expect(nearestAcross(grid, 1, true)).toBe(4);
    expect(nearestAcross(grid, 4, false)).toBe(1);
    expect(nearestAcross(grid, 2, true)).toBe(4);
  });
  it('lead nowhere in a single line, nor past the ends', () => {
    expect(nearestAcross(grid.slice(0, 3), 1, true)).toBe(-1);
    expect(nearestAcross(grid, 0, false)).toBe(-1);
    expect(nearestAcross([], 0, true)).toBe(-1);
  });
});

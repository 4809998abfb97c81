import { describe, expect, it } from 'vitest';
import { Steps } from './steps';

describe('steps', () => {
  it('go back and on one at a time', () => {
    const steps = new Steps<number>();
    steps.note(1, 0);
    steps.note(2, 1000);
    expect([steps.canGoBack, steps.canGoOn]).toEqual([true, false]);
    expect(steps.back(3, 2000)).toBe(2);
    expect(steps.back(2, 2000)).toBe(1);
    expect([steps.back(1, 2000), steps.canGoBack]).toEqual([undefined, false]);
    expect(steps.on(1, 2000)).toBe(2);
    expect(steps.on(2, 2000)).toBe(3);
    expect([steps.on(3, 2000), steps.canGoOn]).toEqual([undefined, false]);
  });

  it('a drag is one step, and a new change ends the way on', () => {
    const steps = new Steps<number>();
    for (let i = 0; i < 50; i++) steps.note(i, 1000 + i * 16);
    expect(steps.back(50, 2000)).toBe(0);
    expect(steps.canGoBack).toBe(false);
    // what follows a step back at once is a step of its own
    steps.note(0, 1850);
    expect(steps.canGoOn).toBe(false);
    expect(steps.back(7, 2000)).toBe(0);
  });
});

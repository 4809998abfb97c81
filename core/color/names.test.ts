import { describe, expect, it } from 'vitest';
import { coated } from '../testing.ts';
import { fromCss, renewNames, suggestNames } from './index.ts';

const color = (css: string) => {
  const read = fromCss(css);
  if (!read) throw new Error(css);
  return read.color;
};
const name = (css: string) => suggestNames([color(css)], coated)[0];

describe('suggested names', () => {
  // the words CSS Color 4 gives to these values; where a plain trade word is commoner, that
  it.each([
    ['red', /\bred$/],
    ['maroon', /red|oxblood/],
    ['orange', /orange|amber/],
    ['saddlebrown', /brown/],
    ['yellow', /yellow/],
    ['olive', /olive|khaki/],
    ['green', /green/],
    ['teal', /teal/],
    ['turquoise', /turquoise/],
    ['skyblue', /sky blue/],
    ['blue', /\bblue$/],
    ['navy', /navy/],
    ['slategray', /slate/],
    ['indigo', /indigo|violet|purple/],
    ['lavender', /lavender|white|grey/],
    ['purple', /purple/],
    ['magenta', /magenta/],
    ['pink', /pink/],
    ['gray', /grey$/],
    ['white', /^white$/],
    ['black', /^black$/],
  ])('%s', (css, words) => {
    expect(name(css)).toMatch(words);
  });

  it('tell depth and strength', () => {
    expect(name('oklch(0.36 0.07 200)')).toBe('deep teal');
    expect(name('oklch(0.9 0.012 80)')).toBe('pale warm grey');
    expect(name('oklch(0.6 0.07 200)')).toBe('muted teal');
  });

  it('are unique, also among names given already, in any case', () => {
    const many = Array.from({ length: 40 }, () => color('#2f7d6b'));
    const names = suggestNames(many, coated, ['Teal', 'sea green']);
    expect(new Set(names).size).toBe(40);
    expect(names).not.toContain('sea green');
  });

  it('are the same each time and need no colour inside sRGB', () => {
    const wide = color('color(display-p3 0 1 0)');
    expect(suggestNames([wide], coated)).toEqual(suggestNames([wide], coated));
    expect(suggestNames([wide], coated)[0]).toMatch(/green/);
  });

  it('lose the numbers that kept them clear of names which are gone; typed ones stay', () => {
    const colors = ['#2f7d6b', '#2f7d6b', '#b3262b', '#8a5cc2'].map(color);
    const before = suggestNames(colors.slice(0, 2), coated);
    const now = suggestNames(colors.slice(0, 2), coated, before);
    const typed = ['Deck 2', 'Route 66'];
    expect(renewNames([...now, ...typed], colors, coated)).toEqual([...before, ...typed]);
  });
});

import { colorsNamed } from 'culori';
import { describe, expect, it } from 'vitest';
import { screenOnly } from './condition.ts';
import type { Lab } from './model.ts';
import { fromRgb8, toLab } from './spaces.ts';
import { colorWords, findByWords } from './words.ts';

// the colours of CSS Color 4 by their names, which most call so
const names = Object.keys(colorsNamed);
const labs = names.map((name): Lab => {
  const n = colorsNamed[name as keyof typeof colorsNamed];
  return toLab(fromRgb8(n >> 16, (n >> 8) & 255, n & 255), screenOnly);
});
const found = (words: string) => findByWords(labs, colorWords(words)!).map((place) => names[place]!);

describe('colours in words', () => {
  // but for those that are as vivid as their dark or pale kin is not: darkorange, darkviolet, deeppink, palegreen
  it.each([
    'dark blue',
    'dark green',
    'dark red',
    'dark magenta',
    'light green',
    'light pink',
    'light grey',
    'light salmon',
    'pale turquoise',
    'red',
    'orange',
    'yellow',
    'green',
    'purple',
    'pink',
    'magenta',
    'olive',
    'teal',
    'turquoise',
    'navy',
    'maroon',
    'beige',
    'tan',
    'gold',
    'lavender',
    'white',
    'black',
  ])('“%s” finds the colour of CSS that is called so among the first', (words) => {
    expect(found(words).slice(0, 9)).toContain(words.replaceAll(' ', ''));
  });

  it('in any order, with commas, and with both spellings', () => {
    expect(found('blue, dark')).toEqual(found('dark blue'));
    expect(found('grayish green')).toEqual(found('greyish green'));
  });

  it('mean a region, not a point: no blue among the greens, no grey among the vivid', () => {
    expect(found('green').filter((n) => /blue|red|pink|gr[ae]y|purple/.test(n))).toEqual([]);
    expect(found('vivid red').filter((n) => /gr[ae]y|blue|white|pink/.test(n))).toEqual([]);
    expect(found('blue')).toEqual(expect.arrayContaining(['blue', 'royalblue', 'steelblue']));
    expect(found('pale yellow')).toContain('lightyellow');
    expect(found('pale greenish blue')).toContain('lightblue');
    expect(found('bluish green')).toContain('mediumseagreen');
    expect(found('greyish green')).toContain('darkseagreen');
    expect(found('very dark red').length).toBeGreaterThan(0);
  });

  it('are null where a word is unknown, or no word is a colour', () => {
    for (const text of ['', 'dark', 'very', 'harbour blue', 'blue very', '204', 'red 2'])
      expect(colorWords(text)).toBeNull();
  });
});

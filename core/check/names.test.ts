import { describe, expect, it } from 'vitest';
import { libraryOf } from '../testing.ts';
import { fixed, run } from './testing.ts';

describe('names', () => {
  const of = async (...names: [string, string][]) => run('names', libraryOf('x', { '': names }));
  it.each<[string, [string, string][], RegExp, string | null]>([
    [
      'one name on two colours',
      [
        ['Red', '#f00'],
        ['Red', '#c00'],
      ],
      /One name on two/,
      'Red 2',
    ],
    [
      'one colour under two names',
      [
        ['Red', '#f00'],
        ['Crimson', '#f00'],
      ],
      /One colour under two/,
      null,
    ],
    ['blanks at the ends', [['Red ', '#f00']], /Blanks/, 'Red'],
    ['a Cyrillic letter among Latin ones', [['Hаrbour', '#f00']], /no Latin letter/, 'Harbour'],
    ['a sign that is not seen', [['Har\u200bbour', '#f00']], /not seen/, 'Harbour'],
    [
      'letters that look alike',
      [
        ['Hull I', '#f00'],
        ['Hull l', '#00f'],
      ],
      /look alike/,
      null,
    ],
  ])('%s', async (_, names, says, renamed) => {
    const found = await of(...names);
    expect(found.findings[0]?.says).toMatch(says);
    if (renamed !== null) expect(found.findings[0]!.fixes[0]!.label).toContain(`“${renamed}”`);
  });

  it('a technical name that differs by case alone comes first', async () => {
    const library = libraryOf('x', {
      '': [
        ['cutting', 'C 0 M 100 Y 0 K 0'],
        ['Red ', '#f00'],
      ],
    });
    library.groups[0].swatches[0].kind = 'technical';
    const found = await run('names', library);
    expect(found.findings.map((f) => f.figure)).toEqual(['case', 'blanks']);
    expect(fixed(library, found).groups[0].swatches[0].name).toBe('Cutting');
  });

  it('leaves names in other scripts alone', async () => {
    expect((await of(['Гавань', '#f00'], ['قارب الليل', '#0f0'], ['Λιμάνι', '#00f'])).total).toBe(0);
  });
});

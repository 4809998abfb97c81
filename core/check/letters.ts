/**
 * Greek and Cyrillic letters that look like Latin ones in most typefaces: a part of Unicode's confusables (UTS #39,
 * confusables.txt), the letters of one to one; typed from memory of the table.
 */
const LATIN: Record<string, string> = {
  ...{
    А: 'A',
    В: 'B',
    С: 'C',
    Е: 'E',
    Н: 'H',
    І: 'I',
    Ј: 'J',
    К: 'K',
    М: 'M',
    О: 'O',
    Р: 'P',
    Ѕ: 'S',
    Т: 'T',
    Х: 'X',
    Ү: 'Y',
  },
  ...{
    а: 'a',
    с: 'c',
    е: 'e',
    һ: 'h',
    і: 'i',
    ј: 'j',
    о: 'o',
    р: 'p',
    ѕ: 's',
    х: 'x',
    у: 'y',
    ԁ: 'd',
    ԛ: 'q',
    ԝ: 'w',
  },
  ...{
    Α: 'A',
    Β: 'B',
    Ε: 'E',
    Ζ: 'Z',
    Η: 'H',
    Ι: 'I',
    Κ: 'K',
    Μ: 'M',
    Ν: 'N',
    Ο: 'O',
    Ρ: 'P',
    Τ: 'T',
    Υ: 'Y',
    Χ: 'X',
  },
  ...{ ο: 'o', ν: 'v', α: 'a', ι: 'i', ρ: 'p' },
};
/** Signs nobody sees, and blanks that do not look it. */
const UNSEEN = /[\u00ad\u200b-\u200f\u2060\ufeff]/g;
const BLANKS = /[\u00a0\u2000-\u200a\u202f\u205f\u3000]/g;

/** A letter that looks Latin and is not, among Latin ones; with the name in Latin letters. Null when there is none. */
export function lookAlikeLetters(name: string): { letter: string; latin: string } | null {
  const unseen = name.match(UNSEEN);
  // joiners belong to scripts that join
  if (unseen && !/[\p{Script=Arabic}\p{Script=Devanagari}\p{Emoji_Presentation}]/u.test(name))
    return { letter: 'A sign that is not seen', latin: name.replace(UNSEEN, '') };
  const odd = [...name].find((c) => c in LATIN);
  if (!odd) return null;
  const latin = [...name].map((c) => LATIN[c] ?? c).join('');
  // a name all in Greek or Cyrillic is a name in Greek or Cyrillic
  if (!/\p{Script=Latin}/u.test(name) || /[\p{Script=Greek}\p{Script=Cyrillic}]/u.test(latin)) return null;
  return { letter: `“${odd}”`, latin };
}

/** What is left of a name when everything that looks alike is made the same. */
export const skeleton = (name: string): string =>
  [...name.replace(UNSEEN, '').replace(BLANKS, ' ')]
    .map((c) => LATIN[c] ?? c)
    .join('')
    .replace(/[Il|]/g, '1')
    .replace(/[oO]/g, '0')
    .toLocaleLowerCase('en');

import bidiOf from 'bidi-js';

/** Writing that has fonts of its own beside those of the app. */
export const SCRIPTS = {
  // letters of Latin that go beyond western Europe
  'latin-ext': /[\u0100-\u1fff\u2000-\u2bff\ua720-\ua7ff]/u,
  vietnamese: /[\u0300-\u036f\u1ea0-\u1ef9₫]/u,
  greek: /\p{Script=Greek}/u,
  cyrillic: /\p{Script=Cyrillic}/u,
  'cyrillic-ext': /\p{Script=Cyrillic}/u,
  hebrew: /\p{Script=Hebrew}/u,
  arabic: /\p{Script_Extensions=Arabic}/u,
  devanagari: /\p{Script_Extensions=Devanagari}/u,
  thai: /\p{Script=Thai}/u,
  japanese:
    /[\p{Script_Extensions=Hiragana}\p{Script_Extensions=Katakana}\p{Script_Extensions=Han}\uff00-\uffef]/u,
  chinese: /\p{Script_Extensions=Han}/u,
  korean: /[\p{Script_Extensions=Hangul}]/u,
} as const satisfies Record<string, RegExp>;
export type Script = keyof typeof SCRIPTS;
const ALL = Object.keys(SCRIPTS) as Script[];

const KANA = /[\p{Script=Hiragana}\p{Script=Katakana}]/u;

/** The scripts that letters of a text may need, in the order in which their fonts are asked. */
export function scriptsOf(text: string): Script[] {
  // most texts have none but those of western Europe
  if (!/[^\0-\xff]/.test(text)) return [];
  const found = ALL.filter((s) => SCRIPTS[s].test(text));
  // Han is drawn as in Japan beside kana, else as in China where it can be
  if (found.includes('japanese') && !KANA.test(text))
    found.push(...found.splice(found.indexOf('japanese'), 1));
  return found;
}

/** Letters one after the other that one font sets. */
export interface Run<Font> {
  text: string;
  font: Font;
}

let bidi: ReturnType<typeof bidiOf> | null = null;
const MARK = /\p{Mark}/u;
const UNSEEN = /\p{Default_Ignorable_Code_Point}/u;
/** From here on letters may be written from right to left. */
const BEYOND_LATIN = /[^\0-\u058f]/u;
/** Letters that are written from right to left. */
export const BACKWARDS = /[\p{Script=Hebrew}\p{Script=Arabic}]/u;

/**
 * A line as it is seen from left to right, in runs of one font and one direction (Unicode Standard Annex 9). A run has
 * its text as it is read: fonts turn Arabic and Hebrew themselves.
 * @param fontsOf the fonts that have a letter, the best first
 * @param usual the font for what no other has, as “?”
 */
export function runsOf<Font>(
  line: string,
  fontsOf: (letter: string) => readonly Font[],
  usual: Font,
): Run<Font>[] {
  const letters: Leveled<Font>[] = [];
  bidi ??= bidiOf();
  const levels = BEYOND_LATIN.test(line) ? bidi.getEmbeddingLevels(line, 'auto').levels : null;
  let at = 0;
  let before: Font | undefined;
  for (const letter of line) {
    const level = levels?.[at] ?? 0;
    at += letter.length;
    const isPart = MARK.test(letter) || UNSEEN.test(letter);
    const fonts = fontsOf(letter);
    // what belongs to the letter before is set with it
    const font: Font | undefined =
      isPart && before !== undefined && fonts.includes(before) ? before : fonts[0];
    if (font === undefined && UNSEEN.test(letter)) continue;
    before = font;
    const turned = level % 2 === 1 ? bidi.getMirroredCharacter(letter) : null;
    letters.push({ text: font === undefined ? '?' : (turned ?? letter), font: font ?? usual, level });
  }
  return inOrder(letters);
}

type Leveled<Font> = Run<Font> & { level: number };

/** Letters as runs in the order in which they are seen: what has a level is turned within what has a lower one. */
function inOrder<Font>(letters: readonly Leveled<Font>[]): Run<Font>[] {
  const runs: Leveled<Font>[] = [];
  for (const letter of letters) {
    const last = runs.at(-1);
    if (last && last.font === letter.font && last.level === letter.level) last.text += letter.text;
    else runs.push({ ...letter });
  }
  for (let level = Math.max(0, ...runs.map((r) => r.level)); level > 0; level--)
    for (let from = 0; from < runs.length; from++) {
      let to = from;
      while ((runs[to]?.level ?? -1) >= level) to++;
      if (to > from + 1) runs.splice(from, to - from, ...runs.slice(from, to).reverse());
      if (to > from) from = to - 1;
    }
  return runs.map(({ text, font, level }) => ({
    // fonts turn what has letters that are written backwards, and nothing else
    text: level % 2 === 1 && !BACKWARDS.test(text) ? [...text].reverse().join('') : text,
    font,
  }));
}

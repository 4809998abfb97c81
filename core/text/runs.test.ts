import { describe, expect, it } from 'vitest';
import { runsOf, type Script, scriptsOf } from './runs.ts';

/** Which of two fonts have a letter: one has Latin and what stands between words, the other has all else. */
const fontsOf = (c: string) => (/[\0-\u00ff]/.test(c) ? ['own'] : c === '\u2603' ? [] : ['other']);
const seen = (line: string) => runsOf(line, fontsOf, 'own').map((r) => r.text);

describe('lines of several fonts', () => {
  it('stay as they are where one font has all of it', () => {
    expect(runsOf('Harbour slate', fontsOf, 'own')).toEqual([{ text: 'Harbour slate', font: 'own' }]);
  });

  it('have a question mark for what no font has', () => {
    expect(seen('Ice \u2603 blue')).toEqual(['Ice ? blue']);
  });

  it('leave marks with their letter, and what is not seen out where nothing has it', () => {
    expect(seen('е\u0301ж')).toEqual(['е\u0301ж']);
    expect(runsOf('a\u200db', (c) => (c === '\u200d' ? [] : ['own']), 'own')).toEqual([
      { text: 'ab', font: 'own' },
    ]);
  });

  // Unicode Standard Annex 9, 3.4 and its examples: a word of Arabic in English, English in Arabic, numbers, brackets
  it('are in the order in which they are seen', () => {
    expect(seen('car is \u0627\u0628\u062a now')).toEqual(['car is ', 'ابت', ' now']);
    expect(seen('قارب الليل')).toEqual(['الليل', ' ', 'قارب']);
    expect(seen('قارب 12')).toEqual(['12', ' ', 'قارب']);
    expect(seen('الليل KW 408 قارب')).toEqual(['قارب', ' ', 'KW 408', ' ', 'الليل']);
    // brackets are turned with the text that they stand in
    expect(seen('אב (גד)')).toEqual(['(', 'גד', ') ', 'אב']);
  });
});

describe('scripts of a text', () => {
  it.each<[string, Script]>([
    ['Kékfestő', 'latin-ext'],
    ['Xanh lục đậm ạ', 'vietnamese'],
    ['Θάλασσα', 'greek'],
    ['Мокрый песок', 'cyrillic'],
    ['כחול', 'hebrew'],
    ['أزرق', 'arabic'],
    ['नीला', 'devanagari'],
    ['สีฟ้า', 'thai'],
    ['あおみどり', 'japanese'],
    ['藍色', 'chinese'],
    ['파랑', 'korean'],
  ])('%s', (text, script) => {
    expect(scriptsOf(text)).toContain(script);
  });

  it('Western Europe needs none, and Han beside kana is asked of Japan first', () => {
    expect(scriptsOf('Übergrößenträger «bleu» 62 %')).toEqual([]);
    const han = (text: string) => scriptsOf(text).filter((s) => s === 'japanese' || s === 'chinese');
    expect(han('藍色の海')).toEqual(['japanese', 'chinese']);
    expect(han('蓝色')).toEqual(['chinese', 'japanese']);
  });
});

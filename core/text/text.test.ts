import { describe, expect, it } from 'vitest';
import { identifier } from './identifier.ts';
import {
  beginningOf,
  cutText,
  linesOf,
  oneLine,
  plural,
  readText,
  short,
  uniquely,
  writeText,
} from './text.ts';

describe('text', () => {
  it('is read as UTF-8, as UTF-16 by its mark, else as Latin-1, and not at all when it is none', () => {
    expect(readText(writeText('Grün 🚢'))).toBe('Grün 🚢');
    expect(readText(Uint8Array.from([0xff, 0xfe, 0x41, 0, 0xfc, 0]))).toBe('Aü');
    expect(readText(Uint8Array.from([0xfe, 0xff, 0, 0x41]))).toBe('A');
    expect(readText(Uint8Array.from([0x47, 0x72, 0xfc, 0x6e]))).toBe('Grün');
    expect(readText(Uint8Array.from([0x41, 0, 0x42]))).toBeNull();
  });

  it('its beginning ends with a whole line', () => {
    const bytes = writeText(`${'a'.repeat(50)}\n${'b'.repeat(50)}\n${'c'.repeat(50)}`);
    expect(beginningOf(bytes, 110)).toBe(`${'a'.repeat(50)}\n${'b'.repeat(50)}\n`);
    expect(beginningOf(bytes, 1000)?.length).toBe(152);
    expect(beginningOf(bytes, 20)).toBe('a'.repeat(20));
  });

  it('is cut between characters, never through one', () => {
    expect(cutText('ab🚢', 3)).toBe('ab');
    expect(cutText('ab🚢', 4)).toBe('ab🚢');
    expect(cutText('abc', 2)).toBe('ab');
  });

  it('has lines however they end, and names without breaks', () => {
    expect([...linesOf('a\r\nb\rc\nd')]).toEqual(['a', 'b', 'c', 'd']);
    expect(oneLine('a\nb\u2028c\td')).toBe('a b c\td');
  });

  it('becomes identifiers that differ', () => {
    const unique = uniquely();
    expect(['Boot-top red', 'boot top  red!', '…', ''].map((n) => unique(identifier(n)))).toEqual([
      'boot-top-red',
      'boot-top-red-2',
      'swatch',
      'swatch-2',
    ]);
    expect(identifier('x'.repeat(300)).length).toBe(100);
    // a name that looks like the second of another is not taken for it
    const again = uniquely();
    expect(['a', 'a-2', 'a'].map(again)).toEqual(['a', 'a-2', 'a-3']);
  });

  it('counts and shortens', () => {
    expect([plural(1, 'swatch', 'swatches'), plural(2, 'swatch', 'swatches')]).toEqual([
      '1 swatch',
      '2 swatches',
    ]);
    expect([short(1.5, 3), short(1 / 3, 3), short(2, 3)]).toEqual(['1.5', '0.333', '2']);
  });
});

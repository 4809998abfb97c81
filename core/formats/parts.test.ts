import { describe, expect, it } from 'vitest';
import { ByteReader, ByteWriter } from './bytes.ts';
import { FormatError } from './error.ts';
import { identifier } from './identifier.ts';
import { parseJson } from './json.ts';
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
import { childOf, elements, escapeXml, parseXml, rootIs } from './xml.ts';

// What the formats are made of: text, bytes, XML and JSON.

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

describe('bytes', () => {
  it('are read as they were written, in either order', () => {
    for (const little of [false, true]) {
      const bytes = new ByteWriter(little)
        .u8(1)
        .u16(0xabcd)
        .i16(-2)
        .u32(0xdeadbeef)
        .f32(0.5)
        .ascii('ab')
        .done();
      const reader = new ByteReader(bytes, little);
      expect([
        reader.u8(''),
        reader.u16(''),
        reader.i16(''),
        reader.u32(''),
        reader.f32(''),
        reader.ascii(2, ''),
      ]).toEqual([1, 0xabcd, -2, 0xdeadbeef, 0.5, 'ab']);
      expect(reader.left).toBe(0);
    }
  });

  it('grow as far as they must', () => {
    const writer = new ByteWriter();
    for (let i = 0; i < 5000; i++) writer.u8(i & 255);
    const bytes = writer.bytes(new Uint8Array(3000).fill(7)).done();
    expect([bytes.length, bytes[4999], bytes[5000], bytes[7999]]).toEqual([8000, 4999 & 255, 7, 7]);
  });

  it('that end too soon name the place', () => {
    const reader = new ByteReader(Uint8Array.from([1, 2, 3]));
    reader.u16('the count');
    expect(() => reader.u32('the name')).toThrow(
      /cut short: it ends at byte 3, inside the name, where 3 more bytes should follow/,
    );
    expect(() => reader.part(9, 'a block')).toThrow(FormatError);
  });
});

describe('XML', () => {
  const text =
    '<?xml version="1.0"?>\n<a:list xmlns:a="x" a:kind="k"><a:item n="1">one<b/></a:item><item n="2"><![CDATA[<two>]]></item></a:list>';

  it('becomes a tree with local names, text and lines', () => {
    const [root] = parseXml(text).children;
    expect([root.name, root.attributes.kind, root.line]).toEqual(['list', 'k', 2]);
    expect([...elements(root, 'item')].map((i) => [i.attributes.n, i.text])).toEqual([
      ['1', 'one'],
      ['2', '<two>'],
    ]);
    expect(childOf(root.children[0], 'b')?.children).toEqual([]);
  });

  it('hands a long list over piece by piece', () => {
    const taken: string[] = [];
    const root = parseXml(text, { each: { name: 'item', take: (n) => taken.push(n.attributes.n) } });
    expect(taken).toEqual(['1', '2']);
    expect(root.children[0].children).toEqual([]);
  });

  it('is known by its root, whatever stands before it', () => {
    const isSvg = (text: string) => rootIs(new TextEncoder().encode(text), 'svg');
    expect(isSvg('\uFEFF<?xml version="1.0"?><!-- x --><!DOCTYPE svg [<!ENTITY a "b">]>\n<s:svg>')).toBe(
      true,
    );
    expect(isSvg('<svgx>')).toBe(false);
    expect(isSvg('text <svg>')).toBe(false);
    expect(isSvg('\0\0<svg>')).toBe(false);
  });

  it('is written so that it can be read', () => {
    const name = 'a&b<c>"d"\te\nf\u0001\ud800';
    const [root] = parseXml(`<x n="${escapeXml(name)}">${escapeXml(name)}</x>`).children;
    expect(root.attributes.n).toBe('a&b<c>"d"\te\nf \ufffd');
    expect(root.text).toBe(root.attributes.n);
  });
});

describe('JSON', () => {
  it('tells line and column of a slip', () => {
    expect(() => parseJson('{\n  "a": 1,\n  "b": }\n')).toThrow(/^line 3, column 8: the JSON is damaged/);
    expect(() => parseJson('')).toThrow(/line 1, column 1/);
  });

  it('is refused when it is deeper than a stack, but not for brackets in a string', () => {
    expect(() => parseJson('['.repeat(5000))).toThrow(/line 1, column 1001: values lie more than 1000 deep/);
    expect(parseJson(JSON.stringify({ a: '['.repeat(5000), b: '\\"[' }))).toMatchObject({ b: '\\"[' });
  });
});

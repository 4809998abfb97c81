import { describe, expect, it } from 'vitest';
import { childOf, elements, escapeXml, parseXml, rootIs } from './xml.ts';

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

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { countingIds, type Library } from '../../swatch/model.ts';
import { anyColor, anyLibrary, coated, services } from '../../testing.ts';
import { ByteWriter } from '../../text/bytes.ts';
import { FormatError } from '../../text/error.ts';
import { act } from '../act/act.ts';
import type { PartlyRead } from '../format.ts';
import { aco } from './aco.ts';

const decode = (bytes: Uint8Array) => aco.decode(bytes, countingIds());
const flat = (l: Library) => l.groups.flatMap((g) => g.swatches);
const color = (writer: ByteWriter, space: number, ...words: number[]) => {
  writer.u16(space);
  for (let i = 0; i < 4; i++) writer.u16(words[i] ?? 0);
  return writer;
};

describe('ACO', () => {
  it('keeps names, order and the numbers of every space to the last bit', () => {
    fc.assert(
      fc.property(anyLibrary(anyColor(['rgb', 'hsb', 'cmyk', 'lab', 'gray'])), (library) => {
        const bytes = aco.encode(library, services);
        const { library: there, warnings } = decode(bytes);
        expect(warnings).toEqual([]);
        expect(flat(there).map((s) => [s.name, s.color.space])).toEqual(
          flat(library).map((s) => [s.name, s.color.space]),
        );
        expect(aco.encode(there, services)).toEqual(bytes);
      }),
    );
  });

  it('lays out both sections as published: version, count, space and four words; then names', () => {
    const library: Library = {
      id: 'l',
      name: '',
      groups: [
        {
          id: 'g',
          name: '',
          swatches: [
            { id: 's', name: 'é🚢', kind: 'process', color: { space: 'cmyk', components: [1, 0, 0.5, 0] } },
          ],
        },
      ],
    };
    // the reference bytes are laid out by hand: full ink is 0, no ink is 0xffff
    const words = [2, 0x0000, 0xffff, 0x8000, 0xffff];
    const expected = new ByteWriter().u16(1).u16(1);
    for (const w of words) expected.u16(w);
    expected.u16(2).u16(1);
    for (const w of words) expected.u16(w);
    expected.u32(4).u16(0xe9).u16(0xd83d).u16(0xdea2).u16(0);
    expect(aco.encode(library, services)).toEqual(expected.done());
  });

  it('opens a file with only the first section, and one with only the second', () => {
    const first = color(color(new ByteWriter().u16(1).u16(2), 0, 0xffff, 0, 0), 8, 10000).done();
    expect(flat(decode(first).library).map((s) => toHex(s.color, coated))).toEqual(['#ff0000', '#ffffff']);
    const second = color(new ByteWriter().u16(2).u16(1), 7, 5000, 0x10000 - 2000, 1000)
      .u32(0)
      .done();
    expect(flat(decode(second).library)[0]).toMatchObject({
      name: '',
      color: { space: 'lab', components: [50, -20, 10] },
    });
  });

  it('reads HSB as degrees', () => {
    const [swatch] = flat(
      decode(color(new ByteWriter().u16(1).u16(1), 1, 0x5555, 0xffff, 0xffff).done()).library,
    );
    expect(swatch.color.components[0]).toBeCloseTo(120, 9);
    expect(toHex(swatch.color, coated)).toBe('#00ff00');
  });

  it('reads wide CMYK, which counts ink upwards, and names the colours that are only a number in a book', () => {
    const section = new ByteWriter().u16(2).u16(2);
    color(section, 9, 10000, 0, 2500, 0).u32(4).utf16('Ink').u16(0);
    color(section, 3, 612).u32(5).utf16('KF 6').u16(0);
    const { library, warnings } = decode(section.done());
    expect(flat(library)).toMatchObject([
      { name: 'Ink', color: { space: 'cmyk', components: [1, 0, 0.25, 0] } },
    ]);
    expect(warnings[0]).toMatch(/1 colour is only a number in a colour book.*“KF 6”/);
  });

  it('of a damaged second section the colours are all there, in the first', () => {
    const bytes = color(new ByteWriter().u16(1).u16(1), 0, 0xffff).u16(2).u16(1).u16(0);
    try {
      decode(bytes.done());
      expect.unreachable();
    } catch (error) {
      expect(flat((error as PartlyRead).sound.library).map((s) => toHex(s.color, coated))).toEqual([
        '#ff0000',
      ]);
    }
  });

  it('keeps every colour of sections that count differently, with the names there are', () => {
    const bytes = new ByteWriter().u16(1).u16(3);
    for (const red of [0xffff, 0, 0x8080]) color(bytes, 0, red);
    color(bytes.u16(2).u16(1), 0, 0).u32(5).utf16('Hull').u16(0);
    const { library, warnings } = decode(bytes.done());
    expect(flat(library).map((s) => [s.name, toHex(s.color, coated)])).toEqual([
      ['Hull', '#000000'],
      ['', '#ff0000'],
      ['', '#800000'],
    ]);
    expect(warnings).toEqual([
      expect.stringMatching(/count 3 and 1 colours.*2 of the first that are not in it/),
    ]);
  });

  it.each<[string, Uint8Array, RegExp]>([
    [
      'a count that is too high',
      color(new ByteWriter().u16(1).u16(5), 0, 1, 2, 3).done(),
      /colour 2 of 5 in section 1/,
    ],
    ['an unknown space', color(new ByteWriter().u16(1).u16(1), 99, 1).done(), /space number 99/],
    [
      'a name that points outside',
      color(new ByteWriter().u16(2).u16(1), 0, 1).u32(0x7fffffff).done(),
      /name of colour 1/,
    ],
  ])('refuses %s, naming the place', (_, bytes, message) => {
    expect(() => decode(bytes)).toThrow(FormatError);
    expect(() => decode(bytes)).toThrow(message);
  });
});

describe('ACT', () => {
  const library = (n: number): Library => ({
    id: 'l',
    name: '',
    groups: [
      {
        id: 'g',
        name: '',
        swatches: Array.from({ length: n }, (_, i) => ({
          id: `${i}`,
          name: '',
          kind: 'process',
          color: { space: 'rgb', components: [i / 255, 0, 1] },
        })),
      },
    ],
  });

  it('is 256 triples and a tail with the count and no transparent index', () => {
    const bytes = act.encode(library(3), services);
    expect(bytes.length).toBe(772);
    expect([...bytes.slice(0, 9)]).toEqual([0, 0, 255, 1, 0, 255, 2, 0, 255]);
    expect([...bytes.slice(9, 768)].every((b) => b === 0)).toBe(true);
    expect([...bytes.slice(768)]).toEqual([0, 3, 255, 255]);
    expect(flat(act.decode(bytes, countingIds()).library).length).toBe(3);
  });

  it('without a tail has 256 colours', () => {
    expect(flat(act.decode(new Uint8Array(768), countingIds()).library).length).toBe(256);
  });

  it('has one transparent place: the first swatch that is wholly so', () => {
    const l = library(3);
    l.groups[0].swatches[1].alpha = 0;
    const bytes = act.encode(l, services);
    expect([...bytes.slice(770)]).toEqual([0, 1]);
    expect(flat(act.decode(bytes, countingIds()).library).map((s) => s.alpha)).toEqual([
      undefined,
      0,
      undefined,
    ]);
  });

  it('refuses a count over 256', () => {
    const bytes = act.encode(library(1), services);
    bytes[768] = 9;
    expect(() => act.decode(bytes, countingIds())).toThrow(/counts 2305 colours/);
  });
});

import { describe, expect, it } from 'vitest';
import { fleet, readBy, writeBy } from '../../testing.ts';
import { csv } from './csv.ts';

describe('CSV', () => {
  it.each([
    ['commas', 'Name,Hex\nHull red,#8a1c24\nDeck,fff8ee\n'],
    ['tabs', 'Name\tHex\nHull red\t#8a1c24\nDeck\tfff8ee'],
    ['semicolons, headings in any case and order', 'HEX;NAME\r\n8A1C24;Hull red\r\nFFF8EE;Deck\r\n'],
    [
      'a byte order mark and other words for the headings',
      '\uFEFFColour,Swatch\n#8a1c24,Hull red\n#fff8ee,Deck',
    ],
    ['no headings', 'Hull red,#8a1c24\nDeck,#fff8ee'],
    ['numbers without headings', '138,28,36,Hull red\n255,248,238,Deck'],
    ['red, green, blue', 'Blue,Name,Green,Red\n36,Hull red,28,138\n238,Deck,248,255'],
  ])('reads %s', (_, text) => {
    expect(readBy(csv, text).lines).toEqual(['Hull red #8a1c24', 'Deck #fff8ee']);
  });

  it('reads decimal commas, percentages, groups, kinds and roles', () => {
    const { library, swatches } = readBy(
      csv,
      'Group;Name;Kind;Role;L*;a*;b*\n;Loose;;;10;0;0\nHull;Red;spot;waterline;39,5;55,2;-3,25\nHull;Cut;technical;;50;0;0\n',
    );
    expect(swatches[0]).toMatchObject({ name: 'Loose', kind: 'process' });
    expect(swatches[1]).toMatchObject({
      kind: 'spot',
      role: 'waterline',
      color: { space: 'lab', components: [39.5, 55.2, -3.25] },
    });
    expect(library.groups.map((g) => g.name)).toEqual(['', 'Hull']);
    const [ink] = readBy(csv, 'Name,C,M,Y,K\nBrass,4,26,70 %,12\n').swatches;
    expect(ink.color).toEqual({ space: 'cmyk', components: [0.04, 0.26, 0.7, 0.12] });
  });

  it('makes cells safe that a spreadsheet would run, and takes them back as they were', () => {
    const names = ['=1+1', '+cmd', '-2', '@sum', '\tx', "'quoted", "'=kept"];
    const library = {
      ...fleet,
      groups: [
        {
          id: 'g',
          name: '',
          swatches: names.map((name, i) => ({ ...fleet.groups[0].swatches[1], id: `${i}`, name })),
        },
      ],
    };
    const written = writeBy(csv, library);
    for (const line of written.split('\r\n').slice(1)) expect(line).not.toMatch(/^"?[=+\-@\t]/);
    expect(readBy(csv, written).swatches.map((s) => s.name)).toEqual(names);
  });

  it('quotes as RFC 4180 says', () => {
    const name = 'a, "b"\nc';
    const library = {
      ...fleet,
      groups: [{ id: 'g', name: '', swatches: [{ ...fleet.groups[0].swatches[1], name }] }],
    };
    expect(writeBy(csv, library)).toBe('Name,Hex\r\n"a, ""b""\nc",#2f7d6b\r\n');
    expect(readBy(csv, writeBy(csv, library)).swatches[0].name).toBe(name);
  });

  it('names row and column of a slip', () => {
    expect(() => readBy(csv, 'Name,Hex\nRed,#8a1c24\nBad,#zz0011\n')).toThrow(
      /row 3.*“#zz0011” is no colour/,
    );
    expect(() => readBy(csv, 'Name,Red,Green,Blue\nX,1,two,3\n')).toThrow(
      /row 2, column 3: “two” is no number/,
    );
    expect(() => readBy(csv, 'Name,C,M,Y,K\nX,1,2,3,400\n')).toThrow(/out of range for CMYK/);
    expect(() => readBy(csv, 'Name,Size\nX,1\n')).toThrow(/no column holds colours/);
  });
});

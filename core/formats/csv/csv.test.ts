import Other from 'colorjs.io';
import { describe, expect, it } from 'vitest';
import { type Color, deltaE00, fromRgb8, toLab } from '../../color/index.ts';
import { coated, fleet, readBy, recognisedAs, writeBy } from '../../testing.ts';
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

  it('names row and column of a slip, and goes on with the others', () => {
    const told = (text: string) => readBy(csv, text).warnings;
    expect(readBy(csv, 'Name,Hex\nRed,#8a1c24\nBad,#zz0011\nDeck,#fff8ee\n').lines).toEqual([
      'Red #8a1c24',
      'Deck #fff8ee',
    ]);
    expect(told('Name,Hex\nRed,#8a1c24\nBad,#zz0011\n')).toEqual([
      expect.stringMatching(/row 3.*“#zz0011” is not a colour/),
    ]);
    // where every row is bad it is the file that is wrong
    expect(() => readBy(csv, 'Name,Red,Green,Blue\nX,1,two,3\n')).toThrow(
      /row 2, column 3: “two” is not a number/,
    );
    expect(() => readBy(csv, 'Name,C,M,Y,K\nX,1,2,3,400\n')).toThrow(/out of range for CMYK/);
    expect(() => readBy(csv, 'Name,Size\nX,1\n')).toThrow(/no column holds colours/);
  });

  it.each([
    ['as parts of 1', 'Name,Hex,Opacity\nA,#112233,0.5\nB,#445566,1\n', [0.5, undefined]],
    ['in percent', 'Name,Hex,Opacity\nA,#112233,50\nB,#445566,100\n', [0.5, undefined]],
    ['in percent, as its heading says', 'Name,Hex,Alpha %\nA,#112233,0.5\nB,#445566,1\n', [0.005, 0.01]],
    ['in percent, as its cells say', 'Name,Hex,Alpha\nA,#112233,1%\nB,#445566,100%\n', [0.01, undefined]],
    ['up to 255', 'R,G,B,A\n1,2,3,51\n4,5,6,255\n', [0.2, undefined]],
    ['in a code', 'Name,Hex\nA,#11223333\nB,445566FF\nC,aabbcc80\n', [0.2, undefined, 128 / 255]],
  ])('reads opacity %s', (_, text, alphas) => {
    expect(readBy(csv, text).swatches.map((s) => s.alpha)).toEqual(alphas);
  });

  it('reads RGB and ink as parts of 1, by all rows together', () => {
    expect(readBy(csv, 'Name,R,G,B\nHull,0.5412,0.1098,0.1412\nDeck,1,1,0\n').lines).toEqual([
      'Hull #8a1c24',
      'Deck #ffff00',
    ]);
    expect(readBy(csv, 'Name,R,G,B\nHull,54.12%,10.98%,14.12%\n').lines).toEqual(['Hull #8a1c24']);
    expect(readBy(csv, 'R,G,B\n1,0,1\n200,0,0\n').lines).toEqual([' #010001', ' #c80000']);
    const [brass] = readBy(csv, 'Name,C,M,Y,K\nBrass,0.04,0.26,0.7,0\n').swatches;
    expect(brass!.color.components).toEqual([0.04, 0.26, 0.7, 0]);
    // nearly black in whole numbers, as the codes beside them say
    expect(readBy(csv, 'Hex,Red,Green,Blue\n#010001,0.6,0,1\n').swatches[0]!.color.components).toEqual([
      0.6 / 255,
      0,
      1 / 255,
    ]);
  });

  it('keeps the first of several notations as authored, and the others beside it', () => {
    const both = (head: string, row: string) => {
      const [s] = readBy(csv, `Name,${head}\nX,${row}\n`).swatches;
      return [s!.color, ...(s!.alternates ?? [])].map(
        (c) => `${c.space} ${c.components.map((v) => Math.round(v * 100))}`,
      );
    };
    expect(both('R,G,B,C,M,Y,K', '255,0,0,10,20,30,40')).toEqual(['rgb 100,0,0', 'cmyk 10,20,30,40']);
    expect(both('C,M,Y,K,R,G,B', '10,20,30,40,255,0,0')).toEqual(['cmyk 10,20,30,40', 'rgb 100,0,0']);
    expect(both('L*,a*,b*,C,M,Y,K,Hex', '50,10,20,10,20,30,40,#808080')).toEqual([
      'lab 5000,1000,2000',
      'cmyk 10,20,30,40',
      'rgb 50,50,50',
    ]);
    // a code that is the same colour in fewer digits is none of its own
    expect(both('L*,a*,b*,Hex', '50,0,0,#777777')).toEqual(['lab 5000,0,0']);
  });

  it.each([
    ['Color,Hex\nHull,#8a1c24\n', 'Hull #8a1c24'],
    ['Colour Name,Hex Value\nHull,8a1c24\n', 'Hull #8a1c24'],
    ['Name,H,S,V\nHull,355.6,79.71,54.12\n', 'Hull #8a1c24'],
    ['Name,Hue (°),Saturation (%),Value (%)\nHull,355.6,79.71,54.12\n', 'Hull #8a1c24'],
    ['Name,RGB\nHull,"138, 28, 36"\n', 'Hull #8a1c24'],
    ['Name;RGB\nHull;138,28,36\n', 'Hull #8a1c24'],
    ['Name\tRGB\nHull\trgb(138 28 36)\n', 'Hull #8a1c24'],
    ['Name;RGB\nHull;R138 G28 B36\n', 'Hull #8a1c24'],
    ['Name,HSV\nHull,"355.6°, 79.71%, 54.12%"\n', 'Hull #8a1c24'],
    ['Name,RGB\nHull,#8a1c24\n', 'Hull #8a1c24'],
  ])('reads %j', (text, line) => {
    expect(readBy(csv, text).lines).toEqual([line]);
  });

  it('reads ink in one cell, headings with units, and kinds in other words', () => {
    const inks = (text: string) => readBy(csv, text).swatches.map((s) => [s.kind, s.color.components]);
    const brass = [0.04, 0.26, 0.7, 0.12];
    expect(inks('Name,C %,M %,Y %,K %,Type\nBrass,4,26,70,12,Spot Color\n')).toEqual([['spot', brass]]);
    expect(inks('Name;CMYK;Kind\nBrass;C4 M26 Y70 K12;process colour\n')).toEqual([['process', brass]]);
    expect(inks('Name;CMYK\nBrass;4/26/70/12\n')).toEqual([['process', brass]]);
  });

  it('reads headings of five languages, whatever stands between the cells', () => {
    const tables = {
      German: 'sep=;\r\nBezeichnung;Rot;Grün;Blau;Art;Bemerkung\r\nSignal;200;16;46;Sonderfarbe;außen',
      French: 'Nom;R;V;B;Type;Remarque\nSignal;200;16;46;ton direct;außen',
      Spanish: 'Nombre,Rojo,Verde,Azul,Tipo,Observaciones\nSignal,200,16,46,tinta plana,außen',
      Italian: 'Nome\tRosso\tVerde\tBlu\tTipo\tOsservazioni\nSignal\t200\t16\t46\ttinta piatta\taußen',
    };
    for (const [language, table] of Object.entries(tables)) {
      const { swatches } = readBy(csv, table);
      expect(swatches, language).toMatchObject([
        { name: 'Signal', kind: 'spot', note: 'außen', color: fromRgb8(200, 16, 46) },
      ]);
      expect(recognisedAs(table), language).toBe('csv');
    }
    const french = readBy(csv, 'Nom;C;M;J;N\nEncre;10;20;30;40').swatches;
    expect(french).toMatchObject([{ color: { space: 'cmyk', components: [0.1, 0.2, 0.3, 0.4] } }]);
  });

  it('reads LCh, HSL, OKLCh and XYZ, as colorjs.io has the same colours', () => {
    const same = (color: Color | undefined, css: string) => {
      const theirs = new Other(css).to('lab').coords as [number, number, number];
      expect(deltaE00(toLab(color!, coated), theirs), css).toBeLessThan(0.01);
    };
    const of = (table: string) => readBy(csv, table).swatches.map((s) => s.color);
    same(of('Name;L;C;h\nx;45,5;60;320')[0], 'lch(45.5 60 320)');
    same(of('Name;Lightness;Chroma;Hue\nx;45.5;60;320')[0], 'lch(45.5 60 320)');
    same(of('Name;H;S;L\nx;210;50;40')[0], 'hsl(210 50% 40%)');
    same(of('name,oklch_l,oklch_c,oklch_h\nx,0.6,0.1,200')[0], 'oklch(0.6 0.1 200)');
    same(of('name,OKLCH\nx,0.6 0.1 200')[0], 'oklch(0.6 0.1 200)');
    same(of('Name;X;Y;Z\nx;30;20;10')[0], 'color(xyz-d50 0.3 0.2 0.1)');
    expect(of('Name;Hex;X;Y;Z\nx;#102030;3;4;5')).toEqual([fromRgb8(16, 32, 48)]);
    expect(of('Name;sRGB hex\nx;#102030')).toEqual([fromRgb8(16, 32, 48)]);
  });

  it('tells what could be read in two ways', () => {
    expect(readBy(csv, 'Name;R;G;B\na;100;50;0\nb;10;20;30').warnings).toEqual([
      expect.stringMatching(/up to 100, which may be percent; it was read as parts of 255/),
    ]);
    expect(readBy(csv, 'Name;Farbton;Sättigung;Helligkeit\na;210;50;40').warnings).toEqual([
      '“Helligkeit” may be of HSB or of HSL; it was read as HSB.',
    ]);
  });
});

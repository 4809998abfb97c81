import { describe, expect, it } from 'vitest';
import { countingIds } from '../swatch/model.ts';
import { fleet, readBy, services } from '../testing.ts';
import { dxf } from './dxf/dxf.ts';
import { formatById, recognise } from './index.ts';
import { soc } from './soc/soc.ts';
import { svg } from './svg/svg.ts';

const utf8 = (text: string) => new TextEncoder().encode(text);
/** Text of one-byte characters in a code page, by the letters of this test alone. */
const inPage = (text: string, letters: Record<string, number>) =>
  Uint8Array.from(text, (c) => letters[c] ?? c.charCodeAt(0));
const MARK = '\uFEFF';

describe('recognising', () => {
  // the sniffing ends somewhere in the middle of a character of two, three or four bytes
  it.each([
    ['gpl', (n: string) => `GIMP Palette\nName: ${n}\n1 2 3\tTar\n`],
    [
      'soc',
      (n: string) =>
        `<?xml version="1.0"?>\n<color-table><!-- ${n} --><color name="Tar" color="#010203"/></color-table>`,
    ],
    ['cxf', (n: string) => `<CxF><!-- ${n} --></CxF>`],
    [
      'svg',
      (n: string) => `<svg xmlns="http://www.w3.org/2000/svg"><!-- ${n} --><rect fill="#010203"/></svg>`,
    ],
    ['csv', (n: string) => `Name,Hex,Note\nTar,#010203,${n}\n`],
    ['mtl', (n: string) => `newmtl Tar\nKd 0 0 0\n# ${n}\n`],
    [
      'cgats',
      (n: string) =>
        `CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_NAME LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\n# ${n}\nBEGIN_DATA\nTar 1 0 0\nEND_DATA\n`,
    ],
  ])('%s is known behind a byte order mark, wherever the sniffing cuts', (id, file) => {
    for (const shift of ['', 'x', 'xx', 'xxx']) {
      const bytes = utf8(`${MARK}${file(`${shift}${'🚢'.repeat(20_000)}`)}`);
      expect(recognise(bytes)?.id).toBe(id);
    }
  });

  it('no text of 768 or 772 bytes is a colour table', () => {
    const sized = (text: string, n: number) => {
      const whole = text.repeat(Math.floor(n / utf8(text).length));
      return utf8(whole + ' '.repeat(n - utf8(whole).length));
    };
    const texts = ['Dear crew, ', 'Дорогая команда, ', '親愛なる ', 'x'].flatMap((t) =>
      [768, 772].map((n) => sized(t, n)),
    );
    // a whole character at the end
    const latin = inPage('Große Fähre für Übersee. '.repeat(40).slice(0, 768), {
      ß: 0xdf,
      ä: 0xe4,
      ü: 0xfc,
      Ü: 0xdc,
    });
    const sixteen = Uint8Array.from([
      0xff,
      0xfe,
      ...[...'a night boat '.repeat(40).slice(0, 383)].flatMap((c) => [c.charCodeAt(0), 0]),
    ]);
    expect(sixteen.length).toBe(768);
    for (const bytes of [...texts, latin, sixteen]) expect(recognise(bytes)?.id ?? 'none').not.toBe('act');
    const table = Uint8Array.from({ length: 768 }, (_, i) => (i * 7) & 255);
    expect(recognise(table)?.id).toBe('act');
    // near white from the first byte on, as a mark of UTF-16 would be
    expect(recognise(Uint8Array.from({ length: 768 }, (_, i) => 255 - (i % 89)))?.id).toBe('act');
  });

  it.each([0x1a, 0])('a byte %i behind the end is not damage', (end) => {
    for (const id of [
      'gpl',
      'css',
      'csv',
      'soc',
      'svg',
      'dxf',
      'hex',
      'tokens',
      'cxf',
      'papillon',
    ] as const) {
      const format = formatById(id);
      const bytes = format.encode(fleet, services as never) as Uint8Array<ArrayBuffer>;
      const padded = Uint8Array.from([...bytes, end, end]);
      expect(recognise(padded)?.id).toBe(id);
      expect(readBy(format, padded).lines).toEqual(readBy(format, bytes).lines);
    }
  });
});

describe('XML', () => {
  it('is read in the encoding it declares', () => {
    const table = (name: string, encoding: string) =>
      `<?xml version="1.0" encoding="${encoding}"?>\n<color-table><color name="${name}" color="#112233"/></color-table>`;
    // windows-1251: C0 is А, and so on through the alphabet (Unicode mapping table CP1251.TXT)
    const cyrillic = inPage(table('Мост', 'windows-1251'), { М: 0xcc, о: 0xee, с: 0xf1, т: 0xf2 });
    expect(readBy(soc, cyrillic).lines).toEqual(['Мост #112233']);
    // IBM code page 850: 84 is ä (Unicode mapping table CP850.TXT)
    expect(readBy(soc, inPage(table('Fähre', 'IBM850'), { ä: 0x84 })).lines).toEqual(['Fähre #112233']);
    expect(recognise(cyrillic)?.id).toBe('soc');
    const sixteen = [...table('Мост', 'UTF-16')].flatMap((c) => [
      c.charCodeAt(0) & 255,
      c.charCodeAt(0) >> 8,
    ]);
    expect(readBy(soc, Uint8Array.from(sixteen)).lines).toEqual(['Мост #112233']);
    expect(recognise(Uint8Array.from(sixteen))?.id).toBe('soc');
  });

  it('expands the entities that older drawing programs declare', () => {
    const drawing = `<?xml version="1.0"?>
<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd" [
  <!ENTITY ns_svg "http://www.w3.org/2000/svg">
  <!ENTITY sea '#2f7d6b'> <!ENTITY deep "&sea;"> <!ENTITY sign "] > &#65;&amp;B">
]>
<svg xmlns="&ns_svg;"><rect fill="&deep;"><title>&sign;</title></rect></svg>`;
    expect(recognise(utf8(drawing))?.id).toBe('svg');
    expect(readBy(svg, drawing).lines).toEqual(['] > A&B #2f7d6b']);
  });

  it('does not grow without end, and fetches nothing', () => {
    const bomb = (levels: number) =>
      `<!DOCTYPE svg [<!ENTITY a0 "${'ha'.repeat(50)}">${Array.from({ length: levels }, (_, i) => `<!ENTITY a${i + 1} "${`&a${i};`.repeat(10)}">`).join('')}]><svg><rect fill="#112233"><title>&a${levels};</title></rect></svg>`;
    expect(() => readBy(svg, bomb(6))).toThrow(/entities become more than a million/);
    expect(() =>
      readBy(svg, '<!DOCTYPE svg [<!ENTITY a "&b;"><!ENTITY b "&a;">]><svg><title>&a;</title></svg>'),
    ).toThrow(/through more than 10 others, or to itself/);
    // one that lies outside of the file is none
    expect(() =>
      readBy(svg, '<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg><title>&x;</title></svg>'),
    ).toThrow(/XML is damaged/);
  });
});

describe('DXF', () => {
  const drawing = (page: string, name: string, version = 'AC1015') =>
    [
      '0',
      'SECTION',
      '2',
      'HEADER',
      '9',
      '$ACADVER',
      '1',
      version,
      '9',
      '$DWGCODEPAGE',
      '3',
      page,
      '0',
      'ENDSEC',
    ]
      .concat([
        '0',
        'SECTION',
        '2',
        'TABLES',
        '0',
        'TABLE',
        '2',
        'LAYER',
        '0',
        'LAYER',
        '2',
        name,
        '62',
        '1',
        '0',
        'ENDTAB',
      ])
      .concat(['0', 'ENDSEC', '0', 'EOF', ''])
      .join('\n');

  it('is read in the code page its header names', async () => {
    const read = (bytes: Uint8Array) => dxf.decode(bytes, countingIds()).library.groups[0]!.swatches[0]!.name;
    expect(read(inPage(drawing('ANSI_1251', 'Мост'), { М: 0xcc, о: 0xee, с: 0xf1, т: 0xf2 }))).toBe('Мост');
    expect(read(inPage(drawing('DOS850', 'Fähre'), { ä: 0x84 }))).toBe('Fähre');
    // Shift_JIS 91 44 is 船, 94 92 is 白 (JIS X 0208; Unicode mapping table SHIFTJIS.TXT)
    const ship = inPage(drawing('ANSI_932', '@#'), {});
    const at = ship.indexOf(0x40);
    const japanese = Uint8Array.from([
      ...ship.subarray(0, at),
      0x91,
      0x44,
      0x94,
      0x92,
      ...ship.subarray(at + 2),
    ]);
    expect(read(japanese)).toBe('船白');
    // newer ones are UTF-8 whatever they say
    expect(read(utf8(drawing('ANSI_1252', 'Мост', 'AC1027')))).toBe('Мост');
    expect(readBy(dxf, drawing('ANSI_1252', '\\M+19144\\U+767D')).lines).toEqual(['船白 #ff0000']);
  });
});

// Files that are made to be gone through again and again: rows of one thing, chains, things inside things.

/** One unit over and over, between a beginning and an end. */
const ROWS: [name: string, unit: string, head?: string, tail?: string][] = [
  ['nothing but blanks', ' '],
  ['nothing but line ends', '\n'],
  ['one line', 'a'],
  ['zeros', '\0'],
  // texts
  ['DXF: a remark and blank lines', '\n', '999\n'],
  ['DXF: a remark and blank lines of two characters', '\r\n', '999\r\n'],
  ['DXF: remarks', '999\n\n'],
  ['DXF: one thing without end', '62\n1\n', '0\nSECTION\n2\nENTITIES\n0\nLINE\n'],
  ['DXF: entities', '0\nLINE\n62\n1\n8\na\n', '0\nSECTION\n2\nENTITIES\n'],
  ['CSS: dashes', '-'],
  ['CSS: dashes in a rule', '-', ':root{--a: #fff;'],
  ['CSS: names without values', '--a'],
  ['CSS: openings of remarks', '/*', ':root{--a:#fff;}'],
  ['CSS: a remark that never ends', '*', ':root{--a:#fff;} /*'],
  ['CSS: a name and blanks', ' ', ':root{ --a'],
  ['CSS: colons', ':', '--a'],
  ['CSS: quoted names', '--a:#fff;/* "\\"*/'],
  ['CSV: cells', 'a,'],
  ['CSV: a quote and quotes', '"', 'name,hex\n"'],
  ['CSV: empty rows', '\n', 'name,hex\n'],
  ['CSV: rows', 'a,#ffffff\n', 'name,hex\n'],
  ['CSV: rows that are no colours', 'a,zzz\n', 'name,hex\n'],
  ['CSV: a number and blanks', ' ', 'red,green,blue\n1', 'x,2,3'],
  ['hex: codes', '#ff0000\n'],
  ['hex: codes in one line', '#ff0000 '],
  ['GPL: entries', '255 0 0 a\n', 'GIMP Palette\n'],
  ['GPL: a number and blanks', ' ', 'GIMP Palette\n255'],
  ['GPL: remarks', '#\n', 'GIMP Palette\n'],
  ['GPL: headings', 'Columns: 1\n', 'GIMP Palette\n'],
  ['JASC: entries', '255 0 0\n', 'JASC-PAL\n0100\n900000\n'],
  ['MTL: materials', 'newmtl a\nKd 1 0 0\n'],
  ['MTL: a colour and blanks', ' ', 'newmtl a\nKd'],
  [
    'CGATS: sets',
    '1 2 3 4\n',
    'CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nBEGIN_DATA\n',
  ],
  ['CGATS: quotes', '"', 'CGATS.17\nBEGIN_DATA_FORMAT\n'],
  ['CGATS: a quote that never closes', 'a', 'CGATS.17\nBEGIN_DATA_FORMAT\n"'],
  ['CGATS: columns', 'a ', 'CGATS.17\nBEGIN_DATA_FORMAT\n'],
  ['CGATS: columns of one line each', 'a\n', 'CGATS.17\nBEGIN_DATA_FORMAT\n'],
  ['CGATS: a heading and blank lines', '\n', 'CGATS.17\n'],
  // JSON
  ['JSON: lists in lists', '['],
  ['JSON: objects in objects', '{"a":'],
  ['JSON: a text that never ends', 'a', '{"papillon":1,"a":"'],
  ['JSON: objects', '{"a":1},', '[', '1]'],
  ['JSON: objects, cut off', '{"a":1},', '[', '1'],
  ['JSON: a brace and blanks', ' ', '{'],
  ['tokens: a reference of dots', '.', '{"a":{"$type":"color","$value":"{', '}"}}'],
  // XML
  ['XML: openings', '<'],
  ['XML: elements in elements', '<a>', '<svg>'],
  ['XML: remarks', '<!---->'],
  ['XML: a remark of dashes', '-', '<!--'],
  ['XML: half remarks', '<!-- -'],
  ['XML: instructions', '<?', '<?xml '],
  ['XML: document types', '<!DOCTYPE ['],
  ['XML: a document type of brackets', ']', '<!DOCTYPE a ['],
  ['XML: entities', '&amp;', '<svg><text>'],
  ['SVG: shapes', '<rect fill="#f00" x="1" y="1" width="1" height="1"/>', '<svg>', '</svg>'],
  ['SVG: shapes in groups of one name', '<g id="a"><rect fill="#f00"/></g>', '<svg>', '</svg>'],
  ['SVG: a style of openings of remarks', '/*', '<svg><style>', '</style></svg>'],
  ['SVG: a style of braces', '{', '<svg><style>', '</style></svg>'],
  ['SVG: a style of closing braces', '}', '<svg><style>', '</style></svg>'],
  ['SVG: a style of one rule', '.a{fill:red}', '<svg><style>', '</style><rect class="a"/></svg>'],
  ['SVG: a rule of commas', ',', '<svg><style>a', '{fill:red}</style></svg>'],
  ['SVG: a rule of classes', '.a', '<svg><style>', '{fill:red}</style></svg>'],
  ['SVG: media in media', '@media a{', '<svg><style>', '</style></svg>'],
  ['SVG: a paint of brackets', 'rgb(', '<svg><rect fill="', '"/></svg>'],
  ['SVG: a paint and blanks', ' ', '<svg><rect fill="rgb(1', ')"/></svg>'],
  ['SVG: a reference and blanks', ' ', '<svg><rect fill="url(', '"/></svg>'],
  ['SVG: a transform and blanks', ' ', '<svg><path d="M0 0" fill="#f00" transform="translate(', '"/></svg>'],
  ['SVG: transforms', 'translate(1 1) ', '<svg><path d="M0 0" fill="#f00" transform="', '"/></svg>'],
  ['SVG: an outline', 'L1 1', '<svg><path fill="#f00" d="M0 0', '"/></svg>'],
  ['SVG: points of signs', '+', '<svg><polygon fill="#f00" points="', '"/></svg>'],
  ['SVG: points of digits', '1', '<svg><polygon fill="#f00" points="', '"/></svg>'],
  ['SVG: semicolons', ';', '<svg><rect style="', '"/></svg>'],
  ['SVG: titles of one shape', '<title>a</title>', '<svg><rect fill="#f00">', '</rect></svg>'],
  [
    'SVG: uses of a thousand shapes',
    '<use href="#a"/>',
    `<svg><g id="a">${'<rect fill="#f00"/>'.repeat(1000)}</g>`,
    '</svg>',
  ],
  [
    'SVG: fillings by a gradient of a thousand stops',
    '<rect fill="url(#g)"/>',
    `<svg><linearGradient id="g">${'<stop stop-color="#f00"/>'.repeat(1000)}</linearGradient>`,
    '</svg>',
  ],
  [
    'SVG: shapes deep in transforms',
    '<path d="M0 0L1 1" fill="#f00"/>',
    `<svg>${'<g transform="translate(1 1)">'.repeat(150)}`,
    `${'</g>'.repeat(150)}</svg>`,
  ],
  ['SVG: uses inside themselves', '<use href="#a"/>', '<svg><g id="a"><rect fill="#f00"/>', '</g></svg>'],
  [
    'SOC: entries',
    '<draw:color draw:name="a" draw:color="#ff0000"/>',
    '<?xml version="1.0"?><office:color-table xmlns:office="a" xmlns:draw="b">',
    '</office:color-table>',
  ],
  [
    'CxF: a spectrum',
    '0.1 ',
    '<cc:CxF xmlns:cc="http://colorexchangeformat.com/CxF3-core"><cc:Resources><cc:ObjectCollection><cc:Object Name="a"><cc:ColorValues><cc:ReflectanceSpectrum StartWL="400">',
    '</cc:ReflectanceSpectrum></cc:ColorValues></cc:Object></cc:ObjectCollection></cc:Resources></cc:CxF>',
  ],
  ['PDF: objects', '1 0 obj\n', '%PDF-1.4\n'],
  ['PDF: lists of spaces', '/ColorSpace <<', '%PDF-1.4\n'],
];

/** Things that each refer to the next, or that are all different. */
const CHAINS: [name: string, link: (i: number) => string, head: string, tail: (n: number) => string][] = [
  ['CSS: variables', (i) => `--a${i}: var(--a${i + 1});`, ':root{', () => '}'],
  [
    'tokens: references',
    (i) => `"a${i}":{"$value":"{a${i + 1}}"},`,
    '{"$type":"color",',
    (n) => `"a${n}":{"$value":"#f00"}}`,
  ],
  [
    'tokens: references in a circle',
    (i) => `"a${i}":{"$value":"{a${i + 1}}"},`,
    '{"$type":"color",',
    (n) => `"a${n}":{"$value":"{a0}"}}`,
  ],
  [
    'tokens: pointers',
    (i) => `"a${i}":{"$value":{"$ref":"#/a${i + 1}/$value"}},`,
    '{"$type":"color",',
    (n) => `"a${n}":{"$value":"#f00"}}`,
  ],
  ['tokens: colours', (i) => `"a${i}":{"$type":"color","$value":"#ff0000"},`, '{', () => '"z":1}'],
  ['XML: attributes', (i) => `a${i}="x" `, '<svg ', () => '/>'],
  [
    'SVG: different paints',
    (i) => `<rect fill="#${(i + 0x100000).toString(16).slice(-6)}" x="${i}"/>`,
    '<svg>',
    () => '</svg>',
  ],
  ['SVG: different things that are no paints', (i) => `<rect fill="junk${i}"/>`, '<svg>', () => '</svg>'],
  [
    'SVG: gradients that refer to each other',
    (i) => `<linearGradient id="g${i}" href="#g${i + 1}"/><rect fill="url(#g${i})"/>`,
    '<svg>',
    () => '</svg>',
  ],
];

/** Binary files whose counts promise more than there is. */
const BINARY: [name: string, head: string][] = [
  ['ASE', 'ASEF\0\x01\0\0\0\xff\xff\xff'],
  ['ACO', '\0\x01\xff\xff'],
  ['ACO, second version', '\0\x02\xff\xff'],
  ['ACB', '8BCB\0\x01'],
  ['RIFF', 'RIFF\xff\xff\xff\0PAL data'],
  ['RIFF of empty chunks', 'RIFF\xff\xff\xff\0PAL '],
  ['UTF-16', '\xff\xfe'],
];

/** Every shape at about this many bytes. */
export function* shapes(size: number): Generator<{ name: string; bytes: Uint8Array }> {
  const file = (text: string) => new Uint8Array(Buffer.from(text));
  for (const [name, unit, head = '', tail = ''] of ROWS)
    yield {
      name,
      bytes: file(head + unit.repeat(Math.max(1, Math.floor((size - head.length) / unit.length))) + tail),
    };
  for (const [name, link, head, tail] of CHAINS) {
    const parts: string[] = [];
    let length = 0;
    while (length < size) length += parts[parts.push(link(parts.length)) - 1].length;
    yield { name, bytes: file(head + parts.join('') + tail(parts.length)) };
  }
  for (const [name, head] of BINARY) {
    const bytes = new Uint8Array(size);
    bytes.set(Buffer.from(head, 'latin1'));
    yield { name, bytes };
  }
  // a name, and a hundred groups inside each other that are called so
  const long = 'a'.repeat(Math.floor(size / 100));
  yield {
    name: 'tokens: long names inside each other',
    bytes: file(`${`{"${long}":`.repeat(98)}{"$type":"color","$value":"#f00"}${'}'.repeat(98)}`),
  };
  yield {
    name: 'SVG: many rules for many shapes of one class',
    bytes: file(
      `<svg><style>${'.a{fill:red}'.repeat(size / 24)}</style>${'<rect class="a"/>'.repeat(size / 34)}</svg>`,
    ),
  };
}

import { XMLParser } from 'fast-xml-parser';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { screenOnly, toHex } from '../../color/index.ts';
import { allSwatches, countingIds } from '../../swatch/model.ts';
import { coated, fleet, readBy, writeBy } from '../../testing.ts';
import { openSwatchFile } from '../registry.ts';
import { svg } from './svg.ts';

const drawing = (body: string, head = '') =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" xmlns:l="urn:label" viewBox="0 0 100 100">${head}${body}</svg>`;
const lines = (body: string, head = '', options = {}) => readBy(svg, drawing(body, head), options).lines;

describe('SVG, written', () => {
  it('is drawn by sharp as the chips in order, flat and edge to edge', async () => {
    const source = Buffer.from(writeBy(svg, fleet, { columns: 3, chip: 10, gap: 0 }));
    const { data, info } = await sharp(source, { density: 72 })
      .flatten({ background: '#fff' })
      .raw()
      .toBuffer({ resolveWithObject: true });
    // 3 chips of 10 mm at 72 dots per inch
    expect(info.width).toBe(Math.round((30 / 25.4) * 72));
    fleet.groups
      .flatMap((g) => g.swatches)
      .forEach((s, i) => {
        const [x, y] = [(i % 3) + 0.5, Math.floor(i / 3) + 0.5].map((v) => Math.floor((v * info.width) / 3));
        const at = (y * info.width + x) * info.channels;
        expect(`#${data.subarray(at, at + 3).toString('hex')}`).toBe(toHex(s.color, coated));
      });
  });

  it('has millimetres, one plain shape per swatch, names only as titles, and nothing grouped or stroked', () => {
    const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '' });
    const { svg: root } = parser.parse(writeBy(svg, fleet));
    expect([root.width, root.height]).toEqual(['83mm', '15mm']);
    expect(root.rect.length).toBe(5);
    expect(root.rect.map((r: { title: string }) => r.title)).toEqual(
      fleet.groups.flatMap((g) => g.swatches.map((s) => s.name)),
    );
    const bare = writeBy(svg, fleet, { names: false });
    expect(bare).not.toMatch(/<g|stroke|<text|<title/);
  });
});

describe('SVG, read', () => {
  it('finds colours in attributes, styles, classes, gradients, and by inheritance', () => {
    expect(
      lines(
        `<rect x="0" fill="#112233" width="9" height="9"/>
         <rect x="10" style="fill: rgb(68, 85, 102)" width="9" height="9"/>
         <rect x="20" class="a b" width="9" height="9"/>
         <g fill="teal" color="#0a0b0c"><rect x="30" width="9" height="9"/><circle cx="45" cy="5" r="4" fill="currentColor"/></g>
         <rect x="50" width="9" height="9" fill="url(#g)"/>`,
        `<style>/* x */ .b { fill: #778899 } rect.c { fill: red }</style>
         <defs><linearGradient id="s"><stop stop-color="#aa0000"/><stop style="stop-color:#00aa00"/></linearGradient>
         <linearGradient id="g" xlink:href="#s"/></defs>`,
      ),
    ).toEqual([' #112233', ' #445566', ' #778899', ' #008080', ' #0a0b0c', ' #aa0000', ' #00aa00']);
  });

  it('takes the colours of patterns, what stands behind a paint that is missing, and one branch of a switch', () => {
    const tile =
      '<defs><pattern id="p" width="9" height="9"><g fill="#00aa00"><rect width="4" height="4"/></g><circle r="2" fill="#0000aa"/></pattern><pattern id="q" href="#p"/></defs>';
    expect(
      lines('<rect width="9" height="9" fill="url(#p)"/><rect width="9" height="9" fill="url(#q)"/>', tile),
    ).toEqual([' #0000aa', ' #00aa00']);
    expect(
      lines(
        '<rect width="9" height="9" fill="url(#none) #f80" stroke="url(#gone)"/><rect width="9" height="9" fill="#123"/>',
      ),
    ).toEqual([' #ff8800', ' #112233']);
    const branch = (fill: string, more = '') => `<rect width="9" height="9" fill="${fill}" ${more}/>`;
    expect(
      lines(
        `<switch><title>x</title>${branch('#100000', 'requiredExtensions="http://example.org/x"')}${branch('#200000', 'systemLanguage="de"')}${branch('#300000', 'systemLanguage="fr, en-GB"')}${branch('#400000')}</switch>`,
      ),
    ).toEqual([' #300000']);
  });

  it('does not mind comments beside its colours', () => {
    const { lines } = readBy(
      svg,
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 30 10"><style>.a { fill: #0040c0 /* brand */; }</style>
       <rect class="a" width="10" height="10"/><rect x="10" width="10" height="10" style="fill: /* ink */ #112233; /* edge; */ stroke: #aa0000"/></svg>`,
    );
    expect(lines.map((l) => l.slice(-7))).toEqual(['#0040c0', '#112233', '#aa0000']);
  });

  it('goes by place on the page, row by row, not by order in the file', () => {
    expect(
      lines(
        `<g transform="translate(0 50)"><rect x="60" width="9" height="9" fill="#000004"/><rect width="9" height="9" fill="#000003"/></g>
         <path d="M60 1h9v9h-9z" fill="#000002"/><circle cx="5" cy="5" r="5" fill="#000001"/>`,
      ),
    ).toEqual([' #000001', ' #000002', ' #000003', ' #000004']);
  });

  it('tells strokes from fills, and leaves out what nobody painted', () => {
    const { swatches } = readBy(
      svg,
      drawing(
        `<rect width="9" height="9"/><path d="M0 20h9" fill="none" stroke="#00f" stroke-opacity=".5"/>
         <rect y="40" width="9" height="9" fill="transparent"/><rect y="50" display="none" fill="red"/>
         <defs><rect fill="lime" width="1" height="1"/></defs>`,
      ),
    );
    expect(swatches).toMatchObject([{ role: 'stroke', alpha: 0.5, name: '' }]);
  });

  it('takes names from title, label and id, but not those that programs give by themselves', () => {
    expect(
      lines(
        `<rect id="rect12" width="9" height="9" fill="#000001"/>
         <rect id="boot-top" x="10" width="9" height="9" fill="#000002"/>
         <rect l:label="Hull navy" id="x" x="20" width="9" height="9" fill="#000003"/>
         <rect x="30" width="9" height="9" fill="#000004"><title>Old brass</title></rect>`,
      ),
    ).toEqual([' #000001', 'boot-top #000002', 'Hull navy #000003', 'Old brass #000004']);
  });

  it('passes over text unless asked, and says so', () => {
    const body =
      '<text y="9" fill="#123456">Kestrelmere</text><rect y="20" width="9" height="9" fill="#654321"/>';
    expect(readBy(svg, drawing(body)).warnings).toEqual(['1 piece of text was passed over.']);
    expect(lines(body)).toEqual([' #654321']);
    expect(lines(body, '', { text: true })).toEqual([' #123456', ' #654321']);
  });

  it('draws what is used, however often, and is not caught in a ring', () => {
    expect(
      lines(
        '<use xlink:href="#s" x="5"/><use href="#r"/>',
        '<symbol id="s"><rect fill="#0f0f0f" width="2" height="2"/></symbol><g id="r"><use href="#r"/></g>',
      ),
    ).toEqual([' #0f0f0f']);
  });

  it('says when there is nothing in it', () => {
    expect(() => lines('<rect width="9" height="9"/>')).toThrow(/nothing in the drawing has a colour/);
  });
});

describe('SVG, style sheets', () => {
  /** What sharp, whose renderer is not ours, paints in the middle of each of the ten squares of a row. */
  async function painted(source: string, squares: number): Promise<string[]> {
    const { data, info } = await sharp(Buffer.from(source), { density: 72 })
      .flatten({ background: '#ffffff' })
      .raw()
      .toBuffer({ resolveWithObject: true });
    return Array.from({ length: squares }, (_, i) => {
      const at = (Math.floor(info.height / 2) * info.width + 10 * i + 5) * info.channels;
      return `#${data.subarray(at, at + 3).toString('hex')}`;
    });
  }

  it.each([
    [
      'descendants',
      '.hull rect { fill: #110000 }',
      '<g class="hull"><g><rect/></g></g><rect fill="#220000"/>',
    ],
    ['children', 'g > rect { fill: #110000 } svg > rect { fill: #120000 }', '<g><rect/></g><rect/>'],
    [
      'siblings',
      'rect + rect { fill: #110000 } circle ~ rect { fill: #120000 }',
      '<rect fill="#220000"/><rect/>',
    ],
    [
      'compounds',
      'rect.a.b { fill: #110000 } .a#x { fill: #120000 }',
      '<rect class="a b"/><rect class="b" fill="#220000"/><rect id="x" class="a b"/>',
    ],
    [
      'attributes',
      '[data-role="sea"] { fill: #110000 } [id^="boot"] { fill: #120000 }',
      '<rect data-role="sea"/><rect id="boot-top"/>',
    ],
    [
      'negations',
      'rect:not(.a) { fill: #110000 } rect:not([id]).b { fill: #120000 }',
      '<rect class="a" fill="#220000"/><rect/><rect class="b"/>',
    ],
    ['lists', 'circle, rect.a, .c rect { fill: #110000 }', '<rect class="a"/><g class="c"><rect/></g>'],
    [
      'importance',
      'rect { fill: #110000 !important } #x { fill: #120000 }',
      '<rect id="x"/><rect style="fill:#130000"/>',
    ],
    [
      'weight before order',
      '#x { fill: #110000 } .a { fill: #120000 } rect { fill: #130000 }',
      '<rect id="x" class="a"/><rect class="a"/><rect/>',
    ],
    ['sheets before attributes', 'rect { fill: #110000 }', '<rect fill="#220000"/>'],
    [
      'first and nth',
      'rect:first-child { fill: #110000 } rect:nth-child(2) { fill: #120000 }',
      '<g><rect/><rect/><rect fill="#220000"/></g>',
    ],
    ['remarks and strings', '/* rect { fill: #120000 } */ rect { --x: "}"; fill: #110000 }', '<rect/>'],
  ])('%s give the colours that sharp paints', async (_, sheet, body) => {
    let n = 0;
    const placed = body.replace(/<rect/g, () => `<rect x="${10 * n++}" width="10" height="10"`);
    // in that renderer a sheet has to stand before what it styles, as everybody writes it
    const source = `<svg xmlns="http://www.w3.org/2000/svg" width="${10 * n}" height="10"><style>${sheet.replaceAll('>', '&gt;')}</style>${placed}</svg>`;
    const hexes = readBy(svg, source).lines.map((l) => l.slice(-7));
    // each colour once, named or not
    expect([...new Set(hexes)]).toEqual([...new Set(await painted(source, n))]);
  });

  it('says what is for other media, and follows variables as far as they lead', () => {
    const { lines: read, warnings } = readBy(
      svg,
      drawing(
        '<rect width="9" height="9" class="a"/><g class="night"><rect x="20" width="9" height="9" class="a"/></g><rect x="40" width="9" height="9" fill="var(--none, #030000)"/><rect x="60" width="9" height="9" fill="var(--round)" />',
        `<style>:root { --sea: #010000; --deep: var(--sea); --round: var(--round) } .night { --sea: #020000; --deep: var(--sea) }
         .a { fill: var(--deep) } @media (prefers-color-scheme: dark) { .a { fill: red } } @media print { .a { fill: blue } }</style>`,
      ),
    );
    expect(read).toEqual([' #010000', ' #020000', ' #030000']);
    expect(
      lines(
        '<rect width="9" height="9"/>',
        '<style>@media screen and (min-width: 600px) { rect { fill: #040000 } }</style>',
      ),
    ).toEqual([' #040000']);
    expect(warnings).toEqual([
      '1 rule is for “dark” and was passed over.',
      '1 rule is for “print” and was passed over.',
    ]);
  });

  it('takes one colour written in five ways for one', () => {
    const ways = ['red', '#f00', '#FF0000', 'rgb(255, 0, 0)', 'hsl(0 100% 50%)'];
    expect(
      lines(ways.map((w, i) => `<rect x="${i * 10}" width="9" height="9" fill="${w}"/>`).join('')),
    ).toEqual([' #ff0000']);
  });

  it('comes back from sheets that no parser likes', () => {
    const odd = [
      '{{{{',
      '}',
      'rect{fill:red',
      `${'('.repeat(50_000)}`,
      'rect:nope(x){fill:red}',
      '@media {',
      `${'a '.repeat(3000)}{fill:red}`,
      '@import url(x);',
    ];
    for (const sheet of odd) {
      const source = drawing('<rect width="9" height="9" fill="#010203"/>', `<style>${sheet}</style>`);
      try {
        expect(readBy(svg, source).lines.length).toBe(1);
      } catch (error) {
        expect(String(error)).toMatch(/brackets more than 100 deep/);
      }
    }
  });
});

describe('a sheet of chips', () => {
  // laid out as drawing programs do: a page, chips with outlines, a name below each, and its code below that
  const chip = (x: number, y: number, hex: string, name: string) =>
    `<rect x="${x}" y="${y}" width="40" height="30" fill="${hex}" stroke="#000000"/><text x="${x}" y="${y + 40}" fill="#222222"><tspan x="${x}" dy="0">${name}</tspan><tspan x="${x}" dy="10">${hex}</tspan></text>`;
  const chips = [
    '#b3262b Signal red',
    '#14304a Deep',
    '#e7cfa6 Sand',
    '#8a5cc2 Heather',
    '#b3262b Again',
  ].map((line, i) => chip(10 + 60 * (i % 3), 10 + 70 * Math.floor(i / 3), line.slice(0, 7), line.slice(8)));
  const sheet = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 160"><rect width="200" height="160" fill="#ffffff"/>${chips.join('')}</svg>`;
  const read = async (text: string, options?: Record<string, boolean>) => {
    const { library, warnings } = await openSwatchFile(
      new TextEncoder().encode(text),
      'sheet.svg',
      countingIds(),
      undefined,
      options,
    );
    return {
      said: warnings,
      list: allSwatches(library).map((s) => `${s.name} ${toHex(s.color, screenOnly)}`),
    };
  };

  it('gives its chips alone, by the names beside them, and says so', async () => {
    const { list, said } = await read(sheet);
    expect(list).toEqual([
      'Signal red #b3262b',
      'Deep #14304a',
      'Sand #e7cfa6',
      'Heather #8a5cc2',
      'Again #b3262b',
    ]);
    expect(said.join()).toMatch(/sheet of chips/);
  });

  it('is read whole on request', async () => {
    const { list } = await read(sheet, { chips: false });
    expect(list).toEqual(expect.arrayContaining([' #ffffff', ' #000000', ' #b3262b']));
  });

  it('names stand to the right as well, under a transform', async () => {
    const beside = ['#b3262b Red', '#14304a Navy', '#e7cfa6 Sand', '#8a5cc2 Heather'].map(
      (line, i) =>
        `<g transform="translate(0 ${30 * i})"><circle cx="20" cy="20" r="10" fill="${line.slice(0, 7)}"/><text x="40" y="24">${line.slice(8)}</text></g>`,
    );
    const { list } = await read(`<svg xmlns="http://www.w3.org/2000/svg">${beside.join('')}</svg>`);
    expect(list).toEqual(['Red #b3262b', 'Navy #14304a', 'Sand #e7cfa6', 'Heather #8a5cc2']);
  });

  it('a drawing with more in it is read as a sheet only on request', async () => {
    const more = sheet.replace('</svg>', '<path d="M5 150h20v5h-20z" fill="#00aa00"/></svg>');
    expect((await read(more)).list).toEqual(expect.arrayContaining([' #ffffff', ' #000000', ' #00aa00']));
    const { list } = await read(more, { chips: true });
    expect(list).toContain('Signal red #b3262b');
    expect(list.join()).not.toMatch(/#ffffff|#000000/);
  });
});

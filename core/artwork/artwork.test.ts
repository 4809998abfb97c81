import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { coated, libraryOf } from '../testing.ts';
import { assignColors, changesOf, colorsOf, linksOf, readArtwork, recolored } from './index.ts';

/** What sharp paints (librsvg): an independent renderer. */
async function painted(
  svg: string,
  width = 200,
): Promise<{ at(x: number, y: number): string; data: Buffer; width: number }> {
  const { data, info } = await sharp(Buffer.from(svg), { density: 96 })
    .resize({ width })
    .flatten({ background: '#ffffff' })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const at = (x: number, y: number) => {
    const i = (y * info.width + x) * 3;
    return `#${data.subarray(i, i + 3).toString('hex')}`;
  };
  return { at, data, width: info.width };
}

const head = (inside: string, more = '') =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="200" height="100" viewBox="0 0 200 100"${more}>${inside}</svg>`;
const square = (n: number, attributes = '') =>
  `<rect x="${n * 40}" y="0" width="40" height="100" ${attributes}/>`;

/** Without variables, which the renderer does not follow. */
const plain = (svg: string) => {
  const value = /--x:\s*([^;}]+)/.exec(svg)?.[1];
  return value ? svg.replaceAll('var(--x)', value) : svg;
};

/** Recolours every part of some colours. */
function withColors(text: string, changes: Record<string, string>): string {
  const artwork = readArtwork(text);
  const wanted = new Map<number, string>();
  for (const { hex, parts } of colorsOf(artwork))
    if (changes[hex]) for (const p of parts) wanted.set(p.id, changes[hex]!);
  return recolored(artwork, wanted);
}
/** The pieces of a text that differ from another one, line by line. */
const changedLines = (a: string, b: string) => {
  const [x, y] = [a.split('\n'), b.split('\n')];
  expect(y.length).toBe(x.length);
  return y.filter((line, i) => line !== x[i]);
};

describe('colours of a drawing', () => {
  it('are found in attributes, styles, sheets, variables, groups, gradients, patterns and text, each once', () => {
    const text = head(`
<style>:root { --sea: #14304a } .brass { fill: #d9a441; } #hull > .red { stroke: rgb(138, 28, 36) }</style>
<defs><linearGradient id="g"><stop stop-color="#8a1c24"/><stop offset="1" style="stop-color:#fff"/></linearGradient>
<pattern id="p" width="4" height="4" patternUnits="userSpaceOnUse"><circle r="1" fill="#2f7d6b"/></pattern></defs>
${square(0, 'fill="#D9A441"')}
${square(1, 'class="brass"')}
<g id="hull" fill="var(--sea)">${square(2, 'class="red"')}</g>
${square(3, 'fill="url(#g)"')}
${square(4, 'fill="url(#p)"')}
<g color="#101820"><text x="4" y="90" fill="currentColor">Night <tspan>and day</tspan></text></g>`);
    const colors = colorsOf(readArtwork(text), 'appearance');
    expect(colors.map((c) => [c.hex, c.parts.length])).toEqual([
      ['#8a1c24', 2],
      ['#ffffff', 1],
      ['#2f7d6b', 1],
      ['#d9a441', 2],
      ['#14304a', 1],
      ['#101820', 1],
    ]);
    expect(colors.find((c) => c.hex === '#14304a')?.names).toEqual(['hull']);
  });

  it('have their shares of what is painted: a circle by its radius, a curve by Green’s theorem', () => {
    // four cubics with handles of 0.5522847498 are a circle to 0.03 %: common practice
    const k = 0.5522847498 * 10;
    const curve = `M10 0C10 ${k} ${k} 10 0 10C${-k} 10 -10 ${k} -10 0C-10 ${-k} ${-k} -10 0 -10C${k} -10 10 ${-k} 10 0Z`;
    const artwork = readArtwork(
      head(`<circle r="10" fill="red"/><path d="${curve}" fill="blue"/>
<path d="M10 0A10 10 0 0 1 -10 0A10 10 0 0 1 10 0Z" fill="lime"/><g transform="scale(2)"><rect width="10" height="10" fill="black"/></g>
<path d="M0 0h30v30h-30zM10 10v10h10v-10z" fill="gold"/><line x2="30" y2="40" stroke="navy" stroke-width="3"/>`),
    );
    const area = (i: number) => artwork.parts[i]!.area;
    for (const i of [0, 1, 2]) expect(Math.abs(area(i) / (Math.PI * 100) - 1)).toBeLessThan(0.0004);
    expect([area(3), area(4), area(5)]).toEqual([400, 800, 150]);
  });

  it('are those of shapes that nobody gave one: black', () => {
    const artwork = readArtwork(head(`<rect width="9" height="9"/><line x2="9" y2="9"/>`));
    expect(colorsOf(artwork).map((c) => c.hex)).toEqual(['#000000']);
    expect(recolored(artwork, new Map([[0, '#8a1c24']]))).toContain(
      '<rect width="9" height="9" style="fill:#8a1c24"/><line',
    );
  });
});

describe('a gradient', () => {
  it('has its colours of where it stands, not of what it paints, as librsvg paints it', async () => {
    const text =
      head(`<g color="#14304a"><linearGradient id="g"><stop stop-color="currentColor"/><stop offset="1" stop-color="currentColor"/></linearGradient></g>
<rect width="200" height="100" fill="url(#g)" color="#c8102e"/>`);
    expect(colorsOf(readArtwork(text)).map((c) => c.hex)).toEqual(['#14304a']);
    expect((await painted(text)).at(100, 50)).toBe('#14304a');
    expect((await painted(withColors(text, { '#14304a': '#2f7d6b' }))).at(100, 50)).toBe('#2f7d6b');
  });
});

describe('recolouring', () => {
  it('of a shape that is drawn in two colours changes the one, where it is drawn so', async () => {
    const text = head(`<defs><rect id="s" width="40" height="100"/></defs>
<use href="#s"/><use href="#s" x="40" fill="#c8102e"/><use href="#s" x="80" fill="#c8102e"/>`);
    const after = await painted(withColors(text, { '#000000': '#14304a' }));
    expect([20, 60, 100].map((x) => after.at(x, 50))).toEqual(['#14304a', '#c8102e', '#c8102e']);
  });

  it('rewrites a colour where it stands, and nothing else', () => {
    const text = head(`
<!-- #c8102e is the old red -->
${square(0, 'fill="#C8102E" data-note="#c8102e"')}
${square(1, "style='opacity:.5; fill : #c8102e ;'")}
${square(2, 'fill="#c8102f"')}`);
    const after = withColors(text, { '#c8102e': '#14304a' });
    expect(changedLines(text, after)).toEqual([
      square(0, 'fill="#14304a" data-note="#c8102e"'),
      square(1, "style='opacity:.5; fill : #14304a ;'"),
    ]);
  });

  it('keeps the opacity that is written into a colour, in the way it was written', () => {
    const text = head(`${square(0, 'fill="#c8102e80"')}${square(1, 'fill="rgba(200, 16, 46, 0.25)"')}`);
    const after = withColors(text, { '#c8102e': '#14304a' });
    expect(after).toContain('fill="#14304a80"');
    expect(after).toContain('fill="rgba(20, 48, 74, 0.25)"');
  });

  it.each([
    ['a rule', '<style>.a{fill:#c8102e}</style>', 'class="a"'],
    ['a group', '<g fill="#c8102e">', ''],
    ['a rule that is important', '<style>rect{fill:#c8102e !important}</style>', 'fill="blue"'],
    ['a variable', '<style>:root{--x:#c8102e}</style>', 'fill="var(--x)"'],
    ['currentColor', '<g color="#c8102e">', 'fill="currentColor"'],
  ])('of one part only leaves what shares %s as it is', async (_, before, attributes) => {
    const text = head(
      `${before}${square(0, attributes)}${square(1, attributes)}${square(2, attributes)}${before.startsWith('<g') ? '</g>' : ''}`,
    );
    const artwork = readArtwork(text);
    expect(colorsOf(artwork).map((c) => [c.hex, c.parts.length])).toEqual([['#c8102e', 3]]);
    const one = await painted(plain(recolored(artwork, new Map([[1, '#14304a']]))));
    expect([20, 60, 100].map((x) => one.at(x, 50))).toEqual(['#c8102e', '#14304a', '#c8102e']);
    const all = recolored(artwork, new Map([0, 1, 2].map((id) => [id, '#14304a'])));
    expect(all.length).toBe(text.length);
    const three = await painted(plain(all));
    expect([20, 60, 100].map((x) => three.at(x, 50))).toEqual(['#14304a', '#14304a', '#14304a']);
  });

  it('does not change what a mask lets through', async () => {
    const text =
      head(`<style>.w{fill:#ffffff}</style><mask id="m"><rect class="w" width="200" height="50"/></mask>
<rect width="200" height="100" fill="#c8102e" mask="url(#m)"/><rect class="w" x="100" width="20" height="20"/>`);
    const after = await painted(withColors(text, { '#ffffff': '#14304a' }));
    expect([after.at(50, 25), after.at(50, 75), after.at(110, 10)]).toEqual([
      '#c8102e',
      '#ffffff',
      '#14304a',
    ]);
  });

  it('shows the new colour exactly where the old was, and leaves every other pixel', async () => {
    const text = head(`
<style>.a{fill:#c8102e}.b{fill:#14304a} g .c:not(.d){fill:#d9a441}</style>
<defs><symbol id="s"><circle cx="10" cy="10" r="8" class="a"/></symbol>
<linearGradient id="g"><stop offset="0" stop-color="#c8102e"/><stop offset="1" stop-color="#ffffff"/></linearGradient></defs>
<rect width="200" height="100" class="b" shape-rendering="crispEdges"/>
<use xlink:href="#s" x="10" y="10"/><use href="#s" x="60" y="10"/>
<g><path class="c" d="M10 60h80v30h-80z" shape-rendering="crispEdges"/><path class="c d" d="M100 60h80v30h-80z" fill="#2f7d6b"/></g>
<rect x="100" y="10" width="80" height="30" fill="url(#g)"/>`);
    const before = await painted(text);
    const gold = await painted(withColors(text, { '#d9a441': '#8a1c24' }));
    for (let i = 0; i < before.data.length; i += 3) {
      const [old, own] = [before, gold].map((p) => p.data.subarray(i, i + 3).toString('hex'));
      expect(own).toBe(old === 'd9a441' ? '8a1c24' : old);
    }
    const red = await painted(withColors(text, { '#c8102e': '#2f7d6b' }));
    expect([red.at(20, 20), red.at(70, 20)]).toEqual(['#2f7d6b', '#2f7d6b']);
    // the gradient's other end is as white as it was, and its middle half of both
    expect(red.at(140, 25)).toMatch(/^#9[6-8]b[d-f]b[4-6]$/);
    expect(red.at(179, 25)).toMatch(/^#f[cdef]/);
  });
});

describe('links', () => {
  const text = head(`<style>.b { fill: #14304a }</style>
${square(0, 'fill="#c8102e" class="left"')}${square(1, 'style="fill:#c8102e80"')}${square(2, 'class="b"')}
<linearGradient id="g"><stop stop-color="#c8102e"/><stop offset="1" stop-color="#fff"/></linearGradient>${square(3, 'fill="url(#g)"')}`);
  const library = libraryOf('Inks', {
    '': [
      ['Harbour blue', '#1d4e89'],
      ['612', '#d9a441'],
    ],
  });
  const artwork = readArtwork(text);
  const assignments = assignColors(
    colorsOf(artwork),
    library,
    {
      map: [
        ['#c8102e', 'Harbour blue'],
        ['#14304a', '612'],
      ],
      nearest: false,
      within: 0,
    },
    coated,
  );
  const plainly = recolored(artwork, changesOf(assignments));
  const linked = (as: 'classes' | 'variables') =>
    recolored(artwork, changesOf(assignments), { links: { as, of: linksOf(assignments) } });

  it.each(['classes', 'variables'] as const)('as %s show what the drawing shows without', async (as) => {
    expect((await painted(linked(as))).data.equals((await painted(plainly)).data)).toBe(true);
  });

  it('as classes lead to one rule for each swatch, which recolours its parts', async () => {
    const found = linked('classes');
    expect(found).toContain('class="left fill-harbour-blue"');
    expect(found).toContain('<stop stop-color="#1d4e89" class="stop-harbour-blue"/>');
    expect(found.match(/<style>\.[^<]*<\/style>/)?.[0]).toBe(
      '<style>.fill-harbour-blue{fill:#1d4e89}.fill-612{fill:#d9a441}.stop-harbour-blue{stop-color:#1d4e89}</style>',
    );
    const again = await painted(
      found.replace('.fill-harbour-blue{fill:#1d4e89}', '.fill-harbour-blue{fill:#2f7d6b}'),
    );
    expect([20, 60, 100].map((x) => again.at(x, 50))).toEqual([
      '#2f7d6b',
      (await painted(plainly)).at(60, 50),
      '#d9a441',
    ]);
  });

  it('as variables have their names, and the colour beside', () => {
    const found = linked('variables');
    expect(found).toContain('<style>:root{--harbour-blue:#1d4e89;--612:#d9a441}</style>');
    expect(found).toContain('style="fill:var(--harbour-blue,#1d4e89)"');
    // what comes back is read through them
    expect(colorsOf(readArtwork(found), 'position').map((c) => c.hex)).toEqual([
      '#1d4e89',
      '#d9a441',
      '#ffffff',
    ]);
  });
});

describe('cleaning', () => {
  const hostile = head(
    `
<script>alert(1)</script><script xlink:href="https://example.com/x.js"/>
<rect id="r" width="9" height="9" fill="#123456" onclick="alert(1)" style="fill:url(https://example.com/a#b)"/>
<foreignObject width="9" height="9"><body xmlns="http://www.w3.org/1999/xhtml"><p>Hello</p></body></foreignObject>
<image href="https://example.com/x.png" width="9"/><image href="data:image/png;base64,iVBORw0KGgo=" width="9"/>
<a href="java&#10;script:alert(1)"><rect width="4" height="4" fill="#654321"/></a>
<use href="data:image/svg+xml,%3Csvg/%3E#x"/>
<animate attributeName="href" to="javascript:alert(1)"/><set attributeName="onload" to="alert(1)"/>
<style>@import url("https://example.com/x.css"); .a { fill: url('https://example.com/p.svg#p') } .b { background: u\\72l(https://example.com/) }</style>`,
    ' onload="alert(1)"',
  );

  it('takes out what acts or reaches out, says so, and leaves the rest', () => {
    const { text, warnings } = readArtwork(
      `<?xml version="1.0"?>\n<?xml-stylesheet href="https://example.com/x.css"?>\n${hostile}`,
    );
    expect(text).not.toMatch(
      /script|onclick|onload|alert|example\.com|foreignObject|data:image\/svg|@import/i,
    );
    expect(text).toContain('<image href="data:image/png;base64,iVBORw0KGgo=" width="9"/>');
    expect(text).toContain('fill="#123456"');
    for (const word of ['scripts', 'events', 'foreign objects', 'references to other files', 'instructions'])
      expect(warnings.join('\n')).toContain(word);
  });

  it('puts entities where they are used, and no markup comes of them', () => {
    const text = `<!DOCTYPE svg [<!ENTITY red "#c8102e"><!ENTITY x "<script>alert(1)</script>">]>\n${head(
      `<rect width="200" height="100" fill="&red;"/><title>&x;</title>`,
    )}`;
    const artwork = readArtwork(text);
    expect(artwork.text).not.toMatch(/ENTITY|<script/);
    expect(colorsOf(artwork).map((c) => c.hex)).toEqual(['#c8102e']);
    expect(() =>
      readArtwork(`<!DOCTYPE svg [<!ENTITY a "&b;&b;"><!ENTITY b "&a;">]>${head('<title>&a;</title>')}`),
    ).toThrow(/entity/);
  });

  it('a sound drawing stays to the letter', () => {
    const text = `<?xml version="1.0" encoding="UTF-8"?>\r\n<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd">\r\n${head(
      `\r\n  <g\r\n fill = '#c8102e'><path d="M0 0h9"/></g>`,
    )}\r\n`;
    const artwork = readArtwork(text);
    expect(artwork.text).toBe(text);
    expect(artwork.warnings).toEqual([]);
    expect(withColors(text, { '#c8102e': '#14304a' })).toBe(text.replace('#c8102e', '#14304a'));
  });

  it.each([
    ['10,000 groups in each other', head('<g>'.repeat(10_000) + '</g>'.repeat(10_000)), /deep/],
    ['no drawing', '<html xmlns="http://www.w3.org/1999/xhtml"/>', /svg/],
    ['damaged XML', '<svg><rect', /damaged|unclosed|XML/],
  ])('%s: refused, and said why', (_, text, why) => expect(() => readArtwork(text)).toThrow(why));

  it('cycles of use come to an end', () => {
    const text = head(
      `<g id="a"><use href="#b"/><rect width="9" height="9" fill="#c8102e"/></g><g id="b"><use href="#a"/></g>`,
    );
    expect(colorsOf(readArtwork(text)).map((c) => c.hex)).toEqual(['#c8102e']);
  });
});

describe('size', () => {
  const size = (attributes: string) => {
    const { width, height, unit } = readArtwork(
      `<svg xmlns="http://www.w3.org/2000/svg" ${attributes}/>`,
    ).size;
    return [Number(width.toFixed(3)), Number(height.toFixed(3)), unit];
  };
  // 1 in is 25.4 mm, 96 px, 72 pt and 6 pc (CSS Values 4, 6.2)
  it.each([
    ['width="85mm" height="55mm" viewBox="0 0 850 550"', 85, 55, 'mm'],
    ['width="2in" height="72pt"', 50.8, 25.4, 'mm'],
    ['width="210mm" viewBox="0 0 100 200"', 210, 420, 'mm'],
    ['width="640" height="480px"', 640, 480, 'px'],
    ['viewBox="10 10 32 16"', 32, 16, 'px'],
    ['width="100%" height="100%" viewBox="0 0 32 16"', 32, 16, 'px'],
    ['', 300, 150, 'px'],
  ])('%s', (attributes, ...wanted) => expect(size(attributes as string)).toEqual(wanted));
});

import { describe, expect, it } from 'vitest';
import { cleanArtwork } from './clean.ts';
import { readArtwork } from './parts.ts';

const NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"';
const svg = (inside: string, attributes = '') => `<svg ${NS}${attributes}>${inside}</svg>`;
const PNG =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
const cleaned = (text: string) => cleanArtwork(text).text;

describe('what is allowed stays to the letter', () => {
  it.each([
    [
      'notes and metadata of programs that draw',
      svg(
        `<metadata id="m"><rdf:RDF><cc:Work rdf:about=""><dc:format>image/svg+xml</dc:format><dc:title>Hull</dc:title></cc:Work></rdf:RDF></metadata>
         <n:view n:zoom="2" id="v" showgrid="false"><n:grid type="xy"/></n:view>
         <g n:label="Deck" n:groupmode="layer"><path d="M0 0h9" n:nodetypes="cc" fill="red"/></g>`,
        ' xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:cc="http://creativecommons.org/ns#" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:n="urn:notes"',
      ),
    ],
    [
      'styles in sections, with remarks, variables, queries and fonts of the system',
      svg(`<style type="text/css" media="screen"><![CDATA[
        @media (min-width: 9px) { .a > .b:not(.c)::before { fill: url( "#p" ); --x: 3 } }
        @font-face { font-family: "Own"; src: local("Own") } /* "quoted" <b> */
        @namespace svg url(http://www.w3.org/2000/svg);
        .e { fill: color-mix(in oklch, var(--a, rgb(1 2 3 / 50%)) 20%, red); content: "\\201C" }
      ]]></style>`),
    ],
    [
      'styles with their angle brackets written out',
      svg('<style>.a &gt; .b { fill: url(#p) } /* a &amp; b */</style>'),
    ],
    [
      'references to parts, pictures that came with it, and links into it',
      svg(`<image width='9' height='9' xlink:href="${PNG}"/><use href="#a" xlink:href='#a'/>
        <a href="#a" xlink:title="A"><rect fill="url(#g)" style="mask:url('#m');-n-note:'x, y'"/></a>`),
    ],
    [
      'animations of the look',
      svg(
        '<rect><animate attributeName="fill" values="red;blue" dur="2s" fill="freeze"/><animateTransform attributeName="transform" type="rotate" from="0" to="90" dur="1s"/></rect>',
      ),
    ],
    ['remarks with anything in them', `<!-- <script> url(x) -->${svg('<!-- @import "x" <script> -->')}`],
    [
      'undeclared usual prefixes, and no namespace at all',
      '<svg><use xlink:href="#a"/><rect fill="red"/></svg>',
    ],
    [
      'own data, and words for screen readers',
      svg('<g data-name="Hull &amp; deck" aria-label="a" role="img"><title>a</title></g>'),
    ],
  ])('%s', (_, text) => {
    const { text: clean, warnings } = cleanArtwork(text);
    expect(clean).toBe(text);
    expect(warnings).toEqual([]);
  });
});

describe('what is not allowed is cut out and told, and nothing beside it', () => {
  it.each([
    ['<script>a</script><rect/>', '<rect/>', /scripts \(line 1\)/],
    ['<rect fill="red" onclick="a" width="9"/>', '<rect fill="red" width="9"/>', /events/],
    ['<rect\n onclick="a"/>', '<rect/>', /events/],
    [
      '<rect style="fill:red;filter:url(//x);stroke:blue"/>',
      '<rect style="fill:red;stroke:blue"/>',
      /other files/,
    ],
    ['<rect style="filter:url(//x)" fill="red"/>', '<rect fill="red"/>', /other files/],
    [
      '<style>.a{fill:red}@import "x";.b{fill:blue;filter:url(x#y)}</style>',
      '<style>.a{fill:red}.b{fill:blue;}</style>',
      /other files/,
    ],
    ['<image href="//x" width="9"/>', '<image width="9"/>', /other files/],
    ['<image href="data:image/png;base64,PHN2Zy8+"/>', '<image/>', /other files/],
    [`<use href="${PNG}"/>`, '<use/>', /other files/],
    ['<g invented="a"/>', '<g/>', /attributes that SVG does not have/],
    ['<blink>a</blink><g/>', '<g/>', /“blink”/],
    ['<x:g xmlns:x="http://www.w3.org/1999/xhtml"/><g/>', '<g/>', /“x:g”/],
    [
      '<rect x:href="a" xmlns:x="urn:x" x:note="b"/>',
      '<rect xmlns:x="urn:x" x:note="b"/>',
      /taken for others/,
    ],
    ['<rect><set attributeName="href" to="#b"/></rect>', '<rect></rect>', /animations/],
  ])('%s', (given, left, says) => {
    const { text, warnings } = cleanArtwork(svg(given));
    expect(text).toBe(svg(left));
    expect(warnings.join(' ')).toMatch(says);
    expect(cleanArtwork(text)).toMatchObject({ text, warnings: [] });
  });

  it('what is cut out leaves no two halves that are something together', () => {
    for (const inside of [
      '<style>@im<script/>port "x";</style>',
      '<style>a{fill:u<g/>rl(x)}</style>',
      '<style>@im<![CDATA[port]]> "x";</style>',
      '<style>a{b:ur/**/l(x);fill:url/**/(x)}@im<!---->port "x";</style>',
    ]) {
      const clean = cleaned(svg(inside));
      expect(clean.replace(/<[^>]*>|<!--[\s\S]*?-->/g, '')).not.toMatch(/@import|url\(x/);
      expect(cleaned(clean)).toBe(clean);
    }
  });

  it('instructions and document types go, wherever they stand, and entities are put where they were used', () => {
    const text = `<?xml version="1.0"?>\n<!-- <!DOCTYPE svg> --><?a >?><!DOCTYPE svg [<!ENTITY c "#c8102e"><!ATTLIST svg onload CDATA "x">]>\n${svg('<rect fill="&c;"/><?b?><text>&c;</text>')}`;
    expect(cleaned(text)).toBe(
      `<?xml version="1.0"?>\n<!-- <!DOCTYPE svg> -->\n${svg('<rect fill="#c8102e"/><text>#c8102e</text>')}`,
    );
  });

  it('of two attributes that differ in their prefix alone, the one without counts', () => {
    const [one] = readArtwork(
      svg(
        '<g xmlns:f="urn:f"><rect f:width="1" width="20" height="10" fill="#123456"/></g>',
        ' width="20" height="10"',
      ),
    ).parts;
    expect(one!.area).toBe(200);
  });
});

describe('what is made to be gone through for ever is refused', () => {
  it.each([
    ['instructions', svg('<?a?>'.repeat(10_001))],
    ['closing brackets', svg(`<style><![CDATA[${']'.repeat(1_000_001)}]]></style>`)],
    ['entities that are declared', `<!DOCTYPE svg [${'<!ENTITY a "b">'.repeat(10_001)}]>${svg('')}`],
    [
      'entities that are used',
      `<!DOCTYPE svg [<!ENTITY a "">]>${svg(`<text>${'&a;'.repeat(1_000_001)}</text>`)}`,
    ],
  ])('%s', (_, text) => {
    expect(() => cleanArtwork(text)).toThrow(/more than/);
  });
});

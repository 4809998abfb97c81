import serialize from 'bplist-creator';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { toHex } from '../color/index.ts';
import { coated, fleet, lent, libraryOf, readBy, writeBy } from '../testing.ts';
import { aco } from './aco/aco.ts';
import { assetCatalogue } from './asset-catalogue/asset-catalogue.ts';
import { compareWritten } from './changes.ts';
import { clr } from './clr/clr.ts';
import { hex } from './hex/hex.ts';
import { recognise } from './index.ts';
import { kpl } from './kpl/kpl.ts';
import { layoutXml } from './layout-xml/layout-xml.ts';
import { officeTheme } from './office-theme/office-theme.ts';
import { resources } from './resources/resources.ts';
import { theme } from './theme/theme.ts';
import { less, scss } from './variables/variables.ts';

const named = (json: unknown) => readBy(theme, JSON.stringify(json));
const id = (source: string | Uint8Array) =>
  recognise(typeof source === 'string' ? strToU8(source) : source)?.id;

describe('theme JSON', () => {
  it('reads nested scales, lists, objects with a value, and rows', () => {
    const source = {
      primary: '#8a1c24',
      blue: { 50: '#eef6ff', 500: 'rgb(20 48 74)', dark: { 900: 'oklch(0.3 0.05 240)' } },
      gray: ['#111111', '#222'],
      spacing: { small: '4px' },
      sea: {
        deep: { value: '#010203', type: 'color', comment: 'at night' },
        far: { value: '{sea.deep.value}' },
      },
      swatches: [
        { name: 'Rope', hex: '#c8a064' },
        { name: 'Tar', rgb: [26, 26, 26] },
      ],
    };
    const { lines, swatches } = named(source);
    expect(lines.filter((l) => !l.startsWith('blue / dark'))).toEqual([
      'primary #8a1c24',
      'blue | 50 #eef6ff',
      'blue | 500 #14304a',
      'gray | 0 #111111',
      'gray | 1 #222222',
      'sea | deep #010203',
      'sea | far #010203',
      'swatches | Rope #c8a064',
      'swatches | Tar #1a1a1a',
    ]);
    expect(swatches.find((s) => s.name === 'deep')!.note).toBe('at night');
    expect(id(JSON.stringify(source))).toBe('theme');
  });

  it('follows references inside of a colour, and tells those that lead nowhere', () => {
    const { lines, swatches, warnings } = named({
      base: { value: '#102030' },
      thin: { value: 'rgba({base}, 0.5)' },
      lost: { value: '{gone}' },
      ring: { value: '{ring}' },
    });
    expect(lines).toEqual(['base #102030', 'thin #102030']);
    expect(swatches[1]!.alpha).toBe(0.5);
    expect(warnings).toEqual(['2 references lead nowhere, and were left out.']);
  });

  it('writes what any JSON reader finds under its name, in both shapes', () => {
    const plain = JSON.parse(writeBy(theme, fleet));
    expect(plain).toMatchObject({
      Paper: '#ffffff',
      Hull: { 'Boot-top red': toHex(fleet.groups[1]!.swatches[0]!.color, coated) },
    });
    const older = JSON.parse(writeBy(theme, fleet, { shape: 'value' }));
    expect(older.Hull.Cutting).toEqual({
      value: toHex(fleet.groups[1]!.swatches[2]!.color, coated),
      type: 'color',
    });
    expect(readBy(theme, writeBy(theme, fleet, { shape: 'value' })).lines).toEqual(
      readBy(theme, writeBy(theme, fleet)).lines,
    );
  });
});

describe('mobile resources', () => {
  const file = `<?xml version="1.0" encoding="utf-8"?>
<resources xmlns:tools="urn:x"><color name="sea">#80112233</color><color name="short">#abc</color><color name="thin">#8abc</color>
<color name="same">@color/sea</color><item name="item" type="color">#445566</item><dimen name="gap">4dp</dimen><color name="bad">teal</color></resources>`;

  it('reads opacity in front, references and items, and tells what is none', () => {
    const { lines, swatches, warnings } = readBy(resources, file);
    expect(lines).toEqual(['sea #112233', 'short #aabbcc', 'thin #aabbcc', 'same #112233', 'item #445566']);
    expect(swatches.map((s) => s.alpha)).toEqual([128 / 255, undefined, 0x88 / 255, 128 / 255, undefined]);
    expect(warnings).toEqual([
      expect.stringMatching(/line 3: the colour “bad” is “teal”/),
      '1 resource is not a colour and was left out.',
    ]);
    expect(id(file)).toBe('resources');
  });

  it('writes names that a build takes', () => {
    const library = libraryOf('x', {
      '': [
        ['24 hours', '#112233'],
        ['class', '#112233'],
        ['Fähre', '#112233'],
        ['Sea / deep', '#112233'],
        ['sea deep', '#112233'],
      ],
    });
    expect([...writeBy(resources, library).matchAll(/name="([^"]+)"/g)].map((m) => m[1])).toEqual([
      'c_24_hours',
      'c_class',
      'fa_hre',
      'sea_deep',
      'sea_deep_2',
    ]);
  });
});

describe('asset catalogues', () => {
  const set = (...colors: object[]) => strToU8(JSON.stringify({ colors, info: { author: 'x', version: 1 } }));
  const color = (space: string, components: object, more = {}) => ({
    idiom: 'universal',
    color: { 'color-space': space, components },
    ...more,
  });
  const dark = { appearances: [{ appearance: 'luminosity', value: 'dark' }] };

  it('read components of all three kinds, wide spaces, and what is for the dark as a group', () => {
    const zip = zipSync({
      'Sea.xcassets/Contents.json': strToU8('{"info":{"author":"x","version":1}}'),
      'Sea.xcassets/Hull/Navy.colorset/Contents.json': set(
        color('srgb', { red: '0x14', green: '48', blue: '0.2902', alpha: '1.000' }),
        color('display-p3', { red: '0.1', green: '0.2', blue: '0.3', alpha: '0.5' }, dark),
      ),
      'Sea.xcassets/Fog.colorset/Contents.json': set(color('gray-gamma-22', { white: '0.5', alpha: '1' })),
    });
    const { library, swatches } = readBy(assetCatalogue, zip);
    expect(library.name).toBe('Sea');
    expect(library.groups.map((g) => g.name)).toEqual(['', 'Hull', 'Hull, dark']);
    expect(swatches.map((s) => [s.name, s.color.space, s.alpha])).toEqual([
      ['Fog', 'gray', 1 / 255],
      ['Navy', 'rgb', undefined],
      ['Navy', 'p3', 0.5],
    ]);
    expect(toHex(swatches[1]!.color, coated)).toBe('#14304a');
    expect([id(zip), id(set(color('srgb', { red: '1.0' })))]).toEqual(['asset-catalogue', 'asset-catalogue']);
  });

  it('hold as many as an archive may have files, and the rest is reported', async () => {
    const many = libraryOf('Many', {
      A: Array.from({ length: 3000 }, (_, i): [string, string] => [`A ${i}`, '#14304a']),
      B: Array.from({ length: 2001 }, (_, i): [string, string] => [`B ${i}`, '#14304a']),
    });
    const bytes = assetCatalogue.encode(many, lent);
    expect(id(bytes)).toBe('asset-catalogue');
    expect(readBy(assetCatalogue, bytes).swatches.length).toBe(5000);
    const told = await compareWritten(many, bytes, assetCatalogue, coated);
    expect(told.arrivals.filter((a) => !a.there).length).toBe(1);
  });

  it('write a folder for each group and a set for each swatch, as the archive shows', () => {
    const files = unzipSync(assetCatalogue.encode(fleet, lent));
    expect(Object.keys(files)).toEqual(
      expect.arrayContaining([
        'Fleet livery.xcassets/Contents.json',
        'Fleet livery.xcassets/Hull/Contents.json',
        'Fleet livery.xcassets/Hull/Cutting.colorset/Contents.json',
      ]),
    );
    const paper = JSON.parse(
      new TextDecoder().decode(files['Fleet livery.xcassets/Paper.colorset/Contents.json']),
    );
    expect(paper.colors[0].color).toEqual({
      'color-space': 'gray-gamma-22',
      components: { white: '1.000', alpha: '1.000' },
    });
  });
});

describe('office themes', () => {
  const scheme = (accent: string) =>
    `<a:clrScheme name="Fleet"><a:dk1><a:sysClr val="windowText" lastClr="000000"/></a:dk1><a:lt1><a:sysClr val="window" lastClr="FFFFFF"/></a:lt1><a:accent1><a:srgbClr val="${accent}"/></a:accent1></a:clrScheme>`;
  const xml = (inside: string) =>
    `<?xml version="1.0"?><a:theme xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" name="x"><a:themeElements>${inside}</a:themeElements>`;

  it('are read from a theme and from the document it lies in, each scheme once', () => {
    const one = `${xml(scheme('8A1C24'))}</a:theme>`;
    expect(readBy(officeTheme, one).lines).toEqual(['Dark 1 #000000', 'Light 1 #ffffff', 'Accent 1 #8a1c24']);
    const document = zipSync({
      '[Content_Types].xml': strToU8('<Types/>'),
      'ppt/theme/theme1.xml': strToU8(one),
      'ppt/theme/theme2.xml': strToU8(one),
      'ppt/theme/theme3.xml': strToU8(
        `${xml(scheme('14304A'))}<a:custClrLst><a:custClr name="Rope"><a:srgbClr val="C8A064"/></a:custClr></a:custClrLst></a:theme>`,
      ),
    });
    const { lines } = readBy(officeTheme, document);
    expect(lines).toContain('Own colours | Rope #c8a064');
    expect(lines.filter((l) => l.includes('#8a1c24')).length).toBe(1);
    expect([id(one), id(document)]).toEqual(['office-theme', 'office-theme']);
  });

  it('are written with the darkest and lightest where text and page go, and every name in the list', () => {
    const text = writeBy(officeTheme, fleet);
    expect(/<a:dk1><a:srgbClr val="(\w+)"/.exec(text)![1]!.toLowerCase()).toBe(
      // the spot red is the darkest of the five
      toHex(fleet.groups[1]!.swatches[0]!.color, coated).slice(1),
    );
    expect(/<a:lt1><a:srgbClr val="(\w+)"/.exec(text)![1]).toBe('FFFFFF');
    expect(readBy(officeTheme, text).swatches.map((s) => s.name)).toEqual(
      fleet.groups.flatMap((g) => g.swatches.map((s) => s.name)),
    );
  });
});

describe('KPL', () => {
  it('reads entries where their places say, in every space and depth', () => {
    const entry = (name: string, inside: string, row: number, column: number, more = '') =>
      `<ColorSetEntry name="${name}" id="" bitdepth="U8" ${more}>${inside}<Position row="${row}" column="${column}"/></ColorSetEntry>`;
    const zip = zipSync({
      mimetype: strToU8('x'),
      'colorset.xml': strToU8(
        `<?xml version="1.0"?><ColorSet version="1.0" name="Sea" comment="made up" columns="8" rows="2">${entry('Second', '<CMYK space="x" c="0.1" m="0.2" y="0.3" k="0.4"/>', 0, 3, 'spot="true"')}${entry('First', '<sRGB r="1" g="0.2" b="0"/>', 0, 0)}<Group name="Night" rows="1">${entry('Lab', '<Lab space="x" L="0.5" a="0.5" b="0.6"/>', 0, 0)}${entry('Odd', '<XYZ x="1"/>', 0, 1)}</Group></ColorSet>`,
      ),
    });
    const { library, swatches, warnings } = readBy(kpl, zip);
    expect([library.name, library.note, library.columns]).toEqual(['Sea', 'made up', 8]);
    expect(swatches.map((s) => [s.name, s.kind, s.color.space])).toEqual([
      ['First', 'process', 'rgb'],
      ['Second', 'spot', 'cmyk'],
      ['Lab', 'process', 'lab'],
    ]);
    expect(swatches[2]!.color.components.map((v) => Math.round(v * 10) / 10)).toEqual([50, 0, 25.6]);
    expect(warnings).toEqual([expect.stringMatching(/“Odd” has no values/)]);
    expect(id(zip)).toBe('kpl');
  });
});

describe('lists that are only read', () => {
  it('layout programs’ XML, older and newer', () => {
    const text = `<?xml version="1.0" encoding="UTF-8"?><LAYOUTCOLORS Name="Sea">
      <COLOR NAME="Ink" SPACE="CMYK" C="10" M="20" Y="30" K="40" Spot="1" Register="0"/><COLOR NAME="Screen" SPACE="RGB" R="255" G="0" B="51"/>
      <COLOR NAME="Measured" SPACE="Lab" L="50" A="-10" B="20"/><COLOR Spot="0" CMYK="#00ff8000" NAME="Older" Register="0"/><COLOR NAME="Web" RGB="#010203"/>
      <COLOR NAME="Registration" CMYK="#ffffffff" Register="1"/><COLOR NAME="Empty"/></LAYOUTCOLORS>`;
    const { library, swatches, warnings } = readBy(layoutXml, text);
    expect(library.name).toBe('Sea');
    expect(
      swatches.map((s) => [
        s.name,
        s.kind,
        s.color.space,
        ...s.color.components.map((v) => Math.round(v * 100)),
      ]),
    ).toEqual([
      ['Ink', 'spot', 'cmyk', 10, 20, 30, 40],
      ['Screen', 'process', 'rgb', 100, 0, 20],
      ['Measured', 'process', 'lab', 5000, -1000, 2000],
      ['Older', 'process', 'cmyk', 0, 100, 50, 0],
      ['Web', 'process', 'rgb', 0, 1, 1],
      ['Registration', 'technical', 'cmyk', 100, 100, 100, 100],
    ]);
    expect(warnings).toEqual([expect.stringMatching(/“Empty” has no values/)]);
    expect(id(text)).toBe('layout-xml');
  });

  const data = (text: string) => Buffer.from(`${text}\0`);
  it('operating systems’ lists: keyed archives, as the package bplist-creator writes them', () => {
    const archive = {
      $version: 100000,
      $archiver: 'NSKeyedArchiver',
      $top: { root: 1 },
      $objects: [
        '$null',
        { NSName: 6, NSNames: 2, NSColors: 3 },
        { 'NS.objects': [4, 5, 9] },
        { 'NS.objects': [7, 8, 10] },
        'Hull',
        'Brass',
        'Sea list',
        { NSColorSpace: 1, NSRGB: data('0.2 0.4 1 0.5') },
        { NSColorSpace: 5, NSCMYK: data('0.04 0.26 0.7 0.12 1') },
        'Pattern',
        { NSColorSpace: 10 },
      ],
    };
    const bytes = new Uint8Array(serialize(archive));
    const { swatches, warnings } = readBy(clr, bytes);
    expect(swatches.map((s) => [s.name, s.color, s.alpha])).toEqual([
      ['Hull', { space: 'rgb', components: [0.2, 0.4, 1] }, 0.5],
      ['Brass', { space: 'cmyk', components: [0.04, 0.26, 0.7, 0.12] }, undefined],
    ]);
    expect(warnings).toEqual([expect.stringMatching(/1 colour is kept in a way that has no numbers/)]);
    expect(id(bytes)).toBe('clr');
  });

  it('operating systems’ lists as XML, and those that nobody can read', () => {
    const text = `<?xml version="1.0"?><plist version="1.0"><dict><key>Hull</key><string>#8a1c24</string><key>Sea</key><dict><key>NSRGB</key><data>MCAwLjUgMQA=</data></dict></dict></plist>`;
    expect(readBy(clr, text).lines).toEqual(['Hull #8a1c24', 'Sea #0080ff']);
    expect(id(text)).toBe('clr');
    expect(() => readBy(clr, '\u0004\u000bstreamtyped')).toThrow(/Save the list again on a newer system/);
    // eight lists, each of which holds the next ten times: a hundred million strings from a hundred bytes
    const lists = Array.from({ length: 8 }, (_, i) => [0xaa, ...Array(10).fill(i + 1)]);
    const objects = [...lists, [0x51, 0x78]];
    const offsets = objects.map((_, i) => 8 + objects.slice(0, i).flat().length);
    const table = 8 + objects.flat().length;
    const trailer = [
      ...Array(6).fill(0),
      1,
      1,
      ...[objects.length, 0, table].flatMap((n) => [0, 0, 0, 0, 0, 0, 0, n]),
    ];
    const bomb = Uint8Array.from([...strToU8('bplist00'), ...objects.flat(), ...offsets, ...trailer]);
    expect(() => readBy(clr, bomb)).toThrow(/would grow beyond any list/);
    const bytes = new Uint8Array(serialize(['x']));
    for (let i = 8; i < bytes.length; i++) {
      const torn = Uint8Array.from(bytes);
      torn[i] = 0xff;
      expect(() => readBy(clr, torn)).toThrow(/./);
    }
  });
});

describe('lists of codes', () => {
  it('read opacity in front, and names beside codes', () => {
    const { lines, swatches, warnings } = readBy(hex, '; a remark\nFF8A1C24\n8014304A\n');
    expect(lines).toEqual([' #8a1c24', ' #14304a']);
    expect(swatches.map((s) => s.alpha)).toEqual([undefined, 128 / 255]);
    expect(warnings).toEqual(['2 codes have an alpha value, read from the first digits.']);
    expect(id('; a remark\nFF8A1C24\n8014304A\n')).toBe('hex');
    for (const list of [
      'Hull red #8a1c24\nDeep sea #14304a\n',
      '#8a1c24 Hull red\n#14304a Deep sea\n',
      'Hull red: #8a1c24\nDeep sea: #14304a',
      'Hull red = "#8a1c24"\nDeep sea = "#14304a"\n',
      '- Hull red – 0x8a1c24\n- Deep sea – 0x14304a\n',
    ])
      expect([id(list), ...readBy(hex, list).lines]).toEqual(['hex', 'Hull red #8a1c24', 'Deep sea #14304a']);
  });

  it('write case, prefix, opacity and names as they are asked for', () => {
    const library = libraryOf('x', { '': [['Hull', '#8a1c24']] });
    expect(writeBy(hex, library)).toBe('#8a1c24\n');
    expect(writeBy(hex, library, { before: '', letters: 'capital' })).toBe('8A1C24\n');
    expect(writeBy(hex, library, { before: '0x', opacity: 'first', names: true })).toBe('Hull 0xff8a1c24\n');
  });

  it('ACO for old programs has its first section alone', () => {
    const [old, both] = [true, false].map((o) => aco.encode(fleet, lent, { old: o }));
    expect(old!.length).toBe(4 + 5 * 10);
    expect(both!.subarray(0, old!.length)).toEqual(old);
    expect(readBy(aco, old!).swatches.map((s) => s.name)).toEqual(['', '', '', '', '']);
  });
});

describe('SCSS and Less, read', () => {
  it('variables, references, maps and remarks', () => {
    const text = `// Palette\n$navy: #14304a !default; // for the hull\n$alias: $navy;\n$gap: 4px;\n/* $old: red; */\n$url: "http://x.org/$no: #fff";
$scale: (\n  "50": #eef6ff,\n  500: rgb(20, 48, 74),\n  dark: ("900": $navy)\n) !default;\n.a { $inner: #010203; color: $inner }\n`;
    const { lines, swatches, warnings } = readBy(scss, text);
    expect(lines).toEqual([
      'navy #14304a',
      'alias #14304a',
      'inner #010203',
      'scale | 50 #eef6ff',
      'scale | 500 #14304a',
      'scale / dark | 900 #14304a',
    ]);
    expect(swatches[0]!.note).toBe('for the hull');
    expect(warnings).toEqual(['2 variables are not colours and were left out.']);
    expect(id(text)).toBe('scss');
    const sheet =
      '@navy: #14304a;\n@alias: @navy;\n@escaped: ~"#010203";\n@media screen { a { color: @navy } }\n';
    expect(readBy(less, sheet).lines).toEqual(['navy #14304a', 'alias #14304a', 'escaped #010203']);
    expect(id(sheet)).toBe('less');
  });

  it('our own names come back from the remarks, and are reported to be for Papillon only', () => {
    expect(readBy(scss, writeBy(scss, fleet)).swatches.map((s) => s.name)).toEqual(
      fleet.groups.flatMap((g) => g.swatches.map((s) => s.name)),
    );
    expect(readBy(scss, writeBy(scss, fleet), { asOthers: true }).swatches.map((s) => s.name)).toContain(
      'boot-top-red',
    );
  });
});

import less from 'less';
import postcss from 'postcss-scss';
import { compileString } from 'sass';
import { describe, expect, it } from 'vitest';
import { parseColor, toHex } from '../../color/index.ts';
import type { Library } from '../../swatch/model.ts';
import { coated, fleet, readBy, recognisedAs, writeBy } from '../../testing.ts';
import { css } from '../css/css.ts';
import { less as lessFormat, scss } from './variables.ts';

const swatches = fleet.groups.flatMap((g) => g.swatches);
const odd: Library = {
  ...fleet,
  groups: [
    {
      id: 'g',
      name: 'Odd /* names */',
      swatches: ['24 hours', 'Hull', 'hull', '', '// x', '…', 'قارب'].map((name, i) => ({
        id: `${i}`,
        name,
        kind: 'process',
        color: parseColor('#8a1c24'),
      })),
    },
  ],
};

describe('SCSS', () => {
  it('have lines that end with CR alone, as on old systems', () => {
    expect(readBy(scss, '// x\r$hull: #102030;\r$sea: #2f7d6b; // Sea\r').lines).toEqual([
      'hull #102030',
      'Sea #2f7d6b',
    ]);
    expect(readBy(lessFormat, '@hull: #102030;\r@sea: #2f7d6b;\r').lines).toEqual([
      'hull #102030',
      'sea #2f7d6b',
    ]);
    expect(recognisedAs('// x\r$hull: #102030;\r$sea: #2f7d6b;\r')).toBe('scss');
  });

  it('is compiled by sass: every variable a colour', () => {
    const text = writeBy(scss, fleet);
    const names = [...text.matchAll(/^\$([^:]+):/gm)].map((m) => m[1]);
    const { css } = compileString(
      `@use "sass:meta";\n${text}\n${names.map((n, i) => `.s${i} { color: $${n}; --type: #{meta.type-of($${n})} }`).join('\n')}`,
    );
    expect(css.match(/--type: color/g)?.length).toBe(swatches.length);
    expect(css).toContain('lab(40% 57 33)');
    expect(css).toContain('#2f7d6b');
  });

  it('gives valid, different names and keeps the original as a remark', () => {
    const root = postcss.parse(writeBy(scss, odd));
    const names = root.nodes.flatMap((n) => (n.type === 'decl' ? [n.prop] : []));
    expect(names).toEqual(['$c-24-hours', '$hull', '$hull-2', '$swatch', '$x', '$swatch-2', '$قارب']);
    expect(() => compileString(writeBy(scss, odd))).not.toThrow();
    expect(writeBy(scss, odd)).toContain('$c-24-hours: #8a1c24; // 24 hours\n');
  });
});

describe('Less', () => {
  it('is compiled by less to the colours as the screen shows them', async () => {
    const text = writeBy(lessFormat, fleet);
    const names = [...text.matchAll(/^@([^:]+):/gm)].map((m) => m[1]);
    const { css } = await less.render(
      `${text}\n${names.map((n, i) => `.s${i} { color: @${n} }`).join('\n')}`,
    );
    expect([...css.matchAll(/color: (\S+);/g)].map((m) => m[1])).toEqual(
      swatches.map((s) => toHex(s.color, coated)),
    );
    await expect(less.render(writeBy(lessFormat, odd))).resolves.toBeTruthy();
  });
});

describe('Names in the case and with the beginning that are asked for', () => {
  const asked = [
    ['camel', 'ui', ['ui24Hours', 'uiHull', 'uiHull_2']],
    ['snake', '', ['c_24_hours', 'hull', 'hull_2']],
    ['capitals', 'C_', ['C_24_HOURS', 'C_HULL', 'C_HULL_2']],
    ['kebab', 'color-', ['color-24-hours', 'color-hull', 'color-hull-2']],
  ] as const;

  it.each(asked)('%s after “%s”: valid, different, and the original comes back', (style, prefix, wanted) => {
    for (const format of [css, scss, lessFormat]) {
      const text = writeBy(format, odd, { case: style, prefix });
      // postcss, with its parser of SCSS, which reads the variables of all three
      const names: string[] = [];
      postcss
        .parse(text.replace(/^@/gm, '$'))
        .walkDecls(({ prop }) => void names.push(prop.replace(/^(?:--|\$)/, '')));
      expect(new Set(names).size, format.id).toBe(odd.groups[0]!.swatches.length);
      const plain = format === css ? names.map((n) => n.replace(/^c[-_](?=\d)/i, '')) : names;
      if (format !== css) expect(plain.slice(0, 3)).toEqual(wanted);
      else expect(plain[1]).toBe(wanted[1]);
      if (format === scss) expect(() => compileString(text)).not.toThrow();
      expect(readBy(format, text).swatches.map((s) => s.name)).toEqual(
        odd.groups[0]!.swatches.map((s) => s.name),
      );
    }
  });

  it('takes out of the beginning what no name may have', () => {
    expect(writeBy(scss, fleet, { prefix: 'a { b: $' })).toMatch(/^\$ab\w+: #/m);
  });
});

describe('Lists of colours', () => {
  it.each([
    [
      lessFormat,
      '@sea: #010203, rgb(4, 5, 6);\n@first: extract(@sea, 1);\n@second: extract(@sea, 2);\n@none: extract(@sea, 3);\n',
    ],
    [
      scss,
      '$sea: #010203, rgb(4, 5, 6);\n$first: nth($sea, 1);\n$second: list.nth($sea, 2);\n$none: nth($sea, 9);\n',
    ],
  ])('give what is picked out of them by its name', (format, text) => {
    const { lines, warnings } = readBy(format, text);
    expect(lines).toEqual(['first #010203', 'second #040506']);
    expect(warnings.join()).toMatch(/1 variable is not a colour/);
  });

  it('give all of theirs where nothing is picked', () => {
    expect(readBy(scss, '$sea: #010203, hsl(0, 0%, 100%);\n$size: 1px, 2px;\n').lines).toEqual([
      'sea 1 #010203',
      'sea 2 #ffffff',
    ]);
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
    expect(recognisedAs(text)).toBe('scss');
    const sheet =
      '@navy: #14304a;\n@alias: @navy;\n@escaped: ~"#010203";\n@media screen { a { color: @navy } }\n';
    expect(readBy(lessFormat, sheet).lines).toEqual(['navy #14304a', 'alias #14304a', 'escaped #010203']);
    expect(recognisedAs(sheet)).toBe('less');
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

import less from 'less';
import postcss from 'postcss-scss';
import { compileString } from 'sass';
import { describe, expect, it } from 'vitest';
import { parseColor, toHex } from '../../color/index.ts';
import type { Library } from '../../swatch/model.ts';
import { coated, fleet, writeBy } from '../../testing.ts';
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

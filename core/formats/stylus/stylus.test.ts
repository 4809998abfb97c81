import stylusCompiler from 'stylus';
import { describe, expect, it } from 'vitest';
import { fromCss, toHex } from '../../color/index.ts';
import { coated, readBy, recognisedAs } from '../../testing.ts';
import { stylus } from './stylus.ts';

// variables and hashes as the published documentation of Stylus has them
const sheet = `// Fleet
$deep = #14304a // the hull
brass ?= rgb(217, 164, 65)
alias = $deep
size = 14px
signs = {
  stop: #b3262b
  go: hsl(166, 45%, 34%),
  more: { soft: #abc }
}
one = { only: #123456 }
body
  color $deep
`;

describe('Stylus', () => {
  it('gives the colours that the stylus package makes of the same names', () => {
    const { swatches, library, warnings } = readBy(stylus, sheet);
    expect(
      library.groups
        .map((g) => [g.name, g.swatches.map((s) => s.name)])
        .filter(([, list]) => list!.length > 0),
    ).toEqual([
      ['', ['deep', 'brass', 'alias']],
      ['signs', ['stop', 'go']],
      ['signs / more', ['soft']],
      ['one', ['only']],
    ]);
    const asked = ['$deep', 'brass', 'alias', 'signs.stop', 'signs.go', 'signs.more.soft', 'one.only'];
    const css = stylusCompiler.render(
      `${sheet}\n${asked.map((name, i) => `.a${i}\n  color ${name}`).join('\n')}\n`,
    );
    const theirs = [...css.matchAll(/\.a\d+ \{\s*color: (.*?);/g)].map((m) =>
      toHex(fromCss(m[1]!)!.color, coated),
    );
    expect(swatches.map((s) => toHex(s.color, coated))).toEqual(theirs);
    expect(swatches[0]!.note).toBe('the hull');
    expect(warnings).toEqual(['1 variable is not a colour and was left out.']);
    expect(recognisedAs(sheet)).toBe('stylus');
  });

  it('is not what other languages write', () => {
    expect(recognisedAs('paper = "#ffffff"\n')).toBe('toml');
    expect(recognisedAs('$deep: #14304a;\n')).toBe('scss');
    expect(recognisedAs('const deep = "#14304a";\n')).not.toBe('stylus');
  });
});

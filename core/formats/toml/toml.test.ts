import { describe, expect, it } from 'vitest';
import { readBy, recognisedAs } from '../../testing.ts';
import { toml } from './toml.ts';

describe('TOML themes', () => {
  it('are read with tables, dotted keys, inline tables and lists, numbers as names in their order', () => {
    // after the examples of the specification (TOML 1.0.0, “Table”, “Array of Tables”)
    const text = `title = "Fleet"
paper = "#ffffff" # white
[scale]
900 = "#111111"
50 = '#eeeeee'
sea.deep = "#14304a"
[colors]
brand = { value = "#0040c0", comment = "on sails" }
tar = [26, 26, 26]
[[swatches]]
name = "Rope"
hex = "#c8a064"
[[swatches]]
name = "Signal"
cmyk = [0, 100, 100, 0]
`;
    const { lines, swatches } = readBy(toml, text);
    expect(lines.slice(0, 6)).toEqual([
      'paper #ffffff',
      'scale | 900 #111111',
      'scale | 50 #eeeeee',
      'scale / sea | deep #14304a',
      'colors | brand #0040c0',
      'colors | tar #1a1a1a',
    ]);
    expect(swatches.slice(-2)).toMatchObject([
      { name: 'Rope' },
      { name: 'Signal', color: { space: 'cmyk', components: [0, 1, 1, 0] } },
    ]);
    expect(recognisedAs(text)).toBe('toml');
  });

  it('that are damaged are refused with the place', () => {
    expect(() => readBy(toml, 'a = "#112233"\nb = \n')).toThrow(/line 3, column \d+: it is no TOML/);
  });
});

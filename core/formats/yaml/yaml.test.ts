import { describe, expect, it } from 'vitest';
import { stringify } from 'yaml';
import { readBy, recognisedAs } from '../../testing.ts';
import { yaml } from './yaml.ts';

describe('YAML themes', () => {
  it('are read as the same theme in JSON is, as the package yaml writes it', () => {
    const text = stringify({
      colors: { hull: '#8a1c24', sea: { 500: 'oklch(0.6 0.1 200)', 50: '#eef6ff' } },
      swatches: [{ name: 'Tar', cmyk: [0, 0, 0, 90] }],
    });
    const { lines, swatches } = readBy(yaml, text);
    expect(lines.slice(0, 1)).toEqual(['colors | hull #8a1c24']);
    expect(swatches.at(-1)).toMatchObject({
      name: 'Tar',
      color: { space: 'cmyk', components: [0, 0, 0, 0.9] },
    });
    expect(recognisedAs(text)).toBe('yaml');
  });

  it('keep the order of numbers, follow anchors, and tell codes that are remarks', () => {
    const text =
      'scale:\n  900: "#111111"\n  50: &light \'#eeeeee\'\n  500: "#808080"\npaper: *light\nlost: #ff0000\n';
    const { lines, warnings } = readBy(yaml, text);
    expect(lines).toEqual([
      'paper #eeeeee',
      'scale | 900 #111111',
      'scale | 50 #eeeeee',
      'scale | 500 #808080',
    ]);
    expect(warnings).toEqual([expect.stringMatching(/^1 code stands without quotes/)]);
  });

  it('that are damaged or grow without end are refused with the place', () => {
    expect(() => readBy(yaml, 'a: "#112233"\nb: [1, 2\nc: {')).toThrow(/line \d+, column \d+: it is no YAML/);
    const bomb = `a: &a ["#111111"]\n${Array.from(
      { length: 12 },
      (_, i) =>
        `k${i}: &k${i} [${Array(9)
          .fill(`*${i === 0 ? 'a' : `k${i - 1}`}`)
          .join(', ')}]`,
    ).join('\n')}\n`;
    expect(() => readBy(yaml, bomb)).toThrow(/more swatches than|holds more than|more than any swatch file/);
  });
});

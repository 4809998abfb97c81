import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { coated, fleet, readBy, recognisedAs, writeBy } from '../../testing.ts';
import { theme } from './theme.ts';

const named = (json: unknown) => readBy(theme, JSON.stringify(json));

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
    expect(recognisedAs(JSON.stringify(source))).toBe('theme');
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

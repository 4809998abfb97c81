import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { gradientsOf } from '../../swatch/gradient.ts';
import { coated, libraryOf, readBy, recognisedAs, writeBy } from '../../testing.ts';
import { cpt } from './cpt.ts';

const stopsOf = (text: string) =>
  gradientsOf(readBy(cpt, text).library).flatMap((g) =>
    g.data.stops.map((s) => [toHex(s.color, coated), Number(s.at.toFixed(4))]),
  );

describe('CPT', () => {
  // after the forms in the published reference of such files (“Color palette tables”)
  it('reads numbers side by side, words with slashes, names, grays and HSV', () => {
    const old =
      '# COLOR_MODEL = RGB\n-10 0 0 255 0 255 255 255\n0 255 255 255 30 255 0 0\nB 0 0 0\nF 255 255 255\nN 128 128 128\n';
    expect(stopsOf(old)).toEqual([
      ['#0000ff', 0],
      ['#ffffff', 0.25],
      ['#ff0000', 1],
    ]);
    expect(recognisedAs(old)).toBe('cpt');
    expect(stopsOf('0 red 1 blue\n1 20/48/74 2 128 L\n')).toEqual([
      ...[
        ['#ff0000', 0],
        ['#0000ff', 0.5],
        ['#14304a', 0.5],
        ['#808080', 1],
      ],
    ]);
    expect(stopsOf('#COLOR_MODEL=HSV\n0 0-1-1 10 120-1-1\n')).toEqual([
      ['#ff0000', 0],
      ['#00ff00', 1],
    ]);
    expect(stopsOf('0 200/16/46 5 ; low\n5 20/48/74 9 ; high\n')).toEqual([
      ...[
        ['#c8102e', 0],
        ['#c8102e', 0.5556],
        ['#14304a', 0.5556],
        ['#14304a', 1],
      ],
    ]);
  });

  it('writes steps that go on where the last ended, and comes back', () => {
    const library = libraryOf('Sea', {
      '': [
        ['Deep', '#14304a'],
        ['Shallow', '#2f7d6b'],
        ['Sand', '#d9a441'],
      ],
    });
    const text = writeBy(cpt, library);
    const rows = text
      .split('\n')
      .filter((l) => /^\d/.test(l))
      .map((l) => l.split('\t'));
    expect([rows[0]![0], rows.at(-1)![2]]).toEqual(['0', '1']);
    rows.slice(1).forEach((row, i) => {
      expect(row[0]).toBe(rows[i]![2]);
    });
    expect([stopsOf(text)[0], stopsOf(text).at(-1)]).toEqual([
      ['#14304a', 0],
      ['#d9a441', 1],
    ]);
    expect(recognisedAs(text)).toBe('cpt');
  });

  it('says which line is none', () => {
    expect(() => readBy(cpt, '# COLOR_MODEL = RGB\n0 nothing 1\n')).toThrow(
      /line 2 .*is not a step of a scale/,
    );
  });
});

import { parse } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { gradientsOf } from '../../swatch/gradient.ts';
import { countingIds, type Library } from '../../swatch/model.ts';
import { anyColor, anyLibrary, coated, readBy, services } from '../../testing.ts';
import type { PlainFormat } from '../index.ts';
import { css } from './css.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const text = (format: PlainFormat, library: Library) =>
  new TextDecoder().decode(format.encode(library, services));
const read = (format: PlainFormat, source: string) => format.decode(bytes(source), countingIds()).library;
const entries = (l: Library) =>
  l.groups.flatMap((g) => g.swatches.map((s) => [toHex(s.color, coated), s.name]));

describe('CSS', () => {
  it('keeps every name and the exact Lab and RGB', () => {
    fc.assert(
      fc.property(anyLibrary(anyColor(['rgb', 'lab'])), (library) => {
        const there = read(css, text(css, library));
        const full = (l: Library) => l.groups.flatMap((g) => g.swatches.map((s) => [s.name, s.color]));
        // a lone half of a surrogate pair cannot be written as text
        const wellFormed = (l: Library) => full(l).map(([n, c]) => [(n as string).toWellFormed(), c]);
        expect(full(there)).toEqual(wellFormed(library));
      }),
    );
  });

  it('writes declarations that culori parses, under valid and different names', () => {
    const swatch = (id: string, name: string) => ({
      id,
      name,
      kind: 'process' as const,
      color: { space: 'rgb' as const, components: [0, 0.5, 1] },
      alpha: 0.5,
    });
    const library: Library = {
      id: 'l',
      name: '',
      groups: [
        {
          id: 'g',
          name: '',
          swatches: [swatch('1', 'Night boat'), swatch('2', 'night-boat'), swatch('3', '*/ }')],
        },
      ],
    };
    const lines = text(css, library).split('\n').slice(1, -2);
    expect(lines.map((l) => l.trim().split(':')[0])).toEqual(['--night-boat', '--night-boat-2', '--swatch']);
    for (const line of lines)
      expect(parse(line.replace(/^.*?: |;.*$/g, ''))).toMatchObject({ mode: 'rgb', b: 1, alpha: 0.5 });
  });

  it('reads any notation from a hand-written sheet', () => {
    const sheet = `/* --old: red; */ :root { --ink: #161616; --sea : oklch(0.6 0.1 230) ; --gap: 4px;
      --paper: hsl(40 30% 95%) } .x { --boat: rebeccapurple; color: var(--ink) }`;
    const { library, warnings } = css.decode(bytes(sheet), countingIds());
    expect(entries(library).map(([, name]) => name)).toEqual(['ink', 'sea', 'paper', 'boat']);
    expect(entries(library)[3][0]).toBe('#663399');
    expect(warnings).toEqual(['1 custom property is not a colour and was left out.']);
  });

  it('follows variables, fallbacks and importance, and leaves out what leads nowhere', () => {
    const { lines, warnings } = readBy(
      css,
      `:root { --base: #010203 !important; --one: var(--base); --two: var(--one, red); --three: var(--missing, var(--base));
        --rgb: 4 5 6; --four: rgb(var(--rgb) / 50%); --five: var(--round); --round: var(--five); --six: 210 100% 50%; --gap: 4px }`,
    );
    expect(lines).toEqual([
      'base #010203',
      'one #010203',
      'two #010203',
      'three #010203',
      'four #040506',
      'six #0080ff',
    ]);
    expect(warnings).toEqual(['4 custom properties are not colours and were left out.']);
  });

  it('does not mind comments beside a colour, and lets what is important stand', () => {
    const { lines } = readBy(
      css,
      `:root { --brand: #0040c0 /* brand */; --ink: /* dark */ #111; --first: #aa0000 !important; --first: #00aa00; }
       @property --quiet { syntax: "<color>"; inherits: true; initial-value: #778899; }
       @property --loud { syntax: "<color>"; inherits: true; initial-value: #778899; }
       :root { --loud: #ff0000; }`,
    );
    expect(lines.sort()).toEqual([
      ...['brand #0040c0', 'first #aa0000', 'ink #111111', 'loud #ff0000', 'quiet #778899'],
    ]);
  });

  it('computes mixes, relative colours and sums, and names what it cannot', () => {
    const { lines, swatches, warnings } = readBy(
      css,
      `:root { --brand: #336699; --half: color-mix(in srgb, var(--brand), white); --sum: rgb(calc(100 + 20) min(300, 20) 0);
        --turned: hsl(from var(--brand) h s calc(l + 20)); --two: color-mix(in srgb, light-dark(red, blue), black);
        --inks: device-cmyk(0 1 1 0 / 50%); --lost: color-mix(in srgb, var(--gone), red); --here: color-mix(in srgb, currentColor, red); }`,
    );
    expect(lines).toEqual([
      ...['brand #336699', 'half #99b3cc', 'sum #781400', 'turned #6699cc', 'two #800000'],
      expect.stringMatching(/^inks /),
    ]);
    expect(swatches.at(-1)).toMatchObject({ color: { space: 'cmyk', components: [0, 1, 1, 0] }, alpha: 0.5 });
    expect(warnings).toEqual([
      'Left out: --lost, since “color-mix(in srgb, var(--gone), red)” leads to no colour.',
      'Left out: --here, since “color-mix(in srgb, currentColor, red)” leads to no colour.',
    ]);
  });

  it('reads gradients without a direction, with double places, angles and none, and names what it cannot', () => {
    const stops = (value: string) => {
      const { library, warnings } = readBy(css, `:root{--g: ${value};}`);
      return [
        gradientsOf(library).map((g) => g.data.stops.map((s) => `${toHex(s.color, coated)} ${s.at}`)),
        warnings,
      ];
    };
    expect(stops('linear-gradient(red, blue)')).toEqual([[['#ff0000 0', '#0000ff 1']], []]);
    expect(stops('linear-gradient(red 0 50%, blue 50% 100%)')).toEqual([
      [['#ff0000 0', '#ff0000 0.5', '#0000ff 0.5', '#0000ff 1']],
      [],
    ]);
    expect(stops('conic-gradient(from 0.25turn, red 0.5turn, blue 270deg)')).toEqual([
      [['#ff0000 0.5', '#0000ff 0.75']],
      [],
    ]);
    expect(stops('linear-gradient(red 10px, blue 90px)')).toEqual([
      [],
      [expect.stringMatching(/^Left out: the gradient --g, .*linear-gradient\(red 10px, blue 90px\)/)],
    ]);
    expect(stops('linear-gradient(wrong, red, blue)')[0]).toEqual([]);
  });

  it('makes groups of what is for the dark, for wide screens and for other themes, not doubles', () => {
    const sheet = `:root, .light { --sea: #000001; --sand: #000002 }
      @media (prefers-color-scheme: dark) { :root { --sea: #000003; --both: var(--sand) } }
      @supports (color: color(display-p3 1 1 1)) { @media (color-gamut: p3) { :root { --sea: color(display-p3 0 0.5 1) } } }
      [data-theme="dark"] { --sand: #000004 }
      .theme-dusk { --sea: #000005; --sand: #000002 }
      :root { --sea: #000006; --ink: light-dark(#000007, #000008) }
      @media print { :root { --sea: #000009 } } @media (min-width: 40em) { :root { --wide: #00000a } }`;
    const { lines, library } = readBy(css, sheet);
    expect(library.groups.map((g) => g.name)).toEqual(['', 'dark', 'wide gamut', '.theme-dusk', 'print']);
    expect(lines.filter((l) => !l.startsWith('wide gamut'))).toEqual([
      'sea #000006',
      'sand #000002',
      'ink #000007',
      'wide #00000a',
      'dark | sea #000003',
      'dark | both #000004',
      'dark | sand #000004',
      'dark | ink #000008',
      '.theme-dusk | sea #000005',
      'print | sea #000009',
    ]);
    expect(library.groups[2]!.swatches[0]!.color).toEqual({ space: 'p3', components: [0, 0.5, 1] });
  });
});

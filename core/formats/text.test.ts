import { parse } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toHex } from '../color/index.ts';
import { countingIds, type Library } from '../swatch/model.ts';
import { anyColor, anyLibrary, anyName, coated, lent, readBy } from '../testing.ts';
import { css } from './css/css.ts';
import { gpl } from './gpl/gpl.ts';
import { hex } from './hex/hex.ts';
import { FormatError, openSwatchFile, type PlainFormat } from './index.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const text = (format: PlainFormat, library: Library) =>
  new TextDecoder().decode(format.encode(library, lent));
const read = (format: PlainFormat, source: string) => format.decode(bytes(source), countingIds()).library;
const entries = (l: Library) =>
  l.groups.flatMap((g) => g.swatches.map((s) => [toHex(s.color, coated), s.name]));

describe('GPL', () => {
  it('writes the lines that other readers expect', () => {
    const library: Library = {
      id: 'l',
      name: 'Rope',
      columns: 4,
      groups: [
        {
          id: 'g',
          name: '',
          swatches: [
            { id: 's', name: 'New rope', kind: 'process', color: { space: 'rgb', components: [1, 0.2, 0] } },
          ],
        },
      ],
    };
    expect(text(gpl, library)).toBe('GIMP Palette\nName: Rope\nColumns: 4\n#\n255  51   0\tNew rope\n');
    // a second reader, as plain as can be: numbers, then the rest of the line
    const second = text(gpl, library)
      .split('\n')
      .flatMap((line) => /^\s*(\d+)\s+(\d+)\s+(\d+)\s+(.*)$/.exec(line)?.slice(1, 5) ?? []);
    expect(second).toEqual(['255', '51', '0', 'New rope']);
  });

  it('keeps every name without control characters, and the columns', () => {
    const oneLine = anyName.filter((n) => !/[\0-\x08\n-\x1f\x7f\u2028\u2029]/.test(n) && n.isWellFormed());
    fc.assert(
      fc.property(anyLibrary(anyColor(['rgb'], 255), oneLine), (library) => {
        const there = read(gpl, text(gpl, { ...library, columns: 7 }));
        expect(entries(there)).toEqual(entries(library));
        expect([there.name, there.columns]).toEqual([library.name, 7]);
      }),
    );
  });

  it('opens without name, columns, remarks, names or a last line break', () => {
    expect(entries(read(gpl, 'GIMP Palette\r\n0 0 0\r\n255 255 255 White deck\r\n  1\t2   3'))).toEqual([
      ['#000000', ''],
      ['#ffffff', 'White deck'],
      ['#010203', ''],
    ]);
  });

  it('reads the line that says colours have an opacity', () => {
    const { swatches } = readBy(
      gpl,
      'GIMP Palette\nName: x\nChannels: RGBA\n#\n1 2 3 255\tFull\n1 2 3 51 Faint',
    );
    expect(swatches.map((s) => [s.name, s.alpha])).toEqual([
      ['Full', undefined],
      ['Faint', 0.2],
    ]);
  });

  it('reads Latin-1 as well as UTF-8', () => {
    const latin = Uint8Array.from([...'GIMP Palette\n1 2 3\tGr\xfcn'].map((c) => c.charCodeAt(0)));
    expect(gpl.decode(latin, countingIds()).library.groups[0].swatches[0].name).toBe('Grün');
    expect(entries(read(gpl, 'GIMP Palette\n1 2 3\tGrün'))[0][1]).toBe('Grün');
  });

  it.each([
    ['1 2 x', /line 3 .*is not a colour/],
    ['1 2 300 loud', /line 3 has the value 300/],
  ])('passes over %j and tells its line, unless there is nothing else', (line, message) => {
    const { lines, warnings } = readBy(gpl, `GIMP Palette\n1 2 3\tok\n${line}\n4 5 6\ttoo\n`);
    expect(lines).toEqual(['ok #010203', 'too #040506']);
    expect(warnings).toEqual([expect.stringMatching(message)]);
    expect(() => read(gpl, `GIMP Palette\n\n${line}\n`)).toThrow(message);
  });
});

describe('hex list', () => {
  it('takes the ways people write one', () => {
    const list = read(hex, '; ropes\n#8a1c24 #fff\n2F7D6B, 0x112233\n#00ff0080\n');
    expect(entries(list).map(([h]) => h)).toEqual(['#8a1c24', '#ffffff', '#2f7d6b', '#112233', '#00ff00']);
    expect(list.groups[0].swatches[4].alpha).toBeCloseTo(128 / 255);
  });

  it('names the line of a slip, and goes on', async () => {
    const { warnings, library } = await openSwatchFile(
      bytes('#112233\n#445566\n#77889g\n#aabbcc\n'),
      'a.txt',
      countingIds(),
    );
    expect(entries(library).map(([h]) => h)).toEqual(['#112233', '#445566', '#aabbcc']);
    expect(warnings).toEqual([expect.stringMatching(/line 3: “#77889g”/)]);
  });

  it('is not seen in prose or numbers', async () => {
    await expect(
      openSwatchFile(bytes('Dear crew, 100 200 300'), 'letter.txt', countingIds()),
    ).rejects.toThrow(FormatError);
  });
});

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

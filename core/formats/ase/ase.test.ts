import { readFileSync } from 'node:fs';
import aseUtils from 'ase-utils';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countingIds, isLoose, type Library } from '../../swatch/model.ts';
import { anyColor, anyLibrary, services } from '../../testing.ts';
import { ByteWriter } from '../../text/bytes.ts';
import { FormatError } from '../../text/error.ts';
import { ase } from './ase.ts';

const decode = (bytes: Uint8Array) => ase.decode(bytes, countingIds());
const header = (blocks: number) => new ByteWriter().ascii('ASEF').u16(1).u16(0).u32(blocks);
const red = (name = 'Red', type = 2) => {
  const body = new ByteWriter()
    .u16(name.length + 1)
    .utf16(name)
    .u16(0)
    .ascii('RGB ')
    .f32(1)
    .f32(0)
    .f32(0)
    .u16(type)
    .done();
  return new ByteWriter().u16(1).u32(body.length).bytes(body).done();
};

describe('ASE', () => {
  it('keeps names, groups, kinds and numbers of all four spaces to the last bit', () => {
    const color = anyColor(['rgb', 'cmyk', 'gray']);
    fc.assert(
      fc.property(anyLibrary(color), (library) => {
        const there = decode(ase.encode(library, services)).library;
        const shape = (l: Library) =>
          l.groups
            .filter((g) => !isLoose(l, g) || g.swatches.length > 0)
            .map((g) => [
              isLoose(l, g) ? null : g.name,
              g.swatches.map((s) => [s.name, s.kind === 'process' ? 'process' : 'spot', s.color]),
            ]);
        expect(shape(there)).toEqual(shape(library));
      }),
    );
    // Lab passes through L/100 in 32 bits: what was read once is written back bit for bit
    fc.assert(
      fc.property(anyLibrary(anyColor(['lab'])), (library) => {
        const once = ase.encode(library, services);
        expect(ase.encode(decode(once).library, services)).toEqual(once);
      }),
    );
  });

  it('is read by the ase-utils package with the same names, models and numbers', () => {
    fc.assert(
      fc.property(anyLibrary(anyColor(['rgb', 'cmyk', 'lab', 'gray'])), (any) => {
        // its reader loses its place after the end of a group, so one group at the end of the file it is
        const library = {
          ...any,
          groups: [any.groups[0], ...any.groups.slice(1, 2).filter((g) => g.swatches.length)],
        };
        const theirs = aseUtils.decode(Buffer.from(ase.encode(library, services)));
        const expected = library.groups.flatMap((g) => g.swatches);
        const found = theirs.colors;
        expect(theirs.groups.map((g) => g.name)).toEqual(library.groups.slice(1).map((g) => g.name));
        expect(found.map((c) => c.name)).toEqual(expected.map((s) => s.name));
        expect(found.map((c) => c.model.trim().toLowerCase())).toEqual(expected.map((s) => s.color.space));
        expect(found.map((c) => c.type)).toEqual(
          expected.map((s) => (s.kind === 'process' ? 'normal' : 'spot')),
        );
        found.forEach((c, i) => {
          const { space, components } = expected[i].color;
          c.color.forEach((v, k) => {
            expect(v).toBeCloseTo(space === 'lab' && k === 0 ? components[k] / 100 : components[k], 4);
          });
        });
      }),
    );
  });

  it('reads a file made by others (the sample in ase-utils) as its own reader does', () => {
    const bytes = readFileSync(new URL('../../../node_modules/ase-utils/test.ase', import.meta.url));
    const theirs = aseUtils.decode(bytes);
    const { library, warnings } = decode(bytes);
    expect(warnings).toEqual([]);
    const named = library.groups.filter((g) => g.name !== '');
    expect(named.map((g) => g.name)).toEqual(theirs.groups.map((g) => g.name));
    expect(named.map((g) => g.swatches.map((s) => s.color.components))).toEqual(
      theirs.groups.map((g) =>
        g.colors.map((c) =>
          c.model.trim() === 'LAB' ? [c.color[0] * 100, c.color[1], c.color[2]] : c.color,
        ),
      ),
    );
  });

  it('keeps global, spot and normal apart', () => {
    const bytes = header(3).bytes(red('a', 0)).bytes(red('b', 1)).bytes(red('c', 2)).done();
    const [a, b, c] = decode(bytes).library.groups[0].swatches;
    expect([a.kind, a.global, b.kind, c.kind, c.global]).toEqual([
      'process',
      true,
      'spot',
      'process',
      undefined,
    ]);
    expect(ase.encode(decode(bytes).library, services)).toEqual(bytes);
  });

  it('opens empty groups, names of no length and groups without a name', () => {
    const noName = new ByteWriter().u16(0xc001).u32(2).u16(0).u16(0xc002).u32(0).done();
    const { library } = decode(header(3).bytes(noName).bytes(red('')).done());
    expect(library.groups.map((g) => [g.name, g.swatches.length])).toEqual([
      ['', 1],
      ['', 0],
    ]);
  });

  it('reads on when the header counts too few, and says so', () => {
    const { library, warnings } = decode(header(1).bytes(red()).bytes(red('Second')).done());
    expect(library.groups[0].swatches.map((s) => s.name)).toEqual(['Red', 'Second']);
    expect(warnings[0]).toMatch(/counts 1 block; 2 are there/);
  });

  it('reads groups in groups and unclosed ones, GRAY in capitals, and passes over unknown blocks', () => {
    const start = (name: string) => {
      const body = new ByteWriter()
        .u16(name.length + 1)
        .utf16(name)
        .u16(0)
        .done();
      return new ByteWriter().u16(0xc001).u32(body.length).bytes(body).done();
    };
    const end = new ByteWriter().u16(0xc002).u32(0).done();
    const gray = new ByteWriter().u16(1).u16(0).ascii('GRAY').f32(0.5).u16(2).done();
    const bytes = header(9)
      .bytes(start('Hull'))
      .bytes(red('outer'))
      .bytes(start('Boot-top'))
      .bytes(red('inner'))
      .bytes(end)
      .bytes(red('outer again'))
      .bytes(new ByteWriter().u16(0x77).u32(3).bytes(new Uint8Array(3)).done())
      .bytes(new ByteWriter().u16(1).u32(gray.length).bytes(gray).done())
      .bytes(start('Open'))
      .done();
    const { library, warnings } = decode(bytes);
    expect(library.groups.map((g) => [g.name, ...g.swatches.map((s) => s.name)])).toEqual([
      ['Hull', 'outer', 'outer again', ''],
      ['Hull / Boot-top', 'inner'],
      ['Hull / Open'],
    ]);
    expect(library.groups[0].swatches[2].color).toEqual({ space: 'gray', components: [0.5] });
    expect(warnings.join(' ')).toMatch(/unknown type 119 .*is not closed.*Groups lie inside groups/);
  });

  it.each<[string, Uint8Array, RegExp]>([
    [
      'cut short in a block',
      header(1).bytes(red().slice(0, 20)).done(),
      /block 1 of 1 \(byte 12\).*cut short/,
    ],
    ['a count that is too high', header(3).bytes(red()).done(), /promises 3 blocks, but it ends after 1/],
    ['a length that points outside', header(1).u16(1).u32(0xffffffff).u16(1).done(), /4294967295 bytes long/],
    ['a name longer than its block', header(1).u16(1).u32(4).u16(900).u16(0).done(), /name in block 1/],
    [
      'an unknown model',
      header(1)
        .bytes(red().map((b) => (b === 82 ? 90 : b)))
        .done(),
      /unknown colour model/,
    ],
    ['a newer version', new ByteWriter().ascii('ASEF').u16(9).u16(0).u32(0).done(), /version is 9/],
  ])('refuses %s, naming the place', (_, bytes, message) => {
    expect(() => decode(bytes)).toThrow(FormatError);
    expect(() => decode(bytes)).toThrow(message);
  });
});

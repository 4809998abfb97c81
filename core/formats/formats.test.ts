import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { toHex } from '../color/index.ts';
import { countingIds, countSwatches, isLoose, type Library } from '../swatch/model.ts';
import { anyColor, anyLibrary, coated } from '../testing.ts';
import { ase } from './ase/ase.ts';
import {
  changes,
  fileName,
  formatById,
  formats,
  openSwatchFile,
  perGroup,
  recognise,
  summarize,
} from './index.ts';

const services = await localServices();

const eightBit = anyLibrary(anyColor(['rgb'], 255));
const isText = (name: string) => name.isWellFormed() && !/[\p{Cc}\p{Cn}\u2028\u2029]/u.test(name);
/** Sheets take longer to write than lists. */
const runs = (id: string) => ({ numRuns: id === 'pdf' ? 4 : 30 });

// what holds gradients alone is looked at in gradients.test.ts
const ofSwatches = formats.filter((f) => f.traits.write && !f.traits.gradientsOnly);
/** Where a group's name is the key of an object or a folder, of which there is one: a second gets a number, which is reported. */
const KEYED = new Set(['theme', 'asset-catalogue']);

describe.each(ofSwatches.map((f) => [f.id, f] as const))('%s', async (id, format) => {
  it('carries every colour in order, and reports every name, group and kind it does not', async () => {
    await fc.assert(
      fc.asyncProperty(anyLibrary(), async (library) => {
        const bytes = await format.encode(library, services);
        const there = (await format.decode(bytes, countingIds())).library;
        expect(countSwatches(there)).toBe(countSwatches(library));
        const report = await changes(library, format, services);
        // what others do not read is reported too, though we do
        const told = new Set(report.changes.flatMap((c) => (c.papillonOnly ? [] : [`${c.id} ${c.what}`])));
        const arrived = there.groups.flatMap((g) => g.swatches.map((s) => [g, s] as const));
        let i = 0;
        for (const group of library.groups)
          for (const swatch of group.swatches) {
            const [thereGroup, other] = arrived[i++];
            expect(told.has(`${swatch.id} name`)).toBe(swatch.name !== other.name);
            expect(told.has(`${swatch.id} kind`)).toBe(swatch.kind !== other.kind);
            expect(told.has(`${swatch.id} space`)).toBe(swatch.color.space !== other.color.space);
            expect(told.has(`${swatch.id} role`)).toBe((swatch.role ?? '') !== (other.role ?? ''));
            if (group.name !== thereGroup.name) expect(told.has(`${swatch.id} group`)).toBe(true);
            // what the format says of itself holds
            const mixed =
              format.traits.oneSpace &&
              library.groups.some((g) => g.swatches.some((s) => s.color.space !== swatch.color.space));
            if (format.traits.spaces.includes(swatch.color.space) && !mixed)
              expect(other.color.space).toBe(swatch.color.space);
            if (format.traits.kinds.includes(swatch.kind)) expect(other.kind).toBe(swatch.kind);
            if (!format.traits.names) expect(other.name).toBe('');
            // text formats have no place for control characters; that such a name changes is reported above
            if (format.traits.groups && !KEYED.has(id) && !isLoose(library, group) && isText(group.name))
              expect(thereGroup.name).toBe(group.name);
          }
      }),
      runs(id),
    );
    // the largest formats take their time on a busy machine
  }, 300_000);

  it('holds 8-bit RGB exactly', async () => {
    await fc.assert(
      fc.asyncProperty(eightBit, async (library) => {
        const hexes = (l: Library) => l.groups.flatMap((g) => g.swatches.map((s) => toHex(s.color, coated)));
        const bytes = await format.encode(library, services);
        expect(hexes((await format.decode(bytes, countingIds())).library)).toEqual(hexes(library));
      }),
      runs(id),
    );
  });

  it.runIf(format.traits.read)('is recognised by its content alone', async () => {
    await fc.assert(
      fc.asyncProperty(eightBit, async (library) => {
        // an empty list has nothing to be recognised by
        if (countSwatches(library) === 0) return;
        expect(recognise(await format.encode(library, services))?.id).toBe(id);
      }),
      runs(id),
    );
  });

  it('says what is wrong with noise, and keeps its name in the message', async () => {
    const noise = Uint8Array.from({ length: 300 }, (_, i) => (i % 2) * 0x9b);
    await expect(openSwatchFile(noise, 'noise', countingIds(), format)).rejects.toThrow(
      new RegExp(`^noise: read as ${format.name}, .{10}`),
    );
  });
});

describe('opening', () => {
  it('says no to an empty file and to pure noise', async () => {
    await expect(openSwatchFile(new Uint8Array(0), 'nothing', countingIds())).rejects.toThrow(
      /nothing: .*empty/,
    );
    await expect(openSwatchFile(new Uint8Array(300).fill(0x9b), 'noise.ase', countingIds())).rejects.toThrow(
      /noise.ase: .*neither a picture nor a swatch file/,
    );
  });

  it('says what a colour profile is that was taken for swatches', async () => {
    const profile = new Uint8Array(
      readFileSync(new URL('../../profiles/coated-offset.icc', import.meta.url)),
    );
    await expect(openSwatchFile(profile, 'coated.icc', countingIds())).rejects.toThrow(
      /coated\.icc: it is the ICC profile of a press or printer, and holds no swatches/,
    );
  });

  it('names the library after the file, and remembers where each swatch came from', async () => {
    const { library, format } = await openSwatchFile(
      new TextEncoder().encode('#112233\n'),
      'in/Night boat.v2.hex',
      countingIds(),
    );
    expect(library.name).toBe('Night boat.v2');
    expect(format.id).toBe('hex');
    expect(library.groups[0].swatches[0].origin).toEqual({
      from: 'file',
      name: 'Night boat.v2.hex',
      format: 'hex',
    });
  });

  it('does not care for the ending', async () => {
    const bytes = ase.encode({ id: 'l', name: '', groups: [] }, services);
    expect((await openSwatchFile(bytes, 'palette.gpl', countingIds())).format.id).toBe('ase');
  });

  it('refuses a file that cannot be a swatch file by its size', async () => {
    await expect(openSwatchFile(new Uint8Array(200e6), 'film.mov', countingIds())).rejects.toThrow(
      /film.mov: .*200 MB/,
    );
  });
});

describe('what changes', () => {
  const library: Library = {
    id: 'l',
    name: 'Fleet',
    groups: [
      {
        id: 'g',
        name: '',
        swatches: [
          { id: '1', name: 'Deck', kind: 'process', color: { space: 'rgb', components: [1, 0, 0] } },
        ],
      },
      {
        id: 'h',
        name: 'Hull',
        swatches: [
          {
            id: '2',
            name: 'Navy',
            code: 'KW 2',
            kind: 'spot',
            color: { space: 'lab', components: [20, 0, -20] },
          },
          {
            id: '3',
            name: 'Cut',
            kind: 'technical',
            role: 'cut line',
            color: { space: 'cmyk', components: [0, 1, 0, 0] },
          },
        ],
      },
    ],
  };
  const report = (id: string, of = library) => changes(of, formatById(id), services);
  const whats = async (id: string) => (await report(id)).changes.map((c) => `${c.swatch} ${c.what}`);

  it('finds what ASE leaves behind', async () => {
    expect(await whats('ase')).toEqual(['Navy code', 'Cut kind', 'Cut role']);
    expect(summarize(await report('ase')).title).toBe('2 of 3 swatches change on the way');
  });

  it('finds what GPL leaves behind, with the colour difference', async () => {
    expect(await whats('gpl')).toEqual([
      'Navy kind',
      'Navy space',
      'Navy code',
      'Navy group',
      'Cut kind',
      'Cut space',
      'Cut role',
      'Cut group',
    ]);
    const navy = (await report('gpl')).changes.find((c) => c.what === 'space');
    expect(navy?.deltaE00).toBeGreaterThan(0.05);
    expect(navy?.deltaE00).toBeLessThan(1);
    expect(summarize(await report('gpl')).detail).toContain('Groups are lost.');
  });

  it('names the swatches that are over the limit', async () => {
    const swatches = Array.from({ length: 258 }, (_, i) => ({
      ...library.groups[0].swatches[0],
      id: `s${i}`,
    }));
    const large = { ...library, groups: [{ id: 'g', name: '', swatches }] };
    const found = await report('act', large);
    expect(found.changes.filter((c) => c.what === 'missing').map((c) => c.id)).toEqual(['s256', 's257']);
    expect(summarize(found).detail).toContain('2 swatches are left out');
  });

  it('splits a library into one file per group, the ungrouped ones too', () => {
    expect(perGroup(library).map((l) => l.name)).toEqual(['Fleet, no group', 'Fleet, Hull']);
  });
});

describe('file names', () => {
  it('are safe on every system and never too long', () => {
    expect(fileName('a/b\\c:d*e?', 'ase')).toBe('a-b-c-d-e-.ase');
    expect(fileName('..', 'gpl')).toBe('palette.gpl');
    // what Windows keeps for itself, or takes off the end
    expect(['CON', 'nul', 'Com1', 'aux.old', 'LPT²', 'prn '].map((n) => fileName(n, 'gpl'))).toEqual([
      'CON-.gpl',
      'nul-.gpl',
      'Com1-.gpl',
      'aux-.old.gpl',
      'LPT²-.gpl',
      'prn-.gpl',
    ]);
    expect(['Console', 'com10', 'Hull.', 'Hull ', 'a\u0085b'].map((n) => fileName(n, 'gpl'))).toEqual([
      'Console.gpl',
      'com10.gpl',
      'Hull.gpl',
      'Hull.gpl',
      'a-b.gpl',
    ]);
    expect(fileName('قارب الليل', 'aco')).toBe('قارب الليل.aco');
    expect(new TextEncoder().encode(fileName('🚢'.repeat(200), 'css')).length).toBeLessThanOrEqual(204);
  });
});

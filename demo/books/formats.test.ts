import { instantiate } from 'lcms-wasm';
import { describe, expect, it } from 'vitest';
import { deltaE00, toLab } from '../../core/color/index.ts';
import { iccNamed } from '../../core/formats/icc-named/icc-named.ts';
import { changes, describeChange, formatById } from '../../core/formats/index.ts';
import { allSwatches, countingIds, type Library } from '../../core/swatch/index.ts';
import { coated, services, uncoated } from '../../core/testing.ts';
import { sampleBooks } from './index.ts';

const [book] = sampleBooks({ coated, uncoated }) as [Library, Library];
const inks = allSwatches(book);

describe('a book on its way through', () => {
  // the largest a colour can be off by the format's own steps: ACB has 8 bits, the ICC profile 16
  it.each([
    ['papillon', 0],
    ['cxf', 1e-9],
    ['icc-named', 0.01],
    ['acb', 0.8],
  ] as const)('%s keeps code, name and Lab', async (id, most) => {
    const format = formatById(id);
    const there = (await format.decode(await format.encode(book, services as never), countingIds())).library;
    const back = allSwatches(there);
    expect(back.map((s) => [s.name, s.code, s.kind])).toEqual(inks.map((s) => [s.name, s.code, s.kind]));
    const far = back.map((s, i) => deltaE00(toLab(s.color, coated), toLab(inks[i]!.color, coated)));
    expect(Math.max(...far)).toBeLessThanOrEqual(most);
  });

  it('papillon keeps that it is a book, its sets, curves and recipes', async () => {
    const format = formatById('papillon');
    const { library } = await format.decode(await format.encode(book, services as never), countingIds());
    expect(library.book).toEqual(book.book);
    const back = allSwatches(library);
    expect(back.map(({ id: _, ...s }) => s)).toEqual(inks.map(({ id: _, ...s }) => s));
    const named = (l: Library) =>
      l.items!.map((i) => [
        i.kind,
        i.name,
        i.refs!.map((ref) => allSwatches(l).find((s) => s.id === ref)!.code),
      ]);
    expect(named(library)).toEqual(named(book));
  });

  it('ACB and ICC carry prefix and numbers in the places they have for them', async () => {
    for (const id of ['acb', 'icc-named']) {
      const format = formatById(id);
      const { library } = await format.decode(
        format.encode(book, services as never) as Uint8Array,
        countingIds(),
      );
      expect(library.book).toEqual({ prefix: 'KW ' });
    }
  });

  it('says what other formats do not carry', async () => {
    const said = async (id: string) => {
      const report = await changes(book, formatById(id), services as never);
      return [new Set(report.changes.map(describeChange)), report.libraryLosses] as const;
    };
    const [lost, library] = await said('acb');
    expect(lost).toContain('the recipe is not carried');
    expect(lost).toContain('the measured spectrum is not carried');
    expect(lost).toContain('that it is metallic is not carried');
    expect(library).toContain('curated sets');
    expect((await said('papillon'))[0].size).toBe(0);
  });

  it('is found by its colours in the ICC profile by another reader', async () => {
    // Little CMS gives the Lab of each by its index; names with prefix and suffix are its own affair
    const lcms = await instantiate();
    const bytes = iccNamed.encode(book, services);
    const profile = lcms.cmsOpenProfileFromMem(bytes, bytes.length);
    expect(lcms.cmsGetProfileInfoASCII(profile, 0, 'en', 'US')).toBe(book.name);
    const [index, floats] = [(1 << 3) | 2, (1 << 22) | (10 << 16) | (3 << 3) | 4];
    const transform = lcms.cmsCreateTransform(profile, index, lcms.cmsCreateLab4Profile(), floats, 0, 0);
    const labs = lcms.cmsDoTransform(transform, Uint16Array.from(inks.keys()), inks.length);
    inks.forEach((ink, i) => {
      toLab(ink.color, coated).forEach((v, c) => {
        expect(Math.abs(labs[3 * i + c]! - v)).toBeLessThan(0.01);
      });
    });
  });
});

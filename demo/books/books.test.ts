import { describe, expect, it } from 'vitest';
import { leavesOf, tintLab } from '../../core/books/index.ts';
import { deltaE00, type Lab, labToLch, SHIPPED, toLab } from '../../core/color/index.ts';
import { spectrumToLab } from '../../core/spectral/index.ts';
import { allSwatches } from '../../core/swatch/index.ts';
import { coated, uncoated } from '../../core/testing.ts';
import { sampleBooks } from './index.ts';
import { papers } from './inks.ts';

const books = sampleBooks({ coated, uncoated });
const inks = books.map(allSwatches);

describe.each(books.map((book, i) => [book.name, book, inks[i]!, papers[i]!] as const))(
  'the book %s',
  (_, book, list, paper) => {
    it('has about 1,100 numbers, each once, measured in the light it says', () => {
      expect(list.length).toBeGreaterThan(1060);
      expect(list.length).toBeLessThan(1140);
      expect(new Set(list.map((s) => s.code)).size).toBe(list.length);
      for (const s of list) {
        expect(s.name).toBe(`KW ${s.code}`);
        expect(s.spectrum!.values).toHaveLength(36);
        // the Lab is that of the very curve, to its two places
        const lab = spectrumToLab(s.spectrum!);
        lab.forEach((v, i) => {
          expect(Math.abs(v - s.color.components[i]!)).toBeLessThanOrEqual(0.005 + 1e-9);
        });
      }
    });

    it('reflects between nothing and its paper, and is never paler', () => {
      const [white] = spectrumToLab({ start: 380, step: 10, values: paper.reflectance });
      for (const s of list) {
        s.spectrum!.values.forEach((v, i) => {
          expect(v).toBeGreaterThanOrEqual(0);
          expect(v).toBeLessThanOrEqual(paper.reflectance[i]! + 5e-5);
        });
        expect(s.color.components[0]).toBeLessThanOrEqual(white + 0.005);
      }
    });

    it('has tints that run from the paper to the solid without turning back', () => {
      for (const s of list.filter((_, i) => i % 37 === 0)) {
        const tints = Array.from({ length: 21 }, (_, i) => tintLab(s, book.book!, i * 5, coated));
        const sheet = spectrumToLab({ start: 380, step: 10, values: paper.reflectance });
        expect(deltaE00(tints[0]!, sheet)).toBeLessThan(1e-6);
        expect(deltaE00(tints[20]!, s.color.components as Lab)).toBeLessThan(0.02);
        for (let i = 1; i < tints.length; i++) expect(tints[i]![0]).toBeLessThan(tints[i - 1]![0] + 1e-9);
      }
    });

    it('has inks for its own paper, and gives them in CMYK and RGB', () => {
      for (const s of list.filter((_, i) => i % 100 === 0)) {
        const [cmyk, rgb] = s.alternates!;
        expect(cmyk!.profile).toBe(SHIPPED[paper.name]);
        expect(rgb!.space).toBe('rgb');
        for (const v of [...cmyk!.components, ...rgb!.components]) {
          expect(v).toBeGreaterThanOrEqual(0);
          expect(v).toBeLessThanOrEqual(1);
        }
      }
    });

    it('has a dozen sets of five that belong together', () => {
      const sets = book.items!;
      expect(sets.length).toBeGreaterThanOrEqual(8);
      expect(new Set(sets.map((s) => (s.data as { by: string }).by))).toEqual(
        new Set(['season', 'material', 'mood']),
      );
      const byId = new Map(list.map((s) => [s.id, s]));
      for (const { refs } of sets) {
        expect(new Set(refs).size).toBe(5);
        const labs = refs!.map((id) => toLab(byId.get(id)!.color, coated));
        // no two of a set are taken for one another
        for (const [i, a] of labs.entries())
          for (const b of labs.slice(i + 1)) expect(deltaE00(a, b)).toBeGreaterThan(5);
      }
    });

    it('lies in leaves of like hues, greys and specials apart', () => {
      const labs = list.map((s) => s.color.components as Lab);
      const { leaves, greys, specials } = leavesOf(labs, (i) => list[i]!.special !== undefined);
      const placesIn = (leaf: (typeof leaves)[number]) => leaf.rows.flatMap((r) => r.places);
      expect(leaves.length).toBeGreaterThan(24);
      expect(specials.rows.flatMap((r) => r.places)).toHaveLength(20);
      expect(placesIn(greys).length).toBeGreaterThan(30);
      expect([...leaves, greys, specials].flatMap(placesIn).sort((a, b) => a - b)).toEqual(
        list.map((_, i) => i),
      );
    });
  },
);

describe('the two books together', () => {
  it('give one number one recipe', () => {
    const [one, other] = inks;
    expect(one!.map((s) => [s.code, s.recipe])).toEqual(other!.map((s) => [s.code, s.recipe]));
  });

  it('show inks stronger and darker on the coated sheet', () => {
    const mean = (list: (typeof inks)[number], part: 0 | 1) =>
      list.reduce((sum, s) => sum + labToLch(s.color.components)[part], 0) / list.length;
    expect(mean(inks[0]!, 1)).toBeGreaterThan(mean(inks[1]!, 1) + 2);
    expect(mean(inks[0]!, 0)).toBeLessThan(mean(inks[1]!, 0) - 3);
  });

  it('are the same from build to build', () => {
    // frozen here: a number that has been handed over must go on meaning what it meant
    const [coatedInks, uncoatedInks] = inks;
    const at = (list: (typeof inks)[number], code: string) =>
      list.find((s) => s.code === code)!.color.components;
    expect([
      at(coatedInks!, '612'),
      at(uncoatedInks!, '612'),
      at(coatedInks!, '2101'),
    ]).toMatchInlineSnapshot(`
      [
        [
          24.69,
          10.42,
          12.66,
        ],
        [
          38.9,
          9.98,
          11.74,
        ],
        [
          30.37,
          12.52,
          -60.67,
        ],
      ]
    `);
    expect(coatedInks!.find((s) => s.code === '612')!.recipe).toMatchInlineSnapshot(`
      [
        {
          "of": "Ember",
          "parts": 7,
        },
        {
          "of": "Marigold",
          "parts": 9,
        },
        {
          "of": "Soot",
          "parts": 4,
        },
        {
          "of": "Veil",
          "parts": 8,
        },
      ]
    `);
    expect(coatedInks!.slice(0, 3).map((s) => s.code)).toEqual(['101', '102', '103']);
  });
});

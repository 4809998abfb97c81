import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deltaE00, type Lab, lchToLab, toLab } from '../color/index.ts';
import { papillon } from '../formats/papillon/papillon.ts';
import type { Swatch } from '../swatch/index.ts';
import { coated, readBy, services } from '../testing.ts';
import {
  allLeaves,
  findEntries,
  folded,
  groupsToPlace,
  hueWord,
  leavesOf,
  processingSteps,
  STEP_NAMES,
  takenFrom,
  tintFrom,
  tintLab,
  walk,
} from './index.ts';

const anyLabs = fc.array(
  fc
    .tuple(
      fc.double({ min: 5, max: 95, noNaN: true }),
      fc.double({ min: 0, max: 90, noNaN: true }),
      fc.double({ min: 0, max: 359, noNaN: true }),
    )
    .map((lch): Lab => lchToLab(lch)),
  { maxLength: 400 },
);
const plain = () => false;

describe('leaves', () => {
  it('hold every colour once, the lightest row first, in each the greyest first', () => {
    fc.assert(
      fc.property(anyLabs, (labs) => {
        const book = leavesOf(labs, (i) => i % 11 === 10);
        const all = [...book.leaves, book.greys, book.specials];
        expect(all.flatMap((l) => l.rows.flatMap((r) => r.places)).sort((a, b) => a - b)).toEqual(
          labs.map((_, i) => i),
        );
        for (const leaf of all) {
          const lights = leaf.rows.map((r) => r.lightness);
          for (let i = 1; i < lights.length; i++) expect(lights[i]).toBeLessThan(lights[i - 1]! + 1e-4);
          for (const { places } of leaf.rows) {
            expect(places.length).toBeLessThanOrEqual(10);
            const chroma = places.map((p) => Math.hypot(labs[p]![1], labs[p]![2]));
            for (let i = 1; i < chroma.length; i++) expect(chroma[i]).toBeGreaterThan(chroma[i - 1]! - 1e-4);
          }
        }
        // hues go round once, from leaf to leaf
        for (let i = 1; i < book.leaves.length; i++)
          expect(book.leaves[i]!.from).toBeGreaterThanOrEqual(book.leaves[i - 1]!.to);
      }),
    );
  });

  it('keep greys and specials apart, and know where each colour is', () => {
    const labs: Lab[] = [
      [50, 60, 40],
      [50, 1, 1],
      [50, 0, 60],
    ];
    const book = leavesOf(labs, (i) => i === 2);
    expect([...book.leafOf]).toEqual([0, -1, -2]);
    expect(book.greys.rows).toEqual([{ lightness: 50, places: [1] }]);
    expect(leavesOf([], plain).leaves).toEqual([]);
  });

  it('are walked through from the first colour to the last, and back', () => {
    fc.assert(
      fc.property(anyLabs, (labs) => {
        fc.pre(labs.length > 0);
        const book = leavesOf(labs, plain);
        const all = allLeaves(book);
        const first = all[0]!.rows[0]!.places[0]!;
        // to the right every leaf is reached; each step lies beside the one before
        const seen = new Set<number>();
        let at = first;
        for (let i = 0; i <= labs.length; i++) {
          seen.add(all.findIndex((l) => l.rows.some((r) => r.places.includes(at))));
          const next = walk(book, at, 'right');
          if (next === at) break;
          at = next;
        }
        expect(seen.size).toBe(all.length);
        for (const way of ['up', 'down', 'left', 'right'] as const)
          expect(labs[walk(book, first, way)]).toBeDefined();
        expect(walk(book, first, 'up')).toBe(first);
      }),
    );
  });

  it('call their hues by the words for them', () => {
    // hues of CIE Lab of sRGB's own red, yellow, green, blue
    expect([40, 99, 136, 301].map(hueWord)).toEqual(['reds', 'yellow greens', 'greens', 'violets']);
    expect(hueWord(361)).toBe('pinks');
  });
});

describe('a typed number', () => {
  const entries = ['612', '1612', '6120', '61', 'x612'].map((code) => folded(code, `KW ${code}`));

  it('means what is just that, then what begins so, then what contains it', () => {
    const codes = (text: string) => findEntries(entries, text).map((p) => entries[p]!.code);
    expect(codes('612')).toEqual(['612', '6120', '1612', 'x612']);
    expect(codes('KW 612')).toEqual(['612', '6120']);
    expect(codes(' kw 1')).toEqual(['1612']);
    expect(codes('')).toEqual([]);
    expect(codes('9')).toEqual([]);
    expect(findEntries([folded(undefined, 'قارب الليل')], 'الليل')).toEqual([0]);
  });
});

describe('what is taken from a book', () => {
  const book = { id: 'b', name: 'Inks on coated' };
  const ink = {
    id: 'kw-612',
    name: 'KW 612',
    code: '612',
    kind: 'spot' as const,
    color: { space: 'lab' as const, components: [50, 60, 40] },
    spectrum: { start: 380, step: 10, values: [0.1, 0.4] },
    recipe: [{ of: 'Ember', parts: 14 }],
  };

  it('keeps what the ink is and finds its book again; a tint is of its ink', () => {
    // what is taken with sets is placed in groups of their names, a number in two sets in both
    const [one, two, three] = [
      ['a', 'Night'],
      ['b', 'Dawn'],
      ['c', undefined],
    ].map(([id, set]) => takenFrom(book, ink, id!, set)) as [Swatch, Swatch, Swatch];
    expect(groupsToPlace([one, two, three, { ...one, id: 'd' }], 'New palette')).toEqual([
      { name: 'Night', swatches: [one, { ...one, id: 'd' }] },
      { name: 'Dawn', swatches: [two] },
      { name: 'New palette', swatches: [three] },
    ]);
    expect(takenFrom(book, ink, 'new')).toEqual({
      ...ink,
      id: 'new',
      origin: { from: 'book', name: 'Inks on coated', book: 'b', code: '612' },
    });
    const tint = tintFrom(book, ink, 40, [70, 30, 20], 'new');
    expect(tint).toMatchObject({
      name: 'KW 612 40 %',
      tint: { of: 'KW 612', percent: 40 },
      kind: 'spot',
      code: '612',
    });
    expect(tint).not.toHaveProperty('spectrum');
    expect(tintFrom(book, ink, 100, [50, 60, 40], 'new')).toEqual(takenFrom(book, ink, 'new'));
    // all of it travels in our own file
    const library = {
      id: 'l',
      name: 'L',
      groups: [{ id: 'g', name: '', swatches: [takenFrom(book, ink, 'a'), tint] }],
    };
    const back = readBy(papillon, papillon.encode(library, services)).swatches;
    expect(back.map(({ id: _, ...s }) => s)).toEqual(library.groups[0]!.swatches.map(({ id: _, ...s }) => s));
  });

  it('has tints between the sheet and the solid where nothing but Lab is known', () => {
    const bare = { color: ink.color };
    const tints = [0, 25, 50, 75, 100].map((p) => tintLab(bare, {}, p, coated));
    const sheet = toLab({ space: 'cmyk', components: [0, 0, 0, 0] }, coated);
    expect(deltaE00(tints[0]!, sheet)).toBeLessThan(1e-6);
    expect(deltaE00(tints[4]!, [50, 60, 40])).toBeLessThan(1e-6);
    for (let i = 1; i < 5; i++) expect(tints[i]![0]).toBeLessThan(tints[i - 1]![0]);
  });
});

describe('processing steps', () => {
  it('are technical, each with a name of its own, to the letter', () => {
    const book = processingSteps();
    const swatches = book.groups.flatMap((g) => g.swatches);
    expect(swatches.every((s) => s.kind === 'technical' && s.name === s.code)).toBe(true);
    expect(new Set(swatches.map((s) => s.name.toLowerCase())).size).toBe(swatches.length);
    expect(STEP_NAMES).toEqual(
      expect.arrayContaining(['Cutting', 'Creasing', 'Perforating', 'Gluing', 'Bleed']),
    );
    expect(STEP_NAMES).toEqual(
      expect.arrayContaining(['White', 'Varnish', 'Embossing', 'Braille', 'Positions', 'Dimensions']),
    );
    // lines of two steps are distinguished on a proof
    const labs = swatches.map((s) => toLab(s.color, coated));
    for (const [i, a] of labs.entries())
      for (const b of labs.slice(i + 1)) expect(deltaE00(a, b)).toBeGreaterThan(2);
  });
});

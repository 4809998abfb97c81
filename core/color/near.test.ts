import Color from 'colorjs.io';
import { differenceCie94 } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import '../testing.ts';
import { deltaE76, deltaE94, deltaECmc, type Lab, METRICS, metricById, NearIndex } from './index.ts';

const anyLab = fc.oneof(
  fc.tuple(
    fc.double({ min: 0, max: 100, noNaN: true }),
    fc.double({ min: -125, max: 125, noNaN: true }),
    fc.double({ min: -125, max: 125, noNaN: true }),
  ),
  // the blues, where CIEDE2000 has a term of its own, and the greys, where it stretches
  fc
    .tuple(
      fc.double({ min: 0, max: 100, noNaN: true }),
      fc.double({ min: 0, max: 130, noNaN: true }),
      fc.double({ min: 190, max: 350, noNaN: true }),
    )
    .map(([L, C, h]): Lab => [L, C * Math.cos((h * Math.PI) / 180), C * Math.sin((h * Math.PI) / 180)]),
  fc.tuple(
    fc.double({ min: -10, max: 110, noNaN: true }),
    fc.double({ min: -3, max: 3, noNaN: true }),
    fc.double({ min: -3, max: 3, noNaN: true }),
  ),
);

describe('differences', () => {
  // the example of the documentation of colour-science, an open-source package for Python (values from memory)
  const [one, two]: [Lab, Lab] = [
    [100, 21.57210357, 272.2281935],
    [100, 426.67945353, 72.39590835],
  ];

  it('are those of a published example', () => {
    expect(deltaE76(one, two)).toBeCloseTo(451.7133019, 6);
    expect(deltaE94(one, two)).toBeCloseTo(83.7792255, 6);
    expect(deltaECmc(one, two)).toBeCloseTo(172.7047712, 6);
    expect(metricById('de00').difference(one, two)).toBeCloseTo(94.035649, 5);
  });

  it('agree with two libraries of the registry everywhere', () => {
    const theirs94 = differenceCie94();
    const asTheirs = ([l, a, b]: Lab) => ({ mode: 'lab65' as const, l, a, b });
    fc.assert(
      fc.property(anyLab, anyLab, (x, y) => {
        expect(deltaE94(x, y)).toBeCloseTo(theirs94(asTheirs(x), asTheirs(y)), 5);
        const other = new Color('lab', x).deltaE(new Color('lab', y), { method: 'CMC', l: 2, c: 1 });
        expect(deltaECmc(x, y)).toBeCloseTo(other, 4);
      }),
    );
  });
});

describe.each(METRICS.map((m) => [m.name, m] as const))('the index of nearest colours by %s', (_, metric) => {
  it('finds what a plain scan finds, in the same order', () => {
    fc.assert(
      fc.property(
        fc.array(anyLab, { maxLength: 60 }),
        anyLab,
        fc.integer({ min: 1, max: 8 }),
        fc.option(fc.double({ min: 0, max: 40, noNaN: true })),
        (labs, query, n, within) => {
          const even = (place: number) => place % 2 === 0;
          const scan = (wanted: (place: number) => boolean) =>
            labs
              .map((lab, place) => ({ place, difference: metric.difference(query, lab) }))
              .filter((f) => wanted(f.place) && f.difference <= (within ?? Number.POSITIVE_INFINITY))
              .sort((x, y) => x.difference - y.difference || x.place - y.place)
              .slice(0, n);
          const index = new NearIndex(labs as Lab[], metric);
          expect(index.nearest(query, n, within ?? undefined)).toEqual(scan(() => true));
          expect(index.nearest(query, n, within ?? undefined, even)).toEqual(scan(even));
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe('the index', () => {
  it('finds each of many by itself, however alike they are', () => {
    const labs = Array.from({ length: 3000 }, (_, i): Lab => [50 + (i % 7) * 1e-7, (i % 50) - 25, i % 60]);
    const index = new NearIndex(labs);
    for (const i of [0, 1, 1234, 2999]) {
      const first = labs.findIndex((l) => l.every((v, c) => v === labs[i]![c]));
      expect(index.closest(labs[i]!)).toEqual({ place: first, difference: 0 });
    }
    expect(new NearIndex([]).closest([50, 0, 0])).toBeNull();
  });

  it('calls for all within a difference, from a place on', () => {
    const labs: Lab[] = [
      [50, 0, 0],
      [51, 0, 0],
      [52, 0, 0],
      [90, 0, 0],
    ];
    const found: number[] = [];
    new NearIndex(labs).within([51, 0, 0], 1.01, (place) => found.push(place), 1);
    expect(found.sort()).toEqual([1, 2]);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DE00, deltaE00, type Lab, metricById } from '../color/index.ts';
import { countingIds, LibraryRows } from '../swatch/index.ts';
import { coated, libraryOf } from '../testing.ts';
import {
  assign,
  type Entry,
  Matcher,
  NO_LIMITS,
  pairingsOf,
  pairOps,
  type Source,
  swapFor,
  unpair,
} from './index.ts';

const anyLab = fc.tuple(
  fc.double({ min: 0, max: 100, noNaN: true }),
  fc.double({ min: -60, max: 60, noNaN: true }),
  fc.double({ min: -60, max: 60, noNaN: true }),
) as fc.Arbitrary<Lab>;

/** The least total of all ways to pair the shorter side whole, by trying every one. */
function leastTotal(from: Lab[], to: Lab[], difference = deltaE00): number {
  if (from.length > to.length) return leastTotal(to, from, (a, b) => difference(b, a));
  if (from.length === 0) return 0;
  const [first, ...rest] = from;
  return Math.min(
    ...to.map(
      (lab, i) =>
        difference(first!, lab) + leastTotal(rest, [...to.slice(0, i), ...to.slice(i + 1)], difference),
    ),
  );
}

describe('pairing one with one', () => {
  it.each(['de00', 'cmc'])('has the least total of all ways, by %s', async (id) => {
    const metric = metricById(id);
    await fc.assert(
      fc.asyncProperty(
        fc.array(anyLab, { minLength: 1, maxLength: 5 }),
        fc.array(anyLab, { minLength: 1, maxLength: 6 }),
        async (from, to) => {
          const pairs = await assign(from, to, metric);
          const made = pairs.filter((p) => p !== null);
          expect(made).toHaveLength(Math.min(from.length, to.length));
          expect(new Set(made.map((p) => p.place)).size).toBe(made.length);
          const total = made.reduce((sum, p) => sum + p.difference, 0);
          expect(total).toBeCloseTo(leastTotal(from, to, metric.difference), 7);
        },
      ),
    );
  });

  it('is exact where all want the same few, and more than the nearest have to be looked at', async () => {
    // thirty colours on a line beside thirty others far off on the same line: pairing them in order is best
    const from = Array.from({ length: 30 }, (_, i): Lab => [50 + i * 0.01, 0, 0]);
    const to = Array.from({ length: 40 }, (_, i): Lab => [60 + i, 0, 0]);
    const pairs = await assign(from, to, metricById('de76'));
    expect(pairs.map((p) => p!.place).sort((a, b) => a - b)).toEqual(from.map((_, i) => i));
    const total = pairs.reduce((sum, p) => sum + p!.difference, 0);
    expect(total).toBeCloseTo(
      from.reduce((sum, [L], i) => sum + (60 + i - L), 0),
      6,
    );
  });

  it('can be stopped', async () => {
    const labs = Array.from({ length: 400 }, (_, i): Lab => [i / 4, 0, 0]);
    await expect(
      assign(labs, labs, DE00, async (done) => {
        if (done > 100) throw new Error('stopped');
      }),
    ).rejects.toThrow('stopped');
  });
});

describe('the nearest in books and libraries', () => {
  const entry = (name: string, lab: Lab, more: Partial<Entry> = {}): Entry => ({
    id: name,
    name,
    kind: 'spot',
    lab,
    hex: '#000000',
    ...more,
  });
  const book: Source = {
    id: 'b',
    name: 'Book on coated',
    book: true,
    substrate: 'coated',
    entries: [
      entry('red', [50, 60, 40]),
      entry('glow', [50, 61, 40], { special: 'fluorescent' }),
      entry('beyond', [50, 110, 40]),
    ],
  };
  const library: Source = {
    id: 'l',
    name: 'Signs',
    book: false,
    entries: [
      entry('near red', [50, 62, 41], { kind: 'process' }),
      entry('grey', [50, 0, 0], { kind: 'process' }),
    ],
  };
  const names = (limits: Partial<typeof NO_LIMITS>, lab: Lab = [50, 61, 40], n = 3) =>
    new Matcher([book, library], DE00, { ...NO_LIMITS, ...limits }, coated)
      .nearest(lab, n)
      .map((f) => f.entry.name);

  it('come from all of them at once, with how far they are', () => {
    const [first, second] = new Matcher([book, library], DE00).nearest([50, 61, 40], 2);
    expect([first!.entry.name, first!.source.id, first!.difference]).toEqual(['glow', 'b', 0]);
    expect(second!.difference).toBeCloseTo(deltaE00([50, 61, 40], second!.entry.lab), 12);
  });

  it('keep to a tolerance, a substrate, kinds, and what can be mixed and printed', () => {
    expect(names({ within: 0.1 })).toEqual(['glow']);
    expect(names({ within: 0.1 }, [90, 0, 0])).toEqual([]);
    expect(names({ substrate: 'coated' })).toEqual(['glow', 'red', 'beyond']);
    expect(names({ kinds: ['process'] })).toEqual(['near red', 'grey']);
    expect(names({ reproducible: true })).toEqual(['near red', 'red', 'beyond']);
    expect(names({ printable: true }, [50, 112, 40])).not.toContain('beyond');
    expect(names({}, [50, 112, 40])).toContain('beyond');
    // what a format for screens, one of grays, and one with Lab can hold
    expect(names({ spaces: ['rgb', 'hsb'] }, [50, 112, 40])).not.toContain('beyond');
    expect(names({ spaces: ['gray'] })).toEqual(['grey']);
    expect(names({ spaces: ['lab', 'rgb'] }, [50, 112, 40])).toContain('beyond');
  });
});

describe('a swap', () => {
  const rows = () => {
    const made = libraryOf('Signs', { '': [['Red', '#b3262b']] });
    made.groups[0]!.swatches[0]!.role = 'hull';
    return LibraryRows.of(made);
  };
  const ink = {
    id: 'kw',
    name: 'KW 612',
    code: '612',
    kind: 'spot' as const,
    color: { space: 'lab' as const, components: [50, 60, 40] },
    spectrum: { start: 380, step: 10, values: [0.1, 0.2] },
  };

  it('takes the colour alone, or the whole ink, and leaves what the swatch is for', () => {
    const held = rows();
    const { id } = held.library.groups[0]!.swatches[0]!;
    const before = structuredClone(held.library.groups[0]!.swatches[0]!);
    const { inverse } = held.apply(swapFor([id], ink, false).ops);
    expect(held.find(id)!.swatch).toEqual({ ...before, color: ink.color });
    held.apply(inverse);
    expect(held.find(id)!.swatch).toEqual(before);
    held.apply(swapFor([id], ink, true).ops);
    expect(held.find(id)!.swatch).toEqual({ ...ink, id, role: 'hull' });
  });
});

describe('pairings', () => {
  const equivalent = {
    source: 'b',
    sourceName: 'Book',
    name: 'KW 612',
    code: '612',
    lab: [50, 60, 40],
    difference: 1.2,
    metric: 'de00',
  };

  it('are kept one to a book, and undone in one step', () => {
    const rows = LibraryRows.of(libraryOf('Signs', { '': [['Red', '#b3262b']] }));
    const [red] = rows.library.groups[0]!.swatches;
    const newId = countingIds('p');
    rows.apply(pairOps(rows, [{ swatch: red!.id, with: equivalent }], newId));
    const again = rows.apply(
      pairOps(rows, [{ swatch: red!.id, with: { ...equivalent, name: 'KW 613' } }], newId),
    );
    rows.apply(pairOps(rows, [{ swatch: red!.id, with: { ...equivalent, source: 'other' } }], newId));
    expect(
      pairingsOf(rows.library)
        .get(red!.id)!
        .map((p) => [p.data.source, p.name]),
    ).toEqual([
      ['b', 'KW 613'],
      ['other', 'KW 612'],
    ]);
    rows.apply(again.inverse);
    expect(pairingsOf(rows.library).get(red!.id)![0]!.data.name).toBe('KW 612');
    rows.apply(
      unpair(
        pairingsOf(rows.library)
          .get(red!.id)!
          .map((p) => p.id),
      ).ops,
    );
    expect(pairingsOf(rows.library).size).toBe(0);
  });
});

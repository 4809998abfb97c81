import { describe, expect, it } from 'vitest';
import {
  contrast,
  deltaE00,
  type Lab,
  parseColor,
  pressGamut,
  seenBy,
  toLab,
  visionMatrix,
  withLessInk,
} from '../color/index.ts';
import {
  ARTWORK,
  type ArtworkItem,
  COLORWAY,
  checkLibrary,
  countingIds,
  type Library,
  LibraryRows,
  type Swatch,
  type Wish,
  withLinks,
} from '../swatch/index.ts';
import { coated, libraryOf, uncoated } from '../testing.ts';
import { checkById, checks, type Found, leaveAlone, lookAgain, mend, runCheck } from './index.ts';

const run = (
  id: string,
  library: Library,
  options = {},
  more: Partial<Parameters<typeof runCheck>[3]> = {},
) => runCheck(checkById(id)!, library, { [id]: options }, { condition: coated, ...more });
const called = ({ findings }: Found) => findings.map((f) => f.name);
const withRoles = (library: Library, roles: Record<string, string>): Library => ({
  ...library,
  groups: library.groups.map((g) => ({
    ...g,
    swatches: g.swatches.map((s) => (roles[s.name] ? { ...s, role: roles[s.name]! } : s)),
  })),
});
/** The library after the nth mend of a finding. */
function mended(library: Library, found: Found, finding = 0, nth = 0): Library {
  const rows = LibraryRows.of(library);
  const one = found.findings[finding]!;
  rows.apply(mend(rows, one, one.mends[nth]!, countingIds('new-')).ops);
  return checkLibrary(rows.library);
}

describe.each(checks.map((c) => [c.id, c] as const))('%s', (_, check) => {
  it.each([
    ['of nothing', libraryOf('empty', {})],
    ['of one swatch', libraryOf('one', { a: [['Sea', '#2f7d6b']] })],
    [
      'of odd names and colours',
      libraryOf('odd', {
        '': [
          ['', 'C 100 M 100 Y 100 K 100'],
          ['قارب', 'color(display-p3 0 1 0)'],
          ['x'.repeat(200), 'oklch(0.99 0.3 120)'],
          ['', 'gray 0'],
        ],
      }),
    ],
  ])('has something to say %s', async (_, library) => {
    const found = await runCheck(check, library, {}, { condition: coated });
    expect(found.title).not.toBe('');
    expect(found.total).toBe(found.findings.length);
    for (const f of found.findings) expect(f.left.hex).toMatch(/^#[0-9a-f]{6}$/);
    expect(check.about({}, coated)).not.toBe('');
  });
});

describe('press gamut', () => {
  const library = libraryOf('x', {
    '': [
      ['Lamp', '#00ff00'],
      ['Kelp', '#2f7d6b'],
      ['Boot-top', 'C 0 M 100 Y 0 K 0'],
      ['Signal', '#ff0000'],
    ],
  });

  it('finds what the press cannot reach, worst first, and takes the nearest inside', async () => {
    const found = await run('press-gamut', library);
    expect(called(found)).toEqual(['Lamp', 'Signal']);
    const after = mended(library, found);
    expect(after.groups[0].swatches[0].color.space).toBe('cmyk');
    expect(called(await run('press-gamut', after))).toEqual(['Signal']);
  });

  it('the nearest is not further away than the best of 5,324 mixes', () => {
    const steps = [0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1];
    for (const text of ['#ff0000', '#00ff00', '#0000ff', '#7a3b8f', '#ff8800']) {
      const wanted = toLab(parseColor(text), coated);
      const mixes = [0, 0.2, 0.5, 1].flatMap((k) =>
        steps.flatMap((c) => steps.flatMap((m) => steps.map((y) => [c, m, y, k]))),
      );
      const labs = coated.print(Float32Array.from(mixes.flat()));
      const best = Math.min(
        ...mixes.map((_, i) => deltaE00(wanted, [labs[3 * i], labs[3 * i + 1], labs[3 * i + 2]] as Lab)),
      );
      expect(pressGamut(parseColor(text), coated).deltaE00).toBeLessThan(best + 0.4);
    }
  });

  it('measured inks of the press are inside, those of another paper may not be', async () => {
    const inks = libraryOf('y', { '': [['Magenta', 'C 0 M 100 Y 0 K 0']] });
    const { profile } = uncoated.setting;
    const found = await run(
      'press-gamut',
      inks,
      { beside: profile },
      { beside: new Map([[profile, uncoated]]) },
    );
    expect(called(found)).toEqual(['Magenta']);
    expect(called(await run('press-gamut', inks))).toEqual([]);
  });
});

describe('look-alikes', () => {
  const library = libraryOf('x', {
    Hull: [
      ['Navy', 'Lab 20 2 -20'],
      ['Night', 'Lab 20.5 2 -20'],
    ],
    Deck: [
      ['Dusk', 'Lab 20.2 2 -20.3'],
      ['Sand', 'Lab 80 5 20'],
    ],
  });

  it('pairs across groups or inside them, and keeps left, right or the mean', async () => {
    expect((await run('look-alikes', library)).total).toBe(3);
    const inside = await run('look-alikes', library, { groups: true });
    expect(called(inside)).toEqual(['Navy · Night']);
    const names = (l: Library) => l.groups.flatMap((g) => g.swatches.map((s) => s.name));
    expect(names(mended(library, inside, 0, 0))).toEqual(['Navy', 'Dusk', 'Sand']);
    expect(names(mended(library, inside, 0, 1))).toEqual(['Night', 'Dusk', 'Sand']);
    const mean = mended(library, inside, 0, 2).groups[0].swatches;
    expect(mean.map((s) => s.color.components)).toEqual([[20.25, 2, -20]]);
  });

  it('finds every pair that comparing all with all finds', async () => {
    let seed = 7;
    const next = () => {
      seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
      return seed / 2 ** 32;
    };
    const many = libraryOf('many', {
      '': Array.from({ length: 700 }, (_, i): [string, string] => [
        `n${i}`,
        `Lab ${(next() * 100).toFixed(2)} ${(next() * 200 - 100).toFixed(2)} ${(next() * 200 - 100).toFixed(2)}`,
      ]),
    });
    const labs = many.groups[0].swatches.map((s) => toLab(s.color, coated));
    for (const within of [1, 3, 5]) {
      let pairs = 0;
      labs.forEach((a, i) => {
        for (const b of labs.slice(i + 1)) if (deltaE00(a, b) <= within) pairs++;
      });
      expect((await run('look-alikes', many, { within })).total).toBe(pairs);
    }
  });
});

describe('contrast', () => {
  const library = withRoles(
    libraryOf('x', {
      '': [
        ['Grey', '#999999'],
        ['Ink', '#161616'],
        ['Paper', '#ffffff'],
      ],
    }),
    { Grey: 'caption text', Ink: 'text', Paper: 'ground' },
  );

  it('asks for roles, and finds the least change of lightness that passes', async () => {
    const found = await run('contrast', library);
    expect(called(found)).toEqual(['Grey on Paper']);
    // what is counted is reported
    expect([found.count, found.counts]).toEqual([1, 'text on ground under 4.5']);
    const after = mended(library, found);
    const [grey, , paper] = after.groups[0].swatches;
    const ratio = contrast(grey.color, paper.color, coated);
    expect(ratio).toBeGreaterThanOrEqual(4.5);
    // one step of 8 bits lighter would not pass
    expect(ratio).toBeLessThan(4.6);
    expect((await run('contrast', after)).total).toBe(0);
  });

  it('counts the pairs that pass where no role says what is to be read', async () => {
    const bare = libraryOf('y', {
      '': [
        ['a', '#000'],
        ['b', '#fff'],
        ['c', '#777'],
        ['d', '#eee'],
      ],
    });
    for (const step of ['3', '4.5', '7']) {
      const colors = bare.groups[0].swatches.map((s) => s.color);
      const pairs = colors.flatMap((a, i) => colors.slice(i + 1).map((b) => contrast(a, b, coated)));
      const passing = pairs.filter((r) => r >= Number(step)).length;
      expect((await run('contrast', bare, { step })).count).toBe(passing);
    }
  });
});

describe('colour vision', () => {
  it('is by the published matrices', () => {
    // Machado, Oliveira and Fernandes (2009): the authors’ page, severities 1.0 and 0.5; from memory
    expect(visionMatrix('protan', 1).slice(0, 3)).toEqual([0.152286, 1.052583, -0.204868]);
    expect(visionMatrix('deutan', 1).slice(3, 6)).toEqual([0.280085, 0.672501, 0.047413]);
    expect(visionMatrix('tritan', 1).slice(6)).toEqual([0.004733, 0.691367, 0.3039]);
    expect(visionMatrix('deutan', 0.5).slice(0, 3)).toEqual([0.547494, 0.607765, -0.155259]);
    expect(visionMatrix('protan', 0)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    // each row gives white back: greys stay grey
    for (const eye of ['protan', 'deutan', 'tritan'] as const)
      for (const severity of [0.1, 0.35, 1]) {
        const m = visionMatrix(eye, severity);
        for (const row of [0, 3, 6]) expect(m[row]! + m[row + 1]! + m[row + 2]!).toBeCloseTo(1, 5);
        const grey = seenBy(parseColor('#808080'), m, coated);
        expect(Math.hypot(grey.lab[1], grey.lab[2])).toBeLessThan(0.1);
      }
  });

  it('finds red and green that collapse, by the eye, and tells them apart again', async () => {
    const library = libraryOf('x', {
      '': [
        ['Port', '#b5492e'],
        ['Moss', '#6d6b2b'],
        ['Sky', '#5aa0d8'],
      ],
    });
    const found = await run('vision', library, { within: 8 });
    expect(called(found)).toContain('Port · Moss');
    const at = called(found).indexOf('Port · Moss');
    const after = mended(library, found, at);
    expect(called(await run('vision', after, { within: 8 }))).not.toContain('Port · Moss');
    expect((await run('vision', library, { within: 8, severity: 10 })).total).toBe(0);
  });
});

describe('total ink', () => {
  const library = libraryOf('x', {
    '': [
      ['Deep', 'C 90 M 80 Y 80 K 70'],
      ['Kelp', 'C 70 M 0 Y 50 K 40'],
    ],
  });
  const limited = { condition: { ...coated.setting, inkLimit: 300 } };

  it('over the limit is found, and more black gives the same colour with less', async () => {
    const found = await run('ink', library);
    expect(found.total).toBe(0);
    const less = withLessInk(library.groups[0].swatches[0].color, coated, 3)!;
    expect(less.inks.reduce((a, b) => a + b)).toBeLessThanOrEqual(3 + 1e-9);
    expect(deltaE00(toLab(library.groups[0].swatches[0].color, coated), less.lab)).toBeLessThan(1);
    const strict = Object.create(coated, { setting: { value: limited.condition } });
    const over = await run('ink', library, {}, { condition: strict });
    expect(called(over)).toEqual(['Deep']);
    const after = mended(library, over);
    const total = after.groups[0].swatches[0].color.components.reduce((a, b) => a + b);
    expect(total).toBeLessThanOrEqual(3);
    expect((await run('ink', after, {}, { condition: strict })).total).toBe(0);
  });
});

describe('names', () => {
  const of = async (...names: [string, string][]) => run('names', libraryOf('x', { '': names }));
  it.each<[string, [string, string][], RegExp, string | null]>([
    [
      'one name on two colours',
      [
        ['Red', '#f00'],
        ['Red', '#c00'],
      ],
      /One name on two/,
      'Red 2',
    ],
    [
      'one colour under two names',
      [
        ['Red', '#f00'],
        ['Crimson', '#f00'],
      ],
      /One colour under two/,
      null,
    ],
    ['blanks at the ends', [['Red ', '#f00']], /Blanks/, 'Red'],
    ['a Cyrillic letter among Latin ones', [['Hаrbour', '#f00']], /no Latin letter/, 'Harbour'],
    ['a sign that is not seen', [['Har\u200bbour', '#f00']], /not seen/, 'Harbour'],
    [
      'letters that look alike',
      [
        ['Hull I', '#f00'],
        ['Hull l', '#00f'],
      ],
      /look alike/,
      null,
    ],
  ])('%s', async (_, names, says, renamed) => {
    const found = await of(...names);
    expect(found.findings[0]?.says).toMatch(says);
    if (renamed !== null) expect(found.findings[0]!.mends[0]!.label).toContain(`“${renamed}”`);
  });

  it('a technical name that differs by case alone comes first', async () => {
    const library = libraryOf('x', {
      '': [
        ['cutting', 'C 0 M 100 Y 0 K 0'],
        ['Red ', '#f00'],
      ],
    });
    library.groups[0].swatches[0].kind = 'technical';
    const found = await run('names', library);
    expect(found.findings.map((f) => f.figure)).toEqual(['case', 'blanks']);
    expect(mended(library, found).groups[0].swatches[0].name).toBe('Cutting');
  });

  it('leaves names in other scripts alone', async () => {
    expect((await of(['Гавань', '#f00'], ['قارب الليل', '#0f0'], ['Λιμάνι', '#00f'])).total).toBe(0);
  });
});

describe('against', () => {
  const mine = libraryOf('now', {
    Hull: [
      ['Navy', '#14304a'],
      ['Kelp', '#2f7d6b'],
      ['New', '#ffcc00'],
    ],
  });
  const theirs = libraryOf('then', {
    Hull: [
      ['Navy', '#14304a'],
      ['Kelp', '#2f8d7b'],
      ['Old', '#8a1c24'],
    ],
  });

  it('tells what was added, is gone, is renamed and recoloured, and takes it back', async () => {
    const found = await run('against', mine, {}, { against: theirs });
    expect(
      found.findings.map(
        (f) => `${f.name} ${f.figure === 'gone' || f.figure === 'added' ? f.figure : 'differs'}`,
      ),
    ).toEqual(['Old gone', 'New added', 'Kelp differs']);
    const names = (l: Library) => l.groups.flatMap((g) => g.swatches.map((s) => s.name));
    expect(names(mended(mine, found, 0))).toEqual(['Navy', 'Kelp', 'New', 'Old']);
    expect(names(mended(mine, found, 1))).toEqual(['Navy', 'Kelp']);
    const back = mended(mine, found, 2);
    expect((await run('against', back, {}, { against: theirs })).findings.map((f) => f.name)).toEqual([
      'Old',
      'New',
    ]);
  });

  it('pairs by id before all else: what was renamed and recoloured is reported as one', async () => {
    const now: Library = structuredClone(theirs);
    Object.assign(now.groups[0].swatches[1], { name: 'Weed', color: parseColor('#2f7d6b') });
    const found = await run('against', now, {}, { against: theirs });
    expect(found.findings.length).toBe(1);
    expect(found.findings[0].mends.map((m) => m.label)).toEqual([
      'Take the colour from there',
      'Name it “Kelp”',
    ]);
  });
});

it('what is left alone stays so until the colour changes, and can be looked at again', async () => {
  const library = libraryOf('x', {
    '': [
      ['Lamp', '#00ff00'],
      ['Signal', '#ff0000'],
    ],
  });
  const check = checkById('press-gamut')!;
  const found = await run('press-gamut', library);
  const rows = LibraryRows.of(library);
  rows.apply(leaveAlone(rows, check, found.findings[0], countingIds('item-')).ops);
  const after = await run('press-gamut', checkLibrary(rows.library));
  expect([called(after), after.left, after.total]).toEqual([['Signal'], 1, 1]);
  rows.apply([
    { op: 'set', of: 'swatch', id: found.findings[0].swatches[0], fields: { color: parseColor('#11ff00') } },
  ]);
  expect((await run('press-gamut', rows.library)).total).toBe(2);
  rows.apply(lookAgain(rows, check).ops);
  expect(rows.library.items ?? []).toEqual([]);
});

describe('artwork', () => {
  const asset = 'cd'.repeat(32);
  const base = libraryOf('Works', {
    Hull: [
      ['Navy', '#14304a'],
      ['Cutting', '#ef6a18'],
      ['White', '#bbbbbb'],
    ],
  });
  const [navy, cutting, white] = base.groups[0]!.swatches as [Swatch, Swatch, Swatch];
  cutting.kind = 'technical';
  white.kind = 'technical';
  const work: ArtworkItem = {
    ...{ id: 'work', kind: ARTWORK, name: 'plate.svg', refs: [] },
    data: {
      ...{ asset, form: 'drawing', parts: 4, width: 85, height: 55, unit: 'mm', count: 3 },
      colors: [
        { hex: '#15304b', name: 'hull', parts: 1, fills: 1 },
        { hex: '#aaaaaa', name: 'underprint', parts: 1, fills: 1 },
        { hex: '#ff0000', name: 'holes', parts: 2, fills: 2 },
      ],
    },
  };
  const withWay = (links: Record<string, Wish>, library = base): Library => ({
    ...library,
    items: [
      work,
      {
        ...{ id: 'way', kind: COLORWAY, name: 'Night' },
        ...withLinks({ refs: [], data: { artwork: 'work', links: {} } }, links),
      },
    ],
  });

  it('off the palette: colours that are not swatches, each with the nearest, mended by a link', async () => {
    const library = withWay({ '#aaaaaa': { swatch: white }, '#ff0000': { swatch: cutting } });
    const found = await run('off-palette', library);
    expect(found.findings.map((f) => [f.name, f.swatches])).toEqual([['hull', [navy.id]]]);
    expect(found.findings[0]!.measure).toBeCloseTo(
      deltaE00(toLab(parseColor('#15304b'), coated), toLab(navy.color, coated)),
      6,
    );
    expect((await run('off-palette', mended(library, found))).total).toBe(0);
    expect((await run('off-palette', { ...base, items: [work] })).total).toBe(3);
    expect((await run('off-palette', { ...base, items: [work] }, { within: 5 })).total).toBeLessThan(3);
  });

  it('lines for machines: none is filled, none is misspelt, none is missing', async () => {
    const library = withWay({ '#aaaaaa': { swatch: white }, '#ff0000': { swatch: cutting } });
    const found = await run('machine-lines', library);
    // white is laid over areas, a cut is not
    expect(found.findings.map((f) => [f.name, f.figure])).toEqual([['Cutting', 'filled']]);
    expect((await run('machine-lines', mended(library, found))).total).toBe(0);

    const slipped = structuredClone(base);
    slipped.groups[0]!.swatches[1]!.name = 'Cuting';
    const [, wrong] = slipped.groups[0]!.swatches as [Swatch, Swatch];
    const misspelt = withWay({ '#ff0000': { swatch: wrong, line: 0.25 } }, slipped);
    const slips = await run('machine-lines', misspelt);
    expect(slips.findings.map((f) => f.says)).toEqual([
      expect.stringMatching(/written “Cutting” where it is looked for/),
    ]);
    expect((await run('machine-lines', mended(misspelt, slips))).total).toBe(0);

    const expects = 'Cutting, KissCut, White';
    const missing = await run('machine-lines', withWay({ '#ff0000': { swatch: cutting, line: 0.25 } }), {
      expects,
    });
    expect(missing.findings.map((f) => [f.name, f.figure])).toEqual([
      ['KissCut', 'missing'],
      ['White', 'missing'],
    ]);
    const own = await run('machine-lines', withWay({ '#ff0000': { swatch: cutting, line: 0.25 } }), {
      expects: 'KissCut',
    });
    expect(own.findings.map((f) => [f.name, f.figure])).toEqual([
      ['KissCut', 'missing'],
      ['Cutting', 'unknown'],
    ]);
  });

  it('says so where there is none', async () => {
    for (const id of ['off-palette', 'machine-lines'])
      expect((await run(id, base)).title).toBe('This library has no artwork');
  });
});

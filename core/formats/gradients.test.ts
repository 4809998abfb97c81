import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { type Color, INTERPOLATIONS, type InterpolationId } from '../color/index.ts';
import { paintGradient, shadeToRgb, shading } from '../gradient/index.ts';
import {
  addGradients,
  addGroups,
  broughtTogether,
  compareForMerge,
  type Gradient,
  gradientsOf,
  gradientsOfGroups,
  gradientThrough,
  LibraryRows,
  mergeLibrary,
  removeSwatches,
  resolvedStops,
  subset,
  withNewIds,
} from '../swatch/index.ts';
import { countingIds, type Library } from '../swatch/model.ts';
import { coated, libraryOf, services } from '../testing.ts';
import { css } from './css/css.ts';
import { ggr } from './ggr/ggr.ts';
import { MARK } from './gpl/gpl.ts';
import { changes as allChanges, type Format, formatById } from './index.ts';
import { papillon } from './papillon/papillon.ts';
import { strip } from './strip/strip.ts';
import { svg } from './svg/svg.ts';
import { tokens } from './tokens/tokens.ts';

const dusk = libraryOf('Dusk', {
  Sky: [
    ['Hull', '#b3262b'],
    ['Brass', '#d9a441'],
    ['Night', '#14304a'],
  ],
});
const swatches = dusk.groups[0]!.swatches;

/** What the format demands as its first line. */
const FIRST = `${MARK} Gradient`;

const changes = (library: Library, format: Format) => allChanges(library, format, services);

/** The library with one gradient through its three swatches. */
function withGradient(way: InterpolationId, more: Partial<Gradient['data']> = {}): Library {
  const gradient = gradientThrough('g', 'Dusk & “dawn” */', swatches, way);
  return { ...dusk, items: [{ ...gradient, data: { ...gradient.data, ...more } }] };
}
const bent = [
  { ref: 0, color: swatches[0]!.color, at: 0, middle: 0.3 },
  { ref: 1, color: swatches[1]!.color, at: 0.55, alpha: 0.4 },
  { ref: 2, color: swatches[2]!.color, at: 1 },
];

/** 256 pixels across, as it is on a screen. */
function row(library: Library): number[][] {
  const [gradient] = gradientsOf(library);
  const byId = new Map(library.groups.flatMap((g) => g.swatches.map((s) => [s.id, s] as const)));
  const pixels = paintGradient(
    gradient!.data,
    resolvedStops(gradient!, (id) => byId.get(id)),
    coated,
    256,
  );
  return Array.from({ length: 256 }, (_, x) => [...pixels.subarray(4 * x, 4 * x + 4)]);
}

/** How far two rows are apart at most, of 255; the colour of what is hardly there is of no account. */
const apart = (a: number[][], b: number[][]) =>
  Math.max(
    ...a.flatMap((p, i) =>
      p.map((v, c) => Math.abs(v - b[i]![c]!) * (c === 3 ? 1 : Math.min(p[3]!, b[i]![3]!) / 255)),
    ),
  );

const again = async (library: Library, format: typeof css | typeof svg) =>
  (await format.decode(await format.encode(library, services), countingIds())).library;

describe('gradients', () => {
  it.each(INTERPOLATIONS)(
    'mixed in %s look the same after CSS, tokens, SVG, GGR and our own file',
    async (way) => {
      for (const library of [
        withGradient(way),
        withGradient(way, { stops: bent }),
        withGradient(way, { steps: 5 }),
      ])
        for (const format of [css, tokens, svg, ggr, papillon])
          expect([format.id, apart(row(library), row(await again(library, format)))]).toEqual([
            format.id,
            expect.toSatisfy((v: number) => v <= 1.01),
          ]);
    },
  );

  it('keep their stops, swatches and mixing in CSS, tokens and our own file', async () => {
    const library = withGradient('oklch');
    for (const format of [css, tokens, papillon]) {
      const there = await again(library, format);
      const [gradient] = gradientsOf(there);
      expect(gradient!.name).toBe('Dusk & “dawn” */');
      expect(gradient!.data.way).toBe('oklch');
      const names = new Map(there.groups.flatMap((g) => g.swatches.map((s) => [s.id, s.name] as const)));
      expect(gradient!.data.stops.map((s) => names.get(gradient!.refs[s.ref!]!))).toEqual([
        'Hull',
        'Brass',
        'Night',
      ]);
      expect((await changes(library, format)).libraryLosses).not.toContain('gradients');
    }
  });

  it('are reported where they do not arrive as they are', async () => {
    const library = withGradient('oklch', { stops: bent });
    expect((await changes(library, svg)).libraryLosses).toContain('midpoints and mixing of gradients');
    expect((await changes(library, formatById('ase'))).libraryLosses).toContain('gradients');
    const report = await changes(library, ggr);
    expect(report.changes.map((c) => c.after)).toEqual(Array(3).fill('left out: GGR holds gradients alone'));
  });

  it('in SVG are drawn by librsvg as they are here, to 1 of 255', async () => {
    const library = withGradient('oklab');
    const [gradient] = gradientsOf(library);
    const text = new TextDecoder().decode(await svg.encode({ ...library, groups: [] }, services));
    // a bar of 256 by 8 pixels
    const wide = text.replace(
      /width="[\d.]+mm" height="[\d.]+mm"/,
      'width="256" height="8" preserveAspectRatio="none"',
    );
    const { data, info } = await sharp(new TextEncoder().encode(wide))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(info.width).toBe(256);
    const middle = 4 * 256 * 4;
    const drawn = Array.from({ length: 256 }, (_, x) => [
      ...data.subarray(middle + 4 * x, middle + 4 * x + 4),
    ]);
    // without its swatches the stops keep the colours these had
    expect(gradient!.refs.length).toBe(3);
    expect(apart(drawn, row(library))).toBeLessThanOrEqual(1);
  });

  it('as a strip are read by another program pixel by pixel', async () => {
    const library = withGradient('lab', { stops: bent });
    const bytes = await strip.encode(library, services, { width: 256, height: 3 });
    const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([256, 3]);
    const drawn = Array.from({ length: 256 }, (_, x) => [...data.subarray(4 * x, 4 * x + 4)]);
    expect(apart(drawn, row(library))).toBe(0);
  });

  it('are read from CSS that others write', async () => {
    const open = (value: string) =>
      gradientsOf(
        css.decode(new TextEncoder().encode(`:root { --deep: #001122; --g: ${value}; }`), countingIds())
          .library,
      )[0];
    const stops = (value: string) =>
      open(value)?.data.stops.map((s) => [Number(s.at.toFixed(3)), s.middle ?? 0.5]);
    expect(stops('linear-gradient(red, blue)')).toEqual([
      [0, 0.5],
      [1, 0.5],
    ]);
    expect(open('linear-gradient(red, blue)')!.data.way).toBe('srgb');
    expect(stops('linear-gradient(to right in oklch longer hue, red 10%, lime, blue 90%)')).toEqual([
      [0.1, 0.5],
      [0.5, 0.5],
      [0.9, 0.5],
    ]);
    expect(open('linear-gradient(to right in oklch longer hue, red, blue)')!.data.way).toBe('oklch-longer');
    expect(
      stops('radial-gradient(circle at 20% 30%, rgb(1 2 3 / 50%), 25%, var(--deep) 50% 75%, white)'),
    ).toEqual(
      [
        [0, 0.5],
        [0.5, 0.5],
        [0.75, 0.5],
        [1, 0.5],
      ].map(([at, m], i) => [at, i === 0 ? 0.5 : m]),
    );
    expect(stops('conic-gradient(from 90deg, oklch(0.5 0.1 20) 0deg, white 180deg)')).toEqual([
      [0, 0.5],
      [0.5, 0.5],
    ]);
    expect(open('linear-gradient(red)')).toBeUndefined();
    expect(open('linear-gradient(red, zork 50%, blue)')).toBeUndefined();
    expect(open('linear-gradient(red 10px, blue 50px)')).toBeUndefined();
  });

  it('are read from GGR by their segments, midpoints and curves', async () => {
    const line = (more: string) =>
      `${FIRST}\nName: Tide\n2\n0 0.2 0.5 1 0 0 1 0 1 0 1 0 0 0 0\n0.5 0.75 1 0 1 0 1 0 0 1 0.5 ${more}\n`;
    const open = (text: string) => ggr.decode(new TextEncoder().encode(text), countingIds());
    const { library } = open(line('0 0 0 0'));
    const [tide] = gradientsOf(library);
    expect([library.name, tide!.name]).toEqual(['Tide', 'Tide']);
    expect(tide!.data.stops.map((s) => [s.at, s.middle])).toEqual([
      [0, 0.4],
      [0.5, undefined],
      [1, undefined],
    ]);
    // at its midpoint a segment is half and half
    const shade = shading(
      tide!.data,
      resolvedStops(tide!, () => undefined),
      coated,
    );
    expect(shadeToRgb(shade(0.2)).map((v) => v.toFixed(4))).toEqual(['0.5000', '0.5000', '0.0000']);
    // a step jumps in the middle, hues go around
    expect(gradientsOf(open(line('5 0 0 0')).library)[0]!.data.stops.length).toBeGreaterThan(15);
    expect(gradientsOf(open(line('0 1 0 0')).library)[0]!.data.stops.length).toBeGreaterThan(15);
    expect(open(line('0 0 1 0')).warnings.join()).toMatch(/1 segment takes/);
    expect(() => open(`${FIRST}\nName: x\n1\n0 0.5 zork\n`)).toThrow(/line 4.*not a segment/);
  });

  it('of hostile texts read without an end or a crash', async () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom(
            'linear-gradient(',
            ')',
            ',',
            'red',
            '50%',
            'in oklab',
            'var(--a)',
            ' ',
            '((',
            '1e999%',
            '-5%',
          ),
        ),
        (bits) => {
          const file = new TextEncoder().encode(
            `:root { --a: #123456; --g: linear-gradient(${bits.join('')}); }`,
          );
          expect(() => css.decode(file, countingIds())).not.toThrow();
        },
      ),
    );
  });

  it('that are damaged are not gradients, and break nothing', () => {
    const sound = withGradient('oklab').items![0]!;
    const data = sound.data as Gradient['data'];
    const with_ = (more: object) => gradientsOf({ items: [{ ...sound, data: { ...data, ...more } }] }).length;
    expect(with_({})).toBe(1);
    for (const more of [
      { stops: [] },
      { stops: [null] },
      { stops: [{ at: 0.5, color: { space: 'rgb' } }] },
      { stops: [{ at: 0.5, color: { space: 'rgb', components: [1, 2] } }] },
      { stops: [{ at: 0.5, color: { space: 'constructor', components: [] } }] },
      { stops: [{ at: Number.NaN, color: swatches[0]!.color }] },
      { steps: 1e9 },
      { steps: 0 },
      { stops: Array(501).fill(data.stops[0]) },
    ])
      expect([more, with_(more)]).toEqual([more, 0]);
    // a way that is not known, and references that lead nowhere, do for the plain ones
    expect(with_({ way: 'zork' })).toBe(1);
    const lost = withGradient('oklab', {
      way: 'zork' as InterpolationId,
      stops: [{ ...data.stops[0]!, ref: 99 }],
    });
    expect(row(lost)[128]).toEqual([179, 38, 43, 255]);
  });

  it('of very many swatches are not made: a file has as many stops as it may', async () => {
    const many = libraryOf('Many', {
      A: Array.from({ length: 700 }, (_, i) => [`${i}`, i % 2 ? '#ff0000' : '#00ffff'] as [string, string]),
    });
    expect(gradientsOfGroups(many, countingIds('x'))).toEqual([]);
    for (const format of [ggr, strip]) expect(gradientsOf(await again(many, format)).length).toBe(1);
  });

  it('recolour with their swatches, and keep the colour of one that is deleted', () => {
    const rows = LibraryRows.of(withGradient('oklab'));
    const blue: Color = { space: 'rgb', components: [0, 0, 1] };
    const [id] = swatches.map((s) => s.id);
    rows.apply([{ op: 'set', of: 'swatch', id: id!, fields: { color: blue } }]);
    expect(row(rows.library)[0]![2]).toBeGreaterThan(250);
    const before = row(rows.library);
    const { inverse } = rows.apply(removeSwatches([id!], rows).ops);
    expect(row(rows.library)).toEqual(before);
    // one undo brings back both
    rows.apply(inverse);
    expect(rows.library.groups[0]!.swatches.length).toBe(3);
    expect(resolvedStops(gradientsOf(rows.library)[0]!, (s) => rows.find(s)?.swatch)[0]!.swatch!.id).toBe(id);
  });

  it('go along in a copy, on the copy’s own swatches', () => {
    const copy = withNewIds(withGradient('oklab', { stops: bent }), countingIds('n'));
    const [gradient] = gradientsOf(copy);
    expect(gradient!.refs).toEqual(copy.groups[0]!.swatches.map((s) => s.id));
    expect(row(copy)).toEqual(row(withGradient('oklab', { stops: bent })));
    // a part takes the colours of what stays behind along
    const part = withNewIds(
      { ...withGradient('oklab'), groups: [{ ...dusk.groups[0]!, swatches: swatches.slice(1) }] },
      countingIds('p'),
    );
    expect(gradientsOf(part)[0]!.refs.length).toBe(2);
    expect(row(part)).toEqual(row(withGradient('oklab')));
  });

  it('come along when a file’s groups are added to another library, and part with what they do not lead through', () => {
    const rows = LibraryRows.of(libraryOf('Here', { A: [['x', '#111111']] }));
    const { groups, items } = broughtTogether([withGradient('lab'), withGradient('oklab')], countingIds('b'));
    rows.apply(addGroups(rows, groups, undefined, items).ops);
    const all = gradientsOf(rows.library);
    expect(all.map((g) => g.data.way)).toEqual(['lab', 'oklab']);
    all.forEach((g, i) => {
      expect(g.refs).toEqual(rows.library.groups[i + 1]!.swatches.map((s) => s.id));
    });
    // a part that it does not lead through is without it
    expect(subset(rows.library, (_, g) => g === rows.library.groups[0]).items).toEqual([]);
    expect(subset(rows.library, (_, g) => g === rows.library.groups[2]).items).toEqual([all[1]]);
  });

  it('come along when a library is merged, onto the swatches that meet, and once', () => {
    const theirs = withNewIds(withGradient('oklch'), countingIds('t'));
    const rows = LibraryRows.of(
      withNewIds(
        { ...dusk, groups: [{ ...dusk.groups[0]!, swatches: swatches.slice(0, 2) }] },
        countingIds('m'),
      ),
    );
    const keep = { same: 'mine', name: 'mine', color: 'mine' } as const;
    const newId = countingIds('n');
    for (let round = 0; round < 2; round++) {
      const draft = mergeLibrary(rows, theirs, compareForMerge(rows.library, theirs, coated), keep, newId);
      if (draft) rows.apply(draft.ops);
      const all = gradientsOf(rows.library);
      expect(all.length).toBe(1);
      expect(all[0]!.refs).toEqual(rows.library.groups[0]!.swatches.map((s) => s.id));
    }
  });

  it('of 175 swatches in 35 groups are 35 in one step, with the groups’ names', () => {
    const newId = countingIds('x');
    const many = libraryOf(
      'Many',
      Object.fromEntries(
        Array.from({ length: 35 }, (_, g) => [
          `Ramp ${g + 1}`,
          Array.from(
            { length: 5 },
            (_, i) =>
              [
                `${g}-${i}`,
                `#${(g * 7).toString(16).padStart(2, '0')}${(i * 50).toString(16).padStart(2, '0')}80`,
              ] as [string, string],
          ),
        ]),
      ),
    );
    const rows = LibraryRows.of(many);
    const draft = addGradients(rows, gradientsOfGroups(many, newId));
    rows.apply(draft.ops);
    expect(gradientsOf(rows.library).map((g) => g.name)).toEqual(
      many.groups.filter((g) => g.name).map((g) => g.name),
    );
    expect(gradientsOf(rows.library).length).toBe(35);
  });
});

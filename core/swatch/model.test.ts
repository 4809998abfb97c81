import { describe, expect, it } from 'vitest';
import { parseColor } from '../color/index.ts';
import { coated, fleet, libraryOf } from '../testing.ts';
import { checkLibrary } from './checks.ts';
import {
  allSwatches,
  countingIds,
  countSwatches,
  isLoose,
  ShapeError,
  type Swatch,
  subset,
  swatchIndex,
  swatchOrders,
  toSearchText,
  withNewIds,
} from './index.ts';

describe('a library', () => {
  it('has a place for swatches in no group only at its beginning', () => {
    const library = libraryOf('x', { '': [['a', '#111']], Hull: [['b', '#222']] });
    const odd = { ...library, groups: [library.groups[1], library.groups[0]] };
    expect(library.groups.map((g) => isLoose(library, g))).toEqual([true, false]);
    expect(odd.groups.map((g) => isLoose(odd, g))).toEqual([false, false]);
  });

  it('is counted, indexed and cut', () => {
    expect(countSwatches(fleet)).toBe(5);
    expect(swatchIndex(fleet).get('4')).toMatchObject({ group: { id: 'g1' }, index: 1 });
    const spots = subset(fleet, (s) => s.kind === 'spot');
    expect(spots.groups.map((g) => g.id)).toEqual(['g1']);
    expect(allSwatches(spots).map((s) => s.name)).toEqual(['Boot-top red']);
    // the given one is never changed
    expect(countSwatches(fleet)).toBe(5);
  });

  it('gets new ids all through, and nothing else', () => {
    const copy = withNewIds(fleet, countingIds('new-'));
    const ids = [copy.id, ...copy.groups.flatMap((g) => [g.id, ...g.swatches.map((s) => s.id)])];
    expect(new Set(ids).size).toBe(ids.length);
    expect(ids.every((id) => id.startsWith('new-'))).toBe(true);
    expect(allSwatches(copy).map(({ id: _, ...s }) => s)).toEqual(
      allSwatches(fleet).map(({ id: _, ...s }) => s),
    );
  });

  it('from outside is checked, with the place of what is wrong', () => {
    expect(checkLibrary(JSON.parse(JSON.stringify(fleet)))).toEqual(fleet);
    const wrong = (change: (l: typeof fleet) => void) => {
      const copy = JSON.parse(JSON.stringify(fleet));
      change(copy);
      return () => checkLibrary(copy);
    };
    expect(wrong((l) => Object.assign(l, { name: 7 }))).toThrow(ShapeError);
    expect(wrong((l) => Object.assign(l.groups[1].swatches[0], { kind: 'ink' }))).toThrow(
      /groups\/1\/swatches\/0/,
    );
    expect(wrong((l) => Object.assign(l.groups[0].swatches[0], { alpha: 7 }))).toThrow(/alpha/);
    expect(
      wrong((l) => Object.assign(l.groups[0].swatches[0], { color: { space: 'rgb', components: [1] } })),
    ).toThrow(/color/);
  });

  it('that is copied keeps what its items refer to, and leaves behind what refers to nothing any more', () => {
    const library = libraryOf('x', {
      Hull: [
        ['a', '#111'],
        ['b', '#222'],
      ],
    });
    const [a, b] = library.groups[0]!.swatches;
    library.items = [
      { id: 'one', kind: 'set', name: 'both', refs: [b!.id, a!.id], data: {} },
      { id: 'two', kind: 'pairing', name: 'gone', refs: ['deleted long ago'], data: {} },
      { id: 'three', kind: 'note', name: 'of none', data: {} },
    ];
    const copy = withNewIds(library, countingIds('new-'));
    const byId = new Map(allSwatches(copy).map((s) => [s.id, s.name]));
    expect(copy.items!.map((i) => [i.name, i.refs?.map((ref) => byId.get(ref))])).toEqual([
      ['both', ['b', 'a']],
      ['of none', undefined],
    ]);
    expect(copy.items!.every((i) => i.id.startsWith('new-'))).toBe(true);
  });
});

describe('searching and sorting', () => {
  it('looks through name, code, role and hex, in any case, line by line', () => {
    const swatch: Swatch = {
      id: '1',
      name: 'Boot-top\nÖlrot',
      code: 'KF 204',
      role: 'Waterline',
      kind: 'spot',
      color: parseColor('#B3262B'),
    };
    expect(toSearchText(swatch, coated).split('\n')).toEqual([
      'boot-top ölrot',
      'kf 204',
      'waterline',
      '#b3262b',
    ]);
  });

  const named = (name: string, color: string): Swatch => ({
    id: name,
    name,
    kind: 'process',
    color: parseColor(color),
  });
  const sorted = (order: keyof typeof swatchOrders, list: Swatch[]) =>
    [...list].sort(swatchOrders[order].by(coated)).map((s) => s.name);
  const list = [
    named('red 10', '#ff0000'),
    named('grey', '#888888'),
    named('red 9', '#800000'),
    named('blue', '#0000ff'),
    named('white', '#ffffff'),
    named('green', '#00ff00'),
  ];

  it('by lightness, light first', () => {
    expect(sorted('lightness', list)).toEqual(['white', 'green', 'grey', 'red 10', 'blue', 'red 9']);
  });

  it('by hue, neutrals at the end', () => {
    expect(sorted('hue', list)).toEqual(['red 9', 'red 10', 'green', 'blue', 'white', 'grey']);
  });

  it('by chroma, strongest first', () => {
    expect(sorted('chroma', list).slice(-2).sort()).toEqual(['grey', 'white']);
  });

  it('by name, with numbers as numbers', () => {
    expect(sorted('name', list)).toEqual(['blue', 'green', 'grey', 'red 9', 'red 10', 'white']);
  });
});

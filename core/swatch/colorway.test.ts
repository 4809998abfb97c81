import { describe, expect, it } from 'vitest';
import { parseColor } from '../color/index.ts';
import { libraryOf } from '../testing.ts';
import { checkChange, checkLibrary } from './checks.ts';
import {
  ARTWORK,
  type ArtworkItem,
  addArtworks,
  addColorways,
  addOutline,
  allSwatches,
  artworksOf,
  asOne,
  COLORWAY,
  type Colorway,
  colorwaysOf,
  countingIds,
  type Draft,
  isArtwork,
  isColorway,
  LibraryRows,
  removeArtwork,
  removeColorway,
  removeOutline,
  removeSwatches,
  renameColorway,
  setLinks,
  withLinks,
  withNewIds,
} from './index.ts';

const hash = 'ab'.repeat(32);
const artwork: ArtworkItem = {
  ...{ id: 'work', kind: ARTWORK, name: 'scarf.svg', refs: [] },
  data: {
    ...{ asset: hash, form: 'drawing', parts: 3, width: 100, height: 50, unit: 'mm', count: 1 },
    colors: [{ hex: '#102030', name: 'hull', parts: 3, fills: 3 }],
  },
};

function begin() {
  const rows = LibraryRows.of(
    libraryOf('Harbour', {
      Hull: [
        ['Navy', '#14304a'],
        ['Red', '#b3262b'],
        ['Cutting', '#ef6a18'],
      ],
    }),
  );
  const [navy, red, cut] = allSwatches(rows.library) as [never, never, never];
  const colorway: Colorway = {
    ...{ id: 'way', kind: COLORWAY, name: 'Night' },
    ...withLinks(
      { refs: [], data: { artwork: 'work', links: {} } },
      { '#102030': { swatch: navy }, '40 fill': { swatch: red } },
    ),
  };
  const edit = ({ label, ops }: Draft) => {
    // what goes to the server passes its check
    checkChange({ id: 'change-1', by: 'me', label, ops });
    const done = rows.apply(ops);
    expect(done.skipped).toEqual([]);
    checkLibrary(rows.library);
    return done.inverse;
  };
  edit(addArtworks(rows, [artwork]));
  edit(addColorways(rows, [colorway]));
  const way = () => colorwaysOf(rows.library, 'work')[0]!;
  const work = () => artworksOf(rows.library)[0]!;
  return { rows, edit, way, work, navy, red, cut, colorway };
}
type Linked = { id: string; name: string };

describe('links of a colourway', () => {
  it('refer to each swatch once, and let go of what nothing refers to any more', () => {
    const { way, edit, red, navy } = begin();
    expect(way().refs).toEqual([(navy as Linked).id, (red as Linked).id]);
    edit(
      setLinks(
        way(),
        { '#ffffff': { swatch: red }, '#102030': { color: parseColor('#ff0000') } },
        'recolour',
      ),
    );
    expect(way().refs).toEqual([(red as Linked).id]);
    expect(Object.entries(way().data.links).map(([k, l]) => [k, l.ref])).toEqual([
      ['40 fill', 0],
      ['#ffffff', 0],
      ['#102030', undefined],
    ]);
    edit(
      setLinks(
        way(),
        { '40 fill': null, '#ffffff': { follows: '#102030', lighter: -10, color: parseColor('#ff0000') } },
        'recolour',
      ),
    );
    expect(way().refs).toEqual([]);
    expect(way().data.links['#ffffff']).toMatchObject({ follows: '#102030', lighter: -10 });
  });

  it('keep name and color of a swatch that is deleted, and have it back when that is undone', () => {
    const { rows, edit, way, navy } = begin();
    const before = structuredClone(way());
    const undo = edit(removeSwatches([(navy as Linked).id], rows));
    expect(way().data.links['#102030']).toMatchObject({ name: 'Navy', color: parseColor('#14304a') });
    rows.apply(undo);
    expect(way()).toEqual(before);
    expect(rows.find(way().refs[0]!)?.swatch.name).toBe('Navy');
  });
});

it('artwork goes with its colourways, and undo brings back both', () => {
  const { rows, edit, work, way } = begin();
  edit(renameColorway(way(), 'Kelp'));
  const undo = edit(removeArtwork(rows, work()));
  expect(rows.library.items).toBeUndefined();
  rows.apply(undo);
  expect([work().name, way().name]).toEqual(['scarf.svg', 'Kelp']);
  edit(removeColorway(way()));
  expect(colorwaysOf(rows.library, 'work')).toEqual([]);
  expect(artworksOf(rows.library)).toHaveLength(1);
});

it('lines around shapes are drawn with a swatch, kept when it is deleted, and taken off', () => {
  const { rows, edit, work, cut } = begin();
  edit(addOutline(work(), cut, { of: ['40 fill'], offset: 2, width: 0.25 }, countingIds('o')));
  edit(addOutline(work(), cut, { of: ['60 fill'], offset: -1, width: 0.1 }, countingIds('p')));
  expect(work().refs).toEqual([(cut as Linked).id]);
  edit(removeSwatches([(cut as Linked).id], rows));
  expect(work().data.outlines?.map((o) => o.name)).toEqual(['Cutting', 'Cutting']);
  edit(removeOutline(work(), 'o1'));
  expect(work().data.outlines?.map((o) => o.id)).toEqual(['p1']);
});

it('a copy of the library has the same artwork with colourways of its own swatches', () => {
  const { rows, edit, work, cut } = begin();
  edit(addOutline(work(), cut, { of: ['40 fill'], offset: 2, width: 0.25 }, countingIds('o')));
  const copy = checkLibrary(withNewIds(rows.library, countingIds('new-')));
  const [own] = artworksOf(copy);
  const [way] = colorwaysOf(copy, own!.id);
  const byId = new Map(allSwatches(copy).map((s) => [s.id, s.name]));
  expect(own!.id).not.toBe('work');
  expect(way!.refs.map((id) => byId.get(id))).toEqual(['Navy', 'Red']);
  expect(own!.refs.map((id) => byId.get(id))).toEqual(['Cutting']);
  expect(own!.data.asset).toBe(hash);
  // in other people's files and libraries there are no bytes that go with it
  expect(asOne([rows.library, rows.library], 'both', countingIds('b-')).items).toBeUndefined();
});

it('what another version or program has written is not taken for a colourway or artwork', () => {
  const { colorway } = begin();
  for (const data of [
    null,
    {},
    { artwork: 'a' },
    { artwork: 'a', links: { x: null } },
    { artwork: 'a', links: { x: { color: 'red' } } },
    { artwork: 'a', links: { x: { color: parseColor('red'), line: -1 } } },
  ])
    expect(isColorway({ ...colorway, data })).toBe(false);
  for (const data of [
    null,
    { ...artwork.data, asset: '../x' },
    { ...artwork.data, colors: [{ hex: 'red' }] },
    { ...artwork.data, outlines: [{}] },
  ])
    expect(isArtwork({ ...artwork, data })).toBe(false);
  expect([isColorway(colorway), isArtwork(artwork)]).toEqual([true, true]);
});

import { strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { coated, fleet, libraryOf, readBy, recognisedAs, services } from '../../testing.ts';
import { compareWritten } from '../changes.ts';
import { assetCatalogue } from './asset-catalogue.ts';

describe('asset catalogues', () => {
  const set = (...colors: object[]) => strToU8(JSON.stringify({ colors, info: { author: 'x', version: 1 } }));
  const color = (space: string, components: object, more = {}) => ({
    idiom: 'universal',
    color: { 'color-space': space, components },
    ...more,
  });
  const dark = { appearances: [{ appearance: 'luminosity', value: 'dark' }] };

  it('read whole numbers as bytes only where one is beyond 1, and opacity always as a part', () => {
    const set = (components: object) => JSON.stringify({ colors: [color('srgb', components)] });
    const read = (components: object) => readBy(assetCatalogue, set(components)).swatches[0]!;
    expect(read({ red: '1', green: '0', blue: '0', alpha: '1' })).toMatchObject({
      color: { components: [1, 0, 0] },
    });
    expect(read({ red: '1', green: '0', blue: '0', alpha: '1' }).alpha).toBeUndefined();
    expect(read({ red: '1', green: '0', blue: '51', alpha: '1.000' })).toMatchObject({
      color: { components: [1 / 255, 0, 0.2] },
    });
  });

  it('read components of all three kinds, wide spaces, and what is for the dark as a group', () => {
    const zip = zipSync({
      'Sea.xcassets/Contents.json': strToU8('{"info":{"author":"x","version":1}}'),
      'Sea.xcassets/Hull/Navy.colorset/Contents.json': set(
        color('srgb', { red: '0x14', green: '48', blue: '0.2902', alpha: '1.000' }),
        color('display-p3', { red: '0.1', green: '0.2', blue: '0.3', alpha: '0.5' }, dark),
      ),
      'Sea.xcassets/Fog.colorset/Contents.json': set(color('gray-gamma-22', { white: '0.5', alpha: '1' })),
    });
    const { library, swatches } = readBy(assetCatalogue, zip);
    expect(library.name).toBe('Sea');
    expect(library.groups.map((g) => g.name)).toEqual(['', 'Hull', 'Hull, dark']);
    expect(swatches.map((s) => [s.name, s.color.space, s.alpha])).toEqual([
      ['Fog', 'gray', undefined],
      ['Navy', 'rgb', undefined],
      ['Navy', 'p3', 0.5],
    ]);
    expect(toHex(swatches[1]!.color, coated)).toBe('#14304a');
    expect([recognisedAs(zip), recognisedAs(set(color('srgb', { red: '1.0' })))]).toEqual([
      'asset-catalogue',
      'asset-catalogue',
    ]);
  });

  it('hold as many as an archive may have files, and the rest is reported', async () => {
    const many = libraryOf('Many', {
      A: Array.from({ length: 3000 }, (_, i): [string, string] => [`A ${i}`, '#14304a']),
      B: Array.from({ length: 2001 }, (_, i): [string, string] => [`B ${i}`, '#14304a']),
    });
    const bytes = assetCatalogue.encode(many, services);
    expect(recognisedAs(bytes)).toBe('asset-catalogue');
    expect(readBy(assetCatalogue, bytes).swatches.length).toBe(5000);
    const told = await compareWritten(many, bytes, assetCatalogue, coated);
    expect(told.arrivals.filter((a) => !a.there).length).toBe(1);
  });

  it('write a folder for each group and a set for each swatch, as the archive shows', () => {
    const files = unzipSync(assetCatalogue.encode(fleet, services));
    expect(Object.keys(files)).toEqual(
      expect.arrayContaining([
        'Fleet livery.xcassets/Contents.json',
        'Fleet livery.xcassets/Hull/Contents.json',
        'Fleet livery.xcassets/Hull/Cutting.colorset/Contents.json',
      ]),
    );
    const paper = JSON.parse(
      new TextDecoder().decode(files['Fleet livery.xcassets/Paper.colorset/Contents.json']),
    );
    expect(paper.colors[0].color).toEqual({
      'color-space': 'gray-gamma-22',
      components: { white: '1.000', alpha: '1.000' },
    });
  });
});

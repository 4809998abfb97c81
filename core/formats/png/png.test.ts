import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { localServices } from '../../../cli/engine.ts';
import { fromRgb8, toHex } from '../../color/index.ts';
import { exactColors } from '../../picture/index.ts';
import { coated, fleet } from '../../testing.ts';
import { png, pngSheet } from './png.ts';

const services = await localServices();

const hexes = fleet.groups.flatMap((g) => g.swatches.map((s) => toHex(s.color, coated)));
const raw = async (bytes: Uint8Array) => {
  const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { data: new Uint8Array(data), width: info.width, height: info.height };
};

describe('PNG sheet', () => {
  it('is read by sharp, with exact colours and an sRGB chunk', async () => {
    const bytes = await png.encode(fleet, services, { columns: 2, chip: 20 });
    const { data, width, height } = await raw(bytes);
    expect([width, height]).toEqual([40, 60]);
    const at = (x: number, y: number) =>
      `#${Buffer.from(data.subarray((y * 40 + x) * 4, (y * 40 + x) * 4 + 3)).toString('hex')}`;
    expect([at(0, 0), at(39, 0), at(0, 39), at(39, 39), at(0, 59)]).toEqual(hexes);
    // places after the last chip hold nothing
    expect(data[(59 * 40 + 39) * 4 + 3]).toBe(0);
    const text = Buffer.from(bytes).toString('latin1');
    expect(text.indexOf('sRGB')).toBe(37);
    expect(text.indexOf('IDAT')).toBeGreaterThan(37);
  });

  it('comes back through Gather, Exact, as the same palette in the same order', async () => {
    for (const options of [undefined, { columns: 1, chip: 4 }, { columns: 3, chip: 33 }]) {
      const found = exactColors(await raw(await png.encode(fleet, services, options)));
      expect(found.colors.map((c) => toHex(fromRgb8(...c.rgb), coated))).toEqual(hexes);
    }
  });

  it('with names keeps the chips exact and writes under them', async () => {
    const options = { columns: 5, chip: 80, names: true };
    const bytes = await png.encode(fleet, services, options);
    const { data, width, height } = await raw(bytes);
    expect([width, height]).toEqual([400, 114]);
    hexes.forEach((hex, i) => {
      const p = (40 * width + i * 80 + 40) * 4;
      expect(`#${Buffer.from(data.subarray(p, p + 3)).toString('hex')}`).toBe(hex);
      let ink = 0;
      for (let y = 80; y < 114; y++)
        for (let x = i * 80; x < i * 80 + 80; x++) ink += data[(y * width + x) * 4] < 128 ? 1 : 0;
      expect(ink).toBeGreaterThan(60);
    });
  });

  it('shrinks its chips before it becomes a picture that no program opens', () => {
    const swatches = Array.from({ length: 3000 }, (_, i) => ({ ...fleet.groups[0].swatches[1], id: `${i}` }));
    const sheet = pngSheet({ ...fleet, groups: [{ id: 'g', name: '', swatches }] }, { chip: 400 });
    expect(sheet.width * sheet.height).toBeLessThanOrEqual(120e6);
    expect(sheet.chip).toBeGreaterThan(150);
  });
});

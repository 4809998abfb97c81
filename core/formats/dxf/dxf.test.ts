import DxfParser from 'dxf-parser';
import { describe, expect, it } from 'vitest';
import { deltaE00, fromRgb8, toLab, toRgb8 } from '../../color/index.ts';
import { coated, fleet, readBy, writeBy } from '../../testing.ts';
import { dxf } from './dxf.ts';
import { INDEXED, nearestIndexed } from './indexed.ts';

const swatches = fleet.groups.flatMap((g) => g.swatches);
const rgb = (i: number) => toRgb8(swatches[i].color, coated).reduce((n, v) => n * 256 + v, 0);

describe('DXF', () => {
  it('is read by dxf-parser: a layer and a solid for each swatch, in true colour', () => {
    const drawing = new DxfParser().parseSync(writeBy(dxf, fleet, { columns: 3, chip: 10 }))!;
    const { layers } = drawing.tables.layer;
    const names = Object.keys(layers).filter((n) => n !== '0');
    expect(names.length).toBe(5);
    names.forEach((name, i) => {
      expect(layers[name].colorIndex).toBe(nearestIndexed(toRgb8(swatches[i].color, coated)));
    });
    expect(names[2]).toBe('Boot-top red');
    expect(drawing.entities.map((e) => [e.type, e.layer, (e as unknown as { color: number }).color])).toEqual(
      names.map((n, i) => ['SOLID', n, rgb(i)]),
    );
    // the first chip is at the upper left, 10 mm wide
    const [{ points }] = drawing.entities as unknown as { points: { x: number; y: number }[] }[];
    expect([Math.min(...points.map((p) => p.x)), Math.max(...points.map((p) => p.x))]).toEqual([0, 10]);
    expect([Math.min(...points.map((p) => p.y)), Math.max(...points.map((p) => p.y))]).toEqual([10, 20]);
  });

  it('its indexed colours are those of dxf-parser', () => {
    const lines = INDEXED.slice(1).flatMap((_, i) => ['0', 'LINE', '8', '0', '62', `${i + 1}`]);
    const text = ['0', 'SECTION', '2', 'ENTITIES', ...lines, '0', 'ENDSEC', '0', 'EOF', ''].join('\n');
    const entities = new DxfParser().parseSync(text)!.entities as unknown as { color: number }[];
    expect(entities.length).toBe(255);
    entities.forEach(({ color }, i) => {
      INDEXED[i + 1].forEach((v, c) => {
        // half-saturated tones are rounded differently by a step or two
        expect(Math.abs(v - ((color >> (16 - 8 * c)) & 255))).toBeLessThanOrEqual(2);
      });
    });
  });

  it('finds the nearest of all indexed colours by ΔE00', () => {
    for (let i = 0; i < 2000; i++) {
      const rgb: [number, number, number] = [(i * 37) % 256, (i * 91) % 256, (i * 149) % 256];
      const lab = toLab(fromRgb8(...rgb), coated);
      const distances = INDEXED.slice(1).map(([r, g, b]) => deltaE00(lab, toLab(fromRgb8(r, g, b), coated)));
      expect(distances[nearestIndexed(rgb) - 1]).toBe(Math.min(...distances));
    }
  });

  it('reads layers in true and indexed colour, and entities that differ from their layer', () => {
    const pairs = (...list: (string | number)[]) => list.join('\n');
    const text = pairs(
      ...[999, 'a remark', 0, 'SECTION', 2, 'TABLES'],
      ...[0, 'LAYER', 2, '0', 62, 7, 0, 'LAYER', 2, 'Hull', 62, 5],
      ...[0, 'LAYER', 2, 'Off', 62, -1, 420, 1193046, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES'],
      ...[0, 'LINE', 8, 'Hull', 62, 256, 0, 'LINE', 8, 'Hull', 62, 3, 0, 'LINE', 8, 'Hull', 62, 3],
      ...[0, 'LINE', 8, '0', 420, 16711935, 0, 'ENDSEC', 0, 'EOF'],
    );
    expect(readBy(dxf, text).lines).toEqual(['Hull #0000ff', 'Off #123456', 'Hull #00ff00', ' #ff00ff']);
  });

  it('names of any script go through as ASCII and come back', () => {
    const name = 'قارب الليل 🚢';
    const one = { ...fleet, groups: [{ id: 'g', name: '', swatches: [{ ...swatches[1], name }] }] };
    const text = writeBy(dxf, one);
    expect(text).toMatch(/^[\x20-\x7e\n]*$/);
    expect(readBy(dxf, text).swatches[0].name).toBe(name);
  });

  it('says what is wrong and where', () => {
    expect(() => readBy(dxf, writeBy(dxf, fleet).slice(0, 900))).toThrow(/EOF|group code/);
    expect(() => readBy(dxf, '0\nSECTION\nx\ny\n')).toThrow(/line 3 \(“x”\) should be a group code/);
  });
});

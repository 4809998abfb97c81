import { createHash } from 'node:crypto';
import DxfParser, { type ISolidEntity } from 'dxf-parser';
import { describe, expect, it } from 'vitest';
import { deltaE00, fromRgb8, toHex, toLab, toRgb8 } from '../../color/index.ts';
import { gradientsOf } from '../../swatch/gradient.ts';
import { coated, fleet, readBy, writeBy } from '../../testing.ts';
import { dxf } from './dxf.ts';
import { INDEXED, nearestIndexed } from './indexed.ts';

/** A drawing with a hatch, as ezdxf writes its layers and entities. */
const HATCHED =
  `0~SECTION 2~TABLES 0~TABLE 2~LAYER 5~1 330~0 100~AcDbSymbolTable 70~3 0~LAYER 5~27 330~1 100~AcDbSymbolTableRecord 100~AcDbLayerTableRecord 2~0 70~0 62~7 6~Continuous 370~-3 390~13 0~LAYER 5~28 330~1 100~AcDbSymbolTableRecord 100~AcDbLayerTableRecord 2~Defpoints 70~0 62~7 6~Continuous 290~0 370~-3 390~13 0~LAYER 5~2F 330~1 100~AcDbSymbolTableRecord 100~AcDbLayerTableRecord 2~Sea 70~0 62~7 420~3112299 6~Continuous 370~-3 390~13 0~ENDTAB 0~ENDSEC 0~SECTION 2~ENTITIES 0~HATCH 5~30 330~17 100~AcDbEntity 8~Sea 62~7 100~AcDbHatch 10~0.0 20~0.0 30~0.0 210~0.0 220~0.0 230~1.0 2~SOLID 70~1 71~0 91~1 92~3 72~0 73~1 93~4 10~0.0 20~0.0 10~10.0 20~0.0 10~10.0 20~10.0 10~0.0 20~10.0 97~0 75~0 76~1 98~0 450~1 451~0 460~0.0 461~0.0 452~0 462~0.0 453~2 463~0 421~1323082 463~1 421~14263361 470~LINEAR 0~POINT 5~31 330~17 100~AcDbEntity 8~Defpoints 100~AcDbPoint 10~1.0 20~1.0 30~0.0 0~ENDSEC 0~EOF
`.replace(/[ ~](?=\S)/g, '\n');

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
    expect(drawing.entities.map((e) => [e.type, e.layer, e.color])).toEqual(
      names.map((n, i) => ['SOLID', n, rgb(i)]),
    );
    // the first chip is at the upper left, 10 mm wide
    const [{ points }] = drawing.entities as ISolidEntity[];
    expect([Math.min(...points.map((p) => p.x)), Math.max(...points.map((p) => p.x))]).toEqual([0, 10]);
    expect([Math.min(...points.map((p) => p.y)), Math.max(...points.map((p) => p.y))]).toEqual([10, 20]);
  });

  it('its indexed colours are those of ezdxf, and the pure ones those of dxf-parser, too', () => {
    const hex = INDEXED.slice(1).map((c) => c.map((v) => v.toString(16).padStart(2, '0')).join(''));
    // of ezdxf 1.4.4’s DXF_DEFAULT_COLORS, 1 to 255, written so
    expect(createHash('sha256').update(hex.join('')).digest('hex')).toBe(
      '9efbdae6fb64c344beafb065a1637b196b9e2d4368c74bf60fa7e0038c937e6a',
    );
    const pure = [1, 2, 3, 4, 5, 6, 7, 10, 30, 50, 90, 130, 170, 210];
    const lines = pure.flatMap((i) => ['0', 'LINE', '8', '0', '62', `${i}`]);
    const text = ['0', 'SECTION', '2', 'ENTITIES', ...lines, '0', 'ENDSEC', '0', 'EOF', ''].join('\n');
    const entities = new DxfParser().parseSync(text)!.entities;
    expect(entities.map((e) => e.color)).toEqual(pure.map((i) => Number.parseInt(hex[i - 1]!, 16)));
  });

  it('reads the gradients of hatches, and passes over the layer of helping points, as ezdxf writes them', () => {
    const { lines, library } = readBy(dxf, HATCHED);
    expect(lines).toEqual(['Sea #2f7d6b', 'Sea #14304a', 'Sea #d9a441']);
    expect(
      gradientsOf(library).map((g) => [g.name, g.data.stops.map((s) => [toHex(s.color, coated), s.at])]),
    ).toEqual([
      [
        'Sea',
        [
          ['#14304a', 0],
          ['#d9a441', 1],
        ],
      ],
    ]);
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

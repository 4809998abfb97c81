import { type Color, fromRgb8 } from '#core/color/index';
import type { Library, Swatch } from '#core/swatch/index';

const hex = (text: string): Color =>
  fromRgb8(
    ...([0, 2, 4].map((at) => Number.parseInt(text.slice(at, at + 2), 16)) as [number, number, number]),
  );
const inks = (...percent: number[]): Color => ({ space: 'cmyk', components: percent.map((v) => v / 100) });

const swatch = (id: string, name: string, color: Color, more: Partial<Swatch> = {}): Swatch => ({
  id,
  name,
  kind: 'process',
  color,
  ...more,
});

/** A small invented library to try everything with: the livery of a ferry, its route map, and what a cutter follows. */
export const sampleLibrary: Library = {
  id: 'sample',
  name: 'Sample: a ferry’s livery',
  groups: [
    {
      id: 'hull',
      name: 'Hull',
      swatches: [
        swatch('s1', 'Hull navy', inks(96, 78, 38, 30)),
        swatch(
          's2',
          'Boot-top red',
          { space: 'lab', components: [42, 58, 36] },
          { kind: 'spot', code: 'SF 18' },
        ),
        swatch('s3', 'Rail white', hex('f4f1e8')),
        swatch('s4', 'Rope', hex('c9a979')),
      ],
    },
    {
      id: 'map',
      name: 'Route map',
      swatches: [
        swatch('s5', 'Deep water', hex('1f4e6b'), { role: 'background' }),
        swatch('s6', 'Shallows', hex('7fb3b8')),
        swatch('s7', 'Route', hex('e2572b'), { role: 'accent' }),
        swatch('s8', 'Lettering', hex('14202b'), { role: 'text' }),
      ],
    },
    {
      id: 'cutter',
      name: 'Cutter',
      swatches: [swatch('s9', 'Cut', inks(0, 100, 0, 0), { kind: 'technical' })],
    },
  ],
};

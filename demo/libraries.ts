import { takenFrom } from '../core/books/index.ts';
import {
  deltaE00,
  type InterpolationId,
  type Lab,
  parseColor,
  screenOnly,
  toLab,
} from '../core/color/index.ts';
import type { PaletteColor } from '../core/picture/index.ts';
import { gradientThrough } from '../core/swatch/gradient.ts';
import { allSwatches, type Kind, type Library, type NewId, type Swatch } from '../core/swatch/model.ts';

type Entry = [name: string, color: string, extra?: Partial<Pick<Swatch, 'role' | 'code' | 'kind' | 'note'>>];

/** Invented ferry company colours; each entry is a name and a typed colour in the space it is meant for. */
export function sampleLibraries(
  newId: NewId,
  fromPictures: Record<string, PaletteColor[]>,
  inks: Library,
): Library[] {
  const swatches = (entries: Entry[], kind: Kind = 'process'): Swatch[] =>
    entries.map(([name, color, extra]) => ({ id: newId(), name, kind, color: parseColor(color), ...extra }));
  // a name goes to the colour of the picture that it describes, wherever in the palette that stands
  const picked = (picture: string, names: [name: string, like: string][]): Swatch[] => {
    const left = [...(fromPictures[picture] ?? [])];
    return names.flatMap(([name, like]): Swatch[] => {
      const wanted = toLab(parseColor(like), screenOnly);
      const [best] = left.sort(
        (a, b) => deltaE00(wanted, toLab(a.color, screenOnly)) - deltaE00(wanted, toLab(b.color, screenOnly)),
      );
      if (!best) return [];
      left.shift();
      return [
        {
          id: newId(),
          name,
          kind: 'process',
          color: best.color,
          origin: { from: 'picture', name: picture },
        },
      ];
    });
  };
  // an ink goes by the name it has on board, and keeps its number and where it is from
  const fromBook = (name: string, like: Lab, extra?: Entry[2]): Swatch => {
    const [best] = allSwatches(inks)
      .filter((ink) => !ink.special)
      .map((ink) => ({ ink, far: deltaE00(like, ink.color.components as Lab) }))
      .sort((a, b) => a.far - b.far);
    return { ...takenFrom(inks, best!.ink, newId()), name, ...extra };
  };
  const library = (
    name: string,
    loose: Swatch[],
    groups: [string, Swatch[]][],
    gradients: [string, InterpolationId, through: string[]][] = [],
  ): Library => {
    const made = [loose, ...groups.map(([, s]) => s)].flat();
    const items = gradients.map(([n, way, through]) =>
      gradientThrough(
        newId(),
        n,
        through.flatMap((t) => made.find((s) => s.name === t) ?? []),
        way,
      ),
    );
    return {
      id: newId(),
      name,
      groups: [
        { id: newId(), name: '', swatches: loose },
        ...groups.map(([n, s]) => ({ id: newId(), name: n, swatches: s })),
      ],
      ...(items.length > 0 ? { items } : {}),
    };
  };
  const tints = (name: string, [c, m, y, k]: number[], steps: number[]): Swatch[] =>
    swatches(
      steps.map((t) => [
        `${name} ${t}`,
        `C ${(c * t) / 100} M ${(m * t) / 100} Y ${(y * t) / 100} K ${(k * t) / 100}`,
      ]),
    );

  return [
    library(
      'Crew scarf',
      [],
      [
        [
          'Silk, eight yarns',
          swatches([
            ['Night wool', 'Lab 18 -2 -17'],
            ['Sailcloth', 'Lab 93 0 8'],
            ['Boot-top', 'Lab 39 55 31'],
            ['Old brass', 'Lab 70 12 58'],
            ['Kelp', 'Lab 46 -31 8'],
            ['Spray', 'Lab 72 -9 -14'],
            ['Tarred hemp', 'Lab 25 2 4'],
            ['Lamp', 'Lab 84 4 48'],
          ]),
        ],
      ],
    ),
    library(
      'Deck signs and door plates',
      swatches([
        ['Sign yellow', 'C 0 M 24 Y 92 K 3', { role: 'warning ground' }],
        ['Sign black', 'C 40 M 30 Y 30 K 100', { role: 'lettering' }],
        ['Plate white', 'C 0 M 0 Y 0 K 0'],
      ]),
      [
        [
          'Ways out and fire',
          swatches([
            ['Way out', 'C 78 M 20 Y 70 K 42', { role: 'escape' }],
            ['Fire', 'C 8 M 92 Y 84 K 24', { role: 'fire point' }],
            ['Rule blue', 'C 82 M 48 Y 8 K 36', { role: 'must do' }],
          ]),
        ],
        [
          'For the cutter',
          swatches(
            [
              ['Cutting', 'C 0 M 58 Y 90 K 4', { role: 'cut through' }],
              ['Creasing', 'C 50 M 64 Y 0 K 14', { role: 'fold' }],
              ['White', 'gray 70', { role: 'underprint' }],
            ],
            'technical',
          ),
        ],
      ],
    ),
    library(
      'Timetable seasons',
      [],
      [
        [
          'Spring',
          swatches([
            ['Gull', 'HSB 80 4 93'],
            ['Bud', 'HSB 84 24 83'],
            ['Meadow', 'HSB 100 36 68'],
            ['Hedge', 'HSB 130 50 49'],
            ['Yew', 'HSB 150 60 29'],
          ]),
        ],
        [
          'Summer',
          swatches([
            ['Sand', 'HSB 52 20 98'],
            ['Sun', 'HSB 44 58 96'],
            ['Marigold', 'HSB 32 76 92'],
            ['Rust', 'HSB 17 80 78'],
            ['Ember', 'HSB 8 76 48'],
          ]),
        ],
        [
          'Autumn',
          swatches([
            ['Oat', 'HSB 28 14 95'],
            ['Biscuit', 'HSB 27 44 85'],
            ['Bracken', 'HSB 21 58 66'],
            ['Peat', 'HSB 14 58 43'],
            ['Wet bark', 'HSB 6 40 23'],
          ]),
        ],
        [
          'Winter',
          swatches([
            ['Frost', 'HSB 202 4 96'],
            ['Ice', 'HSB 207 14 87'],
            ['Slate', 'HSB 208 27 71'],
            ['Storm', 'HSB 207 42 52'],
            ['Deep', 'HSB 210 56 29'],
          ]),
        ],
      ],
    ),
    library(
      'Route map',
      swatches([
        ['North line', '#b3262b', { role: 'north route' }],
        ['South line', '#14304a', { role: 'south route' }],
        ['Night boat', '#2f7d6b', { role: 'winter nights' }],
        ['Summer only', '#d9a441', { role: 'June to August' }],
        ['School run', '#6d4a7c', { role: 'term time' }],
        ['Freight', '#3d3a34', { role: 'lorries only' }],
        ['Winter pier', '#8fb6c6', { role: 'November to March' }],
        ['Island loop', '#c76a9b', { role: 'Sundays' }],
        ['Heritage', '#7a8b2f', { role: 'steam days' }],
        ['Fast craft', '#4a6fb5', { role: 'no bicycles' }],
        ['Post boat', '#b57a3a', { role: 'on request' }],
        ['Closed', '#9a9a9a', { role: 'not running' }],
      ]),
      [],
    ),
    library(
      'Fleet livery 2027',
      [],
      [
        ['Hull navy', tints('Navy', [80, 52, 24, 62], [100, 85, 70, 50, 30, 15])],
        ['Boot-top red', tints('Red', [4, 80, 74, 27], [100, 75, 50, 25])],
        ['Line gold', tints('Gold', [4, 26, 70, 12], [100, 60, 30])],
        ['Deckhouse', tints('Stone', [10, 12, 22, 40], [5, 20, 45, 75, 100])],
        [
          'Inks',
          [
            fromBook('Kestrelmere Navy', [19, -3, -19]),
            fromBook('Kestrelmere Red', [40, 57, 33], { role: 'waterline' }),
            fromBook('Kestrelmere Gold', [74, 16, 66]),
          ],
        ],
      ],
    ),
    library(
      'Harbour at first light',
      swatches([
        ['Paper', 'gray 100'],
        ['Ink', 'gray 6'],
        ['Mid grey', 'gray 47'],
      ]),
      [
        [
          'Sky and water',
          picked('harbour-at-first-light.png', [
            ['Harbour slate', '#405b69'],
            ['Night water', '#223849'],
            ['Grey teal', '#5b747a'],
            ['Deep slate', '#2f4756'],
            ['Sea fog', '#809797'],
            ['First light', '#e5cea5'],
          ]),
        ],
        [
          'Brass and rope',
          picked('rope-and-enamel.png', [
            ['Sea-green enamel', '#31645b'],
            ['Oiled teak', '#7b512f'],
            ['Varnished oak', '#664225'],
            ['Dark plank', '#3c2315'],
            ['New rope', '#baa172'],
          ]),
        ],
        [
          'Hull livery',
          [
            fromBook('Hull navy', [19, -3, -19]),
            fromBook('Deckhouse', [89, 2, 14]),
            fromBook('Boot-top red', [40, 57, 33], { role: 'waterline' }),
            ...swatches([['Line gold', 'C 4 M 26 Y 70 K 12']]),
          ],
        ],
        [
          'Route roles',
          swatches([
            ['North route', '#b3262b', { role: 'north' }],
            ['South route', '#14304a', { role: 'south' }],
            ['Night boat', '#2f7d6b', { role: 'winter nights' }],
            ['Summer only', '#d9a441', { role: 'June to August' }],
            ['School run', '#6d4a7c', { role: 'term time' }],
            ['Freight', '#3d3a34'],
            ['Winter pier', '#8fb6c6', { role: 'November to March' }],
          ]),
        ],
        [
          'Cut and finish',
          swatches(
            [
              ['Cutting', 'C 0 M 56 Y 88 K 5', { role: 'cut line' }],
              ['Creasing', 'C 50 M 64 Y 0 K 14', { role: 'fold' }],
              ['White', 'gray 60', { role: 'underprint' }],
            ],
            'technical',
          ),
        ],
      ],
      [
        ['Night into first light', 'oklab', ['Night water', 'Deep slate', 'Sea fog', 'First light']],
        ['Rope and brass', 'oklab', ['Dark plank', 'Oiled teak', 'New rope']],
        ['Routes by season', 'oklch', ['Winter pier', 'Night boat', 'Summer only']],
      ],
    ),
  ];
}

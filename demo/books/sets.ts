import type { Condition } from '../../core/color/index.ts';
import { deltaE00, type Lab, toLab } from '../../core/color/index.ts';
import { allSwatches, type Item, type Library } from '../../core/swatch/index.ts';

/** A small set: what it is for, and what its colours are like, from ground to accent. */
type Wanted = [name: string, by: 'season' | 'material' | 'mood', says: string, like: Lab[]];

const SETS: Wanted[] = [
  [
    'Ice on the slip',
    'season',
    'Winter: cold greys with one lamp',
    [
      [92, -1, -4],
      [78, -3, -10],
      [60, -4, -16],
      [38, -3, -22],
      [80, 6, 52],
    ],
  ],
  [
    'Buds on the quay',
    'season',
    'Spring: pale greens, and pink that is only just there',
    [
      [93, -4, 10],
      [84, -12, 26],
      [70, -24, 34],
      [88, 12, 4],
      [46, -20, 14],
    ],
  ],
  [
    'August deck',
    'season',
    'Summer: sun, salt and a red stripe',
    [
      [95, 0, 8],
      [86, 4, 48],
      [72, -14, -20],
      [46, -8, -34],
      [48, 58, 34],
    ],
  ],
  [
    'Last boat in October',
    'season',
    'Autumn: rust, peat and a low sky',
    [
      [84, 6, 22],
      [66, 26, 44],
      [48, 36, 38],
      [34, 18, 18],
      [56, -6, -10],
    ],
  ],
  [
    'Rope and enamel',
    'material',
    'Hemp, tar, and sea-green enamel',
    [
      [90, 2, 14],
      [72, 6, 30],
      [48, 12, 26],
      [38, -24, 6],
      [22, 2, 6],
    ],
  ],
  [
    'Brass and teak',
    'material',
    'Polished brass on oiled wood',
    [
      [82, 4, 44],
      [68, 12, 52],
      [46, 20, 34],
      [32, 18, 22],
      [90, 0, 6],
    ],
  ],
  [
    'Chart paper',
    'material',
    'Land, shoal and deep water as charts have them',
    [
      [92, 2, 22],
      [84, -6, 2],
      [72, -10, -16],
      [56, 36, -20],
      [30, 2, -10],
    ],
  ],
  [
    'Oilskin',
    'material',
    'Yellow that is seen, on wet stone',
    [
      [84, 8, 76],
      [62, 2, 8],
      [44, 0, 2],
      [28, -2, -6],
      [92, 0, 4],
    ],
  ],
  [
    'Quiet crossing',
    'mood',
    'Nothing shouts',
    [
      [90, 0, 2],
      [76, -6, -2],
      [62, -8, -8],
      [48, -6, -12],
      [70, 8, 10],
    ],
  ],
  [
    'Band on the pier',
    'mood',
    'Loud, and meant to be',
    [
      [54, 66, 44],
      [80, 10, 76],
      [58, -46, 22],
      [42, 8, -56],
      [94, 0, 6],
    ],
  ],
  [
    'Night watch',
    'mood',
    'Dark blues, with one lit window',
    [
      [16, 4, -12],
      [26, 10, -30],
      [36, 16, -44],
      [54, 4, -30],
      [84, 4, 44],
    ],
  ],
  [
    'First light',
    'mood',
    'The minutes before the sun',
    [
      [88, 10, 22],
      [78, 22, 22],
      [64, 20, 0],
      [48, 10, -20],
      [32, 4, -24],
    ],
  ],
];

export const SET = 'set';
/** Any two of a set are distinguished at a glance, ΔE00. */
const APART = 6;

/** The sets as items of a book, each of the inks nearest to what is asked for; no two alike. */
export function curatedSets(book: Library, condition: Condition): Item[] {
  const inks = allSwatches(book)
    .filter((s) => !s.special)
    .map((s) => ({ id: s.id, lab: toLab(s.color, condition) }));
  return SETS.map(([name, by, says, like], i) => {
    const chosen: typeof inks = [];
    for (const lab of like) {
      const [best] = inks
        .filter((ink) => chosen.every((c) => deltaE00(c.lab, ink.lab) > APART))
        .sort((a, b) => deltaE00(lab, a.lab) - deltaE00(lab, b.lab));
      chosen.push(best!);
    }
    const refs = chosen.map((c) => c.id);
    return { id: `set-${i + 1}`, kind: SET, name, refs, data: { by, says } };
  });
}

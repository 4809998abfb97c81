import { type Condition, convert, SHIPPED } from '../../core/color/index.ts';
import { GRID, mixOn, spectrumToLab } from '../../core/spectral/index.ts';
import type { Library, Part, Swatch } from '../../core/swatch/index.ts';
import { absorption, circle, type Ink, type Paper } from './inks.ts';

export const FAMILY = 'Kestrelmere Inks';
const PREFIX = 'KW ';

/** This many hues go round the circle. */
const HUES = 32;
/** Parts of colour in every mix that has a hue; parts of Veil thin it, parts of Soot darken it. */
const COLOR_PARTS = 16;
const THINNED: [veil: number, soots: number[]][] = [
  [0, [0, 0.25, 1, 2, 4, 8, 16]],
  [8, [0, 0.25, 1, 2, 4, 8]],
  [32, [0, 0.25, 1, 3, 8]],
  [96, [0, 0.5, 1.5, 4]],
  [288, [0, 0.5, 1.5, 4]],
  [960, [0, 0.5, 2]],
  [3200, [0, 0.5, 2]],
];
/** Greys: so much Soot in 100 parts, plain or with a little of one ink. */
const GREYS = [0.05, 0.15, 0.4, 1, 2, 4, 8, 16, 36, 100];
const CASTS: (Ink | null)[] = [null, 'Marigold', 'Fathom', 'Madder'];

interface Recipe {
  number: string;
  recipe: Part[];
  special?: Swatch['special'];
}

const part = (of: Ink, parts: number): Part[] => (parts > 0 ? [{ of, parts }] : []);
const numbered = (hundred: number, i: number) => String(hundred * 100 + i + 1);

/** Every number and what it is mixed from, the same on any paper. */
function recipes(): Recipe[] {
  const list: Recipe[] = [];
  for (let h = 0; h < HUES; h++) {
    const at = (h * circle.length) / HUES;
    const [one, other] = [circle[Math.floor(at)]!, circle[(Math.floor(at) + 1) % circle.length]!];
    const share = Math.round((at % 1) * COLOR_PARTS);
    const hue = [...part(one, COLOR_PARTS - share), ...part(other, share)];
    const mixes = THINNED.flatMap(([veil, soots]) =>
      soots.map((soot) => [...hue, ...part('Soot', soot), ...part('Veil', veil)]),
    );
    mixes.forEach((recipe, i) => {
      list.push({ number: numbered(h + 1, i), recipe });
    });
  }
  const greys = CASTS.flatMap((cast) =>
    GREYS.map((soot) => [
      ...part('Soot', soot),
      ...(cast ? part(cast, soot / 16) : []),
      ...part('Veil', 100 - soot),
    ]),
  );
  greys.forEach((recipe, i) => {
    list.push({ number: numbered(HUES + 1, i), recipe });
  });
  // what glitters has flakes in it, what glows gives back more light than falls on it: of both only the hue can be printed
  const specials = circle.flatMap((ink): [Part[], Swatch['special']][] => [
    [[...part(ink, 10), ...part('Soot', 1), ...part('Veil', 30)], 'metallic'],
    [[...part(ink, 12), ...part('Veil', 10)], 'fluorescent'],
  ]);
  specials.forEach(([recipe, special], i) => {
    list.push({ number: numbered(HUES + 2, i), recipe, ...(special ? { special } : {}) });
  });
  return list;
}

/** What a recipe reflects on a paper, to four places. */
export function reflectanceOn({ reflectance, surface, holds }: Paper, recipe: readonly Part[]): number[] {
  const all = recipe.reduce((sum, { parts }) => sum + parts, 0);
  const inks = recipe.map(({ of, parts }) => ({
    absorption: absorption[of as Ink],
    amount: (holds * parts) / all,
  }));
  return mixOn(reflectance, surface, inks).map(round4);
}
const round4 = (v: number) => Math.round(v * 1e4) / 1e4;
const curve = (values: number[]) => ({ start: GRID.start, step: GRID.step, values });

/**
 * The book of the Kestrelmere Inks on one paper.
 *
 * @param condition the press that prints on such paper, for what the inks come to in CMYK
 */
export function kestrelmere(paper: Paper, condition: Condition): Library {
  const profile = SHIPPED[paper.name];
  const swatches = recipes().map(({ number, recipe, special }): Swatch => {
    const values = reflectanceOn(paper, recipe);
    const lab = {
      space: 'lab' as const,
      components: spectrumToLab(curve(values)).map((v) => Math.round(v * 100) / 100),
    };
    const inks = convert(lab, 'cmyk', condition).components.map((v) => Math.round(v * 100) / 100);
    const screen = convert(lab, 'rgb', condition).components.map((v) => Math.round(v * 255) / 255);
    return {
      id: `kw-${number}`,
      name: `${PREFIX}${number}`,
      code: number,
      kind: 'spot',
      color: lab,
      alternates: [
        { space: 'cmyk', components: inks, profile },
        { space: 'rgb', components: screen },
      ],
      spectrum: curve(values),
      recipe,
      ...(special ? { special } : {}),
    };
  });
  return {
    id: `kestrelmere-${paper.name}`,
    name: `${FAMILY} on ${paper.name}`,
    book: {
      family: FAMILY,
      substrate: paper.name,
      edition: '2027',
      measurement: 'computed, 380–730 nm; D50, 2°, 45°:0°',
      prefix: PREFIX,
      paper: { spectrum: curve(paper.reflectance), ...paper.tone },
    },
    groups: [{ id: 'inks', name: '', swatches }],
  };
}

import type { Library, Swatch } from '../swatch/model.ts';

type Step = [name: string, does: string];

/**
 * What a separation can tell a machine to do, by the groups and types of ISO 19593-1. The list is from memory of the standard;
 * what each does is in our words.
 */
const STEPS: Record<string, Step[]> = {
  Structural: [
    ['Cutting', 'cut through'],
    ['PartialCutting', 'cut half through, from the print side'],
    ['ReversePartialCutting', 'cut half through, from the back'],
    ['Creasing', 'crease for a fold'],
    ['ReverseCreasing', 'crease from the back'],
    ['CuttingCreasing', 'cut and crease in turns'],
    ['ReverseCuttingCreasing', 'cut and crease in turns, from the back'],
    ['PartialCuttingCreasing', 'cut half through and crease in turns'],
    ['ReversePartialCuttingCreasing', 'cut half through and crease in turns, from the back'],
    ['Drilling', 'drill holes'],
    ['Gluing', 'where glue goes'],
    ['FoilStamping', 'foil, stamped hot'],
    ['ColdFoilStamping', 'foil, glued cold'],
    ['Embossing', 'raise'],
    ['Debossing', 'sink'],
    ['Perforating', 'perforate for tearing'],
    ['Bleed', 'how far the print goes beyond the trim'],
    ['VarnishFree', 'no varnish here'],
    ['InkFree', 'no ink here'],
    ['InkVarnishFree', 'neither ink nor varnish here'],
    ['Folding', 'fold'],
    ['Punching', 'punch holes'],
    ['Stapling', 'where staples go'],
    ['HotMelt', 'where hot glue goes'],
  ],
  Surface: [
    ['White', 'white below or above the print'],
    ['Varnish', 'varnish'],
    ['Braille', 'dots to read with a finger'],
  ],
  Marks: [
    ['Positions', 'where something is put on later'],
    ['Dimensions', 'sizes for whoever looks at the sheet'],
    ['Legend', 'notes for whoever looks at the sheet'],
  ],
};

/** The names of all steps, to the letter. */
export const STEP_NAMES: string[] = Object.values(STEPS).flatMap((steps) => steps.map(([name]) => name));

/** Those that are laid over areas, and are not lines. */
export const AREA_STEPS: string[] = [
  ...['FoilStamping', 'ColdFoilStamping', 'Embossing', 'Debossing', 'Gluing', 'HotMelt'],
  ...['Bleed', 'VarnishFree', 'InkFree', 'InkVarnishFree', 'White', 'Varnish', 'Braille'],
];

export const STEPS_BOOK = 'processing-steps';

/** Inks full or half, so that lines of two steps are distinguished on a proof; they are never printed. */
function proofColor(n: number): number[] {
  const mixes: number[][] = [];
  for (const k of [0, 0.4])
    for (const c of [0, 1, 0.5])
      for (const m of [1, 0, 0.5])
        for (const y of [0, 1, 0.5]) if (new Set([c, m, y]).size > 1) mixes.push([c, m, y, k]);
  return mixes[n % mixes.length]!;
}

/** The book of processing steps that every Papillon has; its names are for the user to set. */
export function processingSteps(): Library {
  let n = 0;
  const swatch = ([name, does]: Step): Swatch => ({
    id: `step-${name}`,
    name,
    code: name,
    kind: 'technical',
    color: { space: 'cmyk', components: proofColor(n++) },
    note: does,
  });
  return {
    id: STEPS_BOOK,
    name: 'Processing steps',
    note: 'What a separation tells a machine to do, after ISO 19593-1. Set each name to what your machine looks for.',
    book: { ownNames: true },
    groups: Object.entries(STEPS).map(([name, steps]) => ({
      id: `steps-${name}`,
      name,
      swatches: steps.map(swatch),
    })),
  };
}

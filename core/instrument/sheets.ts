import { mixedOver } from '../reading/mixture.ts';
import { GRID, tintOf } from '../spectral/index.ts';
import type { Spectrum } from '../swatch/model.ts';
import type { Wanted } from './guide.ts';
import type { TruePatch } from './simulated.ts';

// What lies on the simulated bench: inks and papers that nobody makes.

const nms = Array.from({ length: GRID.count }, (_, i) => GRID.start + i * GRID.step);
const edge = (strength: number, at: number, width: number) => (nm: number) =>
  strength / (1 + Math.exp((nm - at) / width));
const hill = (strength: number, at: number, width: number) => (nm: number) =>
  strength * Math.exp(-(((nm - at) / width) ** 2));

interface Pigment {
  name: string;
  absorbs: (nm: number) => number;
  scatters: (nm: number) => number;
}
interface Sheet {
  name: string;
  white: (nm: number) => number;
  glow: (nm: number) => number;
  spread: number;
  gain: number;
  /** How much of an ink stays on top of it. */
  holds: number;
}

/** Of the fleet of the sample scenario. */
export const PIGMENTS: readonly Pigment[] = [
  { name: 'Lifebuoy orange', absorbs: (nm) => edge(2.3, 551, 12)(nm) + 0.008, scatters: () => 0.55 },
  {
    name: 'Hull navy',
    absorbs: (nm) => hill(2.8, 620, 78)(nm) + hill(0.9, 545, 60)(nm) + 0.12,
    scatters: (nm) => hill(0.3, 445, 60)(nm) + 0.06,
  },
  { name: 'Signal yellow', absorbs: (nm) => edge(2.4, 497, 9)(nm) + 0.004, scatters: () => 0.38 },
];

export const SHEETS: readonly Sheet[] = [
  {
    name: 'coated, 150 g',
    white: (nm) => 0.885 - 0.03 / (1 + Math.exp((nm - 470) / 35)) - hill(0.3, 380, 22)(nm),
    glow: hill(0.055, 442, 22),
    ...{ spread: 1.7, gain: 0.12, holds: 1 },
  },
  {
    name: 'uncoated, 120 g',
    white: (nm) => 0.85 - 0.02 / (1 + Math.exp((nm - 470) / 35)) - hill(0.3, 380, 22)(nm),
    glow: hill(0.09, 442, 22),
    ...{ spread: 2.1, gain: 0.16, holds: 0.62 },
  },
];

/** What lies below a black drawdown: a black card. */
const CARD = 0.028;

const spectrum = (of: (nm: number) => number): Spectrum => ({
  start: GRID.start,
  step: GRID.step,
  values: nms.map(of),
});

/**
 * A patch of an ink on a sheet as it is.
 *
 * @param stock how much ink the press gave, 1 as it should
 */
export function patchOf(pigment: Pigment, sheet: Sheet, { percent, backing }: Wanted, stock = 1): TruePatch {
  const base = spectrum(backing === 'white' ? sheet.white : () => CARD);
  const film = {
    start: GRID.start,
    step: GRID.step,
    absorption: nms.map(pigment.absorbs),
    scattering: nms.map(pigment.scatters),
  };
  const solid = mixedOver(base, [{ film, amount: sheet.holds * stock }]);
  const values = tintOf(base.values, solid.values, percent / 100, sheet);
  // ink takes the ultraviolet from the sheet
  const bare = 1 - percent / 100;
  return {
    reflectance: { ...base, values },
    glow: nms.map((nm) => (backing === 'white' ? sheet.glow(nm) * bare : 0)),
  };
}

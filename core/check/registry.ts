import { against } from './against.ts';
import type { Check } from './check.ts';
import { contrastCheck } from './contrast.ts';
import { ink } from './ink.ts';
import { lookAlikes } from './look-alikes.ts';
import { machineLines } from './machine-lines.ts';
import { metamerismCheck } from './metamerism.ts';
import { names } from './names.ts';
import { offPalette } from './off-palette.ts';
import { outOfTolerance } from './out-of-tolerance.ts';
import { pressGamut } from './press-gamut.ts';
import { vision } from './vision.ts';

/** Every check there is, in the order they are listed. A new one is a folder and a place in this list. */
export const checks: readonly Check[] = [
  pressGamut,
  lookAlikes,
  contrastCheck,
  vision,
  ink,
  names,
  offPalette,
  machineLines,
  metamerismCheck,
  outOfTolerance,
  against,
];

export const checkById = (id: string): Check | undefined => checks.find((c) => c.id === id);

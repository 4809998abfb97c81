import type { Swatch } from '../swatch/model.ts';

/** Inks and lines for machines are what they are: only a person can choose another. */
export const isTunable = ({ kind, tint }: Pick<Swatch, 'kind' | 'tint'>): boolean =>
  kind === 'process' && !tint;

import type { Equivalent } from '#core/match/pairing';
import type { FoundColor } from '~/messages/match-messages';

/** What is kept of a colour that was found, as the equivalent of a swatch. */
export const equivalentOf = (
  { source, sourceName, name, code, lab, difference }: FoundColor,
  metric: string,
): Equivalent => ({
  source,
  sourceName,
  name,
  ...(code ? { code } : {}),
  lab: lab.map((v) => Math.round(v * 100) / 100),
  difference: Math.round(difference * 1000) / 1000,
  metric,
});

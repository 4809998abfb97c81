import type { MeasuredInk, Swatch } from '../swatch/index.ts';

/** A change of the inks of a PDF. Changes are kept in their order and made again on the file as it came. */
export type PdfChange =
  | { do: 'rename'; from: string; to: string }
  | { do: 'merge'; from: string; into: string }
  /** Its name, what stands for it, and its spectrum where it has one. */
  | { do: 'swap'; from: string; swatch: Swatch }
  | { do: 'order'; names: string[] }
  | { do: 'embed'; name: string; ink: MeasuredInk }
  /** Printed in process inks. */
  | { do: 'process'; name: string }
  /** Printed over what lies below it. */
  | { do: 'over'; name: string }
  /** What it is printed on, with the ICC profile of that. */
  | { do: 'intent'; name: string; profile: Uint8Array };

/** A change in words, for a list of them. */
export function changeText(change: PdfChange): string {
  if (change.do === 'rename') return `“${change.from}” is called “${change.to}”`;
  if (change.do === 'merge') return `“${change.from}” is printed on “${change.into}”`;
  if (change.do === 'swap') return `“${change.from}” is replaced with “${change.swatch.name}”`;
  if (change.do === 'order') return `printed in the order ${change.names.join(', ')}`;
  if (change.do === 'process') return `“${change.name}” is printed in process inks`;
  if (change.do === 'over') return `“${change.name}” is printed over what lies below it`;
  if (change.do === 'intent') return `printed on ${change.name}`;
  return `a measurement travels with “${change.name}”`;
}

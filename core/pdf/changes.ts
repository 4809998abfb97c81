import type { Condition } from '../color/index.ts';
import { writeCxf } from '../reading/cxf.ts';
import type { MeasuredInk, Swatch } from '../swatch/index.ts';
import type { PdfInks } from './inks.ts';

/** A change of the inks of a PDF. Changes are kept in their order and made again on the file as it came. */
export type PdfChange =
  | { do: 'rename'; from: string; to: string }
  | { do: 'merge'; from: string; into: string }
  /** Its name, what stands for it, and its spectrum where it has one. */
  | { do: 'swap'; from: string; swatch: Swatch }
  | { do: 'order'; names: string[] }
  | { do: 'embed'; name: string; ink: MeasuredInk };

/** Makes changes, one after the other. @param now ISO 8601. @throws FormatError for one that cannot be made */
export function applyChanges(
  pdf: PdfInks,
  changes: readonly PdfChange[],
  condition: Condition,
  now: string,
): void {
  const embed = (name: string, ink: MeasuredInk) =>
    pdf.embed(name, writeCxf([{ ink: { ...ink, name }, facts: ink.conditions }], now));
  for (const change of changes)
    if (change.do === 'rename') pdf.rename(change.from, change.to);
    else if (change.do === 'merge') pdf.merge(change.from, change.into);
    else if (change.do === 'order') pdf.setOrder(change.names);
    else if (change.do === 'embed') embed(change.name, change.ink);
    else {
      const { name, spectrum } = change.swatch;
      pdf.swap(change.from, change.swatch, condition);
      if (spectrum)
        embed(name, { name, conditions: {}, steps: [{ percent: 100, backing: 'white', name, spectrum }] });
    }
}

/** A change in words, for a list of them. */
export function changeText(change: PdfChange): string {
  if (change.do === 'rename') return `“${change.from}” is called “${change.to}”`;
  if (change.do === 'merge') return `“${change.from}” is printed on “${change.into}”`;
  if (change.do === 'swap') return `“${change.from}” is replaced with “${change.swatch.name}”`;
  if (change.do === 'order') return `printed in the order ${change.names.join(', ')}`;
  return `a measurement travels with “${change.name}”`;
}

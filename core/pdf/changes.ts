import type { Condition } from '../color/index.ts';
import { writeCxf } from '../reading/cxf.ts';
import type { MeasuredInk } from '../swatch/index.ts';
import type { PdfChange } from './change.ts';
import { PdfInks } from './inks.ts';
import { mergedInks, overprinted, type Reinked, toProcess } from './reink.ts';

type Breathe = (done: number, of: number) => Promise<void>;

/** A PDF whose inks are changed. */
export interface Changed {
  pdf: PdfInks;
  isChanged: boolean;
  /** What could not be changed along, in words. */
  warnings: string[];
}

/**
 * A PDF with changes made one after the other.
 *
 * @param now ISO 8601
 * @throws FormatError for one that cannot be made
 */
export async function changedPdf(
  bytes: Uint8Array,
  changes: readonly PdfChange[],
  condition: Condition,
  now: string,
  breathe?: Breathe,
): Promise<Changed> {
  let pdf = await PdfInks.open(bytes, breathe);
  const warnings: string[] = [];
  let painted = false;
  /** What is painted is changed in the file as it is by now. */
  const repaint = async (work: (bytes: Uint8Array) => Promise<Reinked>, gone?: string) => {
    const made = await work(await pdf.save());
    warnings.push(...made.warnings);
    pdf = await PdfInks.open(made.bytes);
    // pictures that stay keep their ink
    if (gone !== undefined && made.warnings.length === 0) pdf.forget(gone);
    painted = true;
  };
  const embed = (name: string, ink: MeasuredInk) =>
    pdf.embed(name, writeCxf([{ ink: { ...ink, name }, facts: ink.conditions }], now));
  for (const change of changes)
    if (change.do === 'rename') pdf.rename(change.from, change.to);
    else if (change.do === 'merge') {
      const { from, into } = change;
      if (pdf.areMixed(from, into)) await repaint((file) => mergedInks(file, from, into, condition), from);
      else pdf.merge(from, into);
    } else if (change.do === 'process') {
      pdf.known(change.name);
      await repaint((file) => toProcess(file, change.name, condition), change.name);
    } else if (change.do === 'over') {
      pdf.known(change.name);
      await repaint((file) => overprinted(file, change.name, condition));
    } else if (change.do === 'intent') pdf.setIntent(change.name, change.profile);
    else if (change.do === 'order') pdf.setOrder(change.names);
    else if (change.do === 'embed') embed(change.name, change.ink);
    else {
      const { name, spectrum } = change.swatch;
      pdf.swap(change.from, change.swatch, condition);
      if (spectrum)
        embed(name, { name, conditions: {}, steps: [{ percent: 100, backing: 'white', name, spectrum }] });
    }
  return { pdf, isChanged: painted || pdf.isChanged, warnings };
}

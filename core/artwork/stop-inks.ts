import type { Condition } from '../color/index.ts';
import { PdfArtwork } from '../pdf/artwork.ts';
import type { Plates } from '../pdf/plates.ts';
import { type Becoming, repainted } from '../pdf/recolor.ts';
import type { Swatch } from '../swatch/model.ts';
import { asWritten } from './pages.ts';

/** An odd mixture of process inks that stands for the nth ink. */
const mixtureFor = (n: number) => [(n % 90) / 100 + 0.013, Math.floor(n / 90) / 100 + 0.017, 0.731, 0.377];

/**
 * Inks that stops of gradients are. What writes a PDF knows gradients of process inks alone: a mixture that nobody uses stands for
 * each ink until the file is there, and then gives way to the ink's own plate.
 */
export class StopInks {
  readonly swatches: Swatch[] = [];

  /** What stands for an ink, a process colour. */
  standInOf(swatch: Swatch): Swatch {
    let n = this.swatches.indexOf(swatch);
    if (n < 0) n = this.swatches.push(swatch) - 1;
    return { id: '', name: '', kind: 'process', color: { space: 'cmyk', components: mixtureFor(n) } };
  }

  /** The file with the stops on the plates of their inks. */
  async placed(
    bytes: Uint8Array<ArrayBuffer>,
    plates: Plates,
    condition: Condition,
  ): Promise<Uint8Array<ArrayBuffer>> {
    if (this.swatches.length === 0) return bytes;
    const pdf = await PdfArtwork.open(bytes, condition);
    const changes = new Map<number, Becoming>();
    for (const { id, role, color } of pdf.parts) {
      if (role !== 'stop' || color.space !== 'cmyk') continue;
      const n = this.swatches.findIndex((_, k) =>
        mixtureFor(k).every((v, i) => Math.abs(v - color.components[i]!) < 0.004),
      );
      const swatch = this.swatches[n];
      if (swatch)
        changes.set(id, { color: asWritten({ color: swatch.color, swatch }, plates, condition, true) });
    }
    return repainted(pdf, changes, { condition, fresh: true });
  }
}

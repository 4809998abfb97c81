import { printedWork } from '../artwork/kit.ts';
import type { Services } from '../services.ts';
import { boardsOf } from '../swatch/board.ts';
import { artworksOf, colorwaysOf } from '../swatch/colorway.ts';
import type { Library } from '../swatch/model.ts';
import { FormatError } from '../text/error.ts';
import { fileName } from '../text/names.ts';
import { layOut, omittedText } from './lay-out.ts';
import { boardPdf } from './pdf.ts';
import { workKey } from './svg.ts';

const FOLDER = 'Boards';

/**
 * The boards of a library as files, each a PDF with separations.
 * @param free makes paths that no other file has
 * @returns the files, and what is not as the boards have it, in words
 */
export async function boardFiles(
  library: Library,
  services: Services,
  free: (path: string) => string,
  step: (path: string) => unknown = () => undefined,
): Promise<{ files: { path: string; bytes: Uint8Array; format: string }[]; warnings: string[] }> {
  const files: { path: string; bytes: Uint8Array; format: string }[] = [];
  const warnings: string[] = [];
  const kept = (await services.pictures?.(library.id)) ?? [];
  const pictures = new Map(kept.map((p) => [p.id, p.bytes]));
  const works = new Map<string, { bytes: Uint8Array; page?: number }>();
  for (const board of boardsOf(library)) {
    const title = board.name || 'Board';
    await step(title);
    const laid = layOut(board, {
      library,
      condition: services.condition,
      pictures: kept,
    });
    const { pages, ground, printsGround, missing } = laid;
    const say = (text: string) => warnings.push(`${title}: ${text}`);
    for (const o of missing) say(`“${o.name}” is not in the library any more.`);
    const tooMany = omittedText(laid);
    if (tooMany) say(tooMany);
    for (const { marks } of pages)
      for (const m of marks) {
        if (m.is !== 'work' || works.has(workKey(m.work, m.colorway))) continue;
        const item = artworksOf(library).find((a) => a.id === m.work);
        const way = colorwaysOf(library, m.work).find((c) => c.id === m.colorway) ?? null;
        const bytes = item && (await services.artwork?.(item.data.asset));
        if (!item || !bytes) {
          say(`the artwork “${item?.name ?? m.work}” is not on the server any more.`);
          continue;
        }
        try {
          works.set(workKey(m.work, m.colorway), await printedWork(library, item, way, bytes, services));
        } catch (error) {
          if (!(error instanceof FormatError)) throw error;
          say(`the artwork “${item.name}” is left out: ${error.message}`);
        }
      }
    const made = await boardPdf(pages, {
      ...{ library, title, services, parts: { pictures, works } },
      ground: printsGround ? ground : null,
    });
    for (const text of made.warnings) say(text);
    files.push({ path: free(`${FOLDER}/${fileName(title, 'pdf')}`), bytes: made.bytes, format: 'pdf' });
  }
  return { files, warnings };
}

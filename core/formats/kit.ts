import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import type { Services } from '../services.ts';
import { countSwatches, type Library } from '../swatch/model.ts';
import { fileName, freePaths } from '../text/names.ts';
import { plural, writeText } from '../text/text.ts';
import { pack } from './archive.ts';
import { type ChangeReport, changesInParts, summarize } from './changes.ts';
import { type Destination, destinationById } from './destinations.ts';
import { type FileChoice, inScope, type KitChoices, type PlannedFile, partsOf, planKit } from './plan.ts';
import { formatById } from './registry.ts';
import { writeAs } from './write.ts';

/** What changes in the files of a choice, all of them together. */
export const changesOf = (
  library: Library,
  { format, perGroup, options }: FileChoice,
  services: Services,
): Promise<ChangeReport> => {
  const wanted = formatById(format);
  return changesInParts(partsOf(library, wanted, perGroup), wanted, services, perGroup, options);
};

export interface Kit {
  name: string;
  bytes: Uint8Array<ArrayBuffer>;
  files: number;
}

/**
 * Packs a kit: a folder per destination with its files and a note, a page of all chips as PDF and PNG, and a manifest
 * with the SHA-256 of each file.
 * @param about `takenAt` an ISO 8601 date and time, as core has no clock
 * @param step told before each file
 */
export async function makeKit(
  library: Library,
  choices: KitChoices,
  about: { revision: number; takenAt: string },
  services: Services,
  step: (done: number, of: number, path: string) => unknown = () => undefined,
): Promise<Kit> {
  const planned = planKit(library, choices);
  const part = inScope(library, choices.scope);
  const entries: { path: string; bytes: Uint8Array; swatches?: number; format?: string }[] = [];
  const total = planned.length + 2;
  for (const { path, format, part: own, options } of planned) {
    await step(entries.length, total, path);
    entries.push({
      path,
      bytes: await writeAs(formatById(format.id), own, services, options),
      swatches: countSwatches(own),
      format: format.id,
    });
  }
  for (const { id, files } of choices.destinations) {
    if (files.length === 0) continue;
    const destination = destinationById(id);
    const own = planned.filter((p) => p.destination === destination);
    entries.push({
      path: `${destination.name}/READ ME.txt`,
      bytes: writeText(await note(library, part, destination, files, own, services)),
    });
  }
  for (const [path, format, options] of [
    ['Chips.pdf', 'pdf', undefined],
    ['Chips.png', 'png', { names: true }],
  ] as const) {
    await step(planned.length, total, path);
    entries.push({ path, bytes: await formatById(format).encode(part, services, options) });
  }
  if (choices.artwork && services.artwork) {
    // large, and of use to few kits
    const { artworkFiles } = await import('../artwork/kit.ts');
    const free = freePaths();
    entries.push(
      ...(await artworkFiles(library, services.artwork, services, free, (path) =>
        step(total - 1, total, `Artwork, ${path}`),
      )),
    );
  }
  if (choices.boards) {
    const { boardFiles } = await import('../board/kit.ts');
    const { files, warnings } = await boardFiles(library, services, freePaths(), (path) =>
      step(total - 1, total, `Boards, ${path}`),
    );
    entries.push(...files);
    if (warnings.length > 0)
      entries.push({ path: 'Boards/READ ME.txt', bytes: writeText(`${warnings.join('\r\n')}\r\n`) });
  }
  const manifest = {
    library: library.name,
    revision: about.revision,
    takenAt: about.takenAt,
    swatches: countSwatches(part),
    files: entries.map(({ path, bytes, swatches, format }) => ({
      path,
      ...(format ? { format } : {}),
      ...(swatches === undefined ? {} : { swatches }),
      bytes: bytes.length,
      sha256: bytesToHex(sha256(bytes)),
    })),
  };
  return {
    name: fileName(`${library.name} kit`, 'zip'),
    files: planned.length,
    bytes: pack([
      ...entries,
      { path: 'manifest.json', bytes: writeText(`${JSON.stringify(manifest, null, 2)}\n`) },
    ]),
  };
}

/** The note that lies in a destination's folder, for someone who has never heard of Papillon. */
async function note(
  library: Library,
  part: Library,
  destination: Destination,
  files: FileChoice[],
  planned: PlannedFile[],
  services: Services,
): Promise<string> {
  const lines = [
    `${library.name}: ${destination.name.toLowerCase()}`,
    '',
    `${plural(countSwatches(part), 'swatch', 'swatches')} in ${plural(planned.length, 'file')}.`,
  ];
  for (const choice of files) {
    const format = formatById(choice.format);
    const own = planned.filter((p) => p.format.id === format.id);
    const { title, detail } = summarize(await changesOf(part, choice, services));
    lines.push(
      '',
      `${format.name} (.${format.endings[0]})`,
      `  ${format.about}`,
      `  ${destination.formats.find((f) => f.format === format.id)?.why ?? ''}`,
      `  ${title}. ${detail}`,
      ...own.slice(0, 40).map((p) => `  - ${p.path.split('/').at(-1)}`),
      ...(own.length > 40 ? [`  - and ${own.length - 40} more`] : []),
    );
  }
  lines.push(
    '',
    'Where it goes',
    `  ${destination.place}`,
    '',
    'If the program does not show it',
    '  Many programs read their palette folders only when they start: close the program and open it again.',
    '  Many open dialogs show only one ending at a time: choose “all files”, or the right ending, in the list below',
    '  the file names. Do not rename the file to another ending; that does not turn it into another format.',
    '  A program that reads only its own folder needs a copy of the file in there.',
    '',
  );
  return lines.join('\r\n');
}

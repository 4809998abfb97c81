import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import type { Options } from '../options.ts';
import type { Lent } from '../services.ts';
import { stored } from '../stored.ts';
import { countSwatches, isLoose, type Library, subset } from '../swatch/model.ts';
import { fileName } from '../text/names.ts';
import { plural, writeText } from '../text/text.ts';
import { freePaths, pack } from './archive.ts';
import { type ChangeReport, changesInParts, summarize } from './changes.ts';
import { type Destination, destinationById, destinations } from './destinations.ts';
import type { Format } from './format.ts';
import { formatById } from './registry.ts';
import { writeAs } from './write.ts';

/** One format of a kit, as the user wants it. */
export interface FileChoice {
  format: string;
  /** A file for each group instead of one. */
  perGroup?: boolean;
  options?: Options;
}

/** Which swatches go. */
export type Scope = { what: 'library' } | { what: 'groups' | 'swatches'; ids: string[] };

/** What is handed over: it can be kept and taken again. */
export interface KitChoices {
  scope: Scope;
  destinations: { id: string; files: FileChoice[] }[];
  /** Whether the library's artwork goes along, in all its colourways. */
  artwork?: boolean;
}

/** How choices and presets are kept. */
export const kitData = stored<KitChoices>([(old) => old]);
export const presetData = stored<Pick<KitChoices, 'destinations'>>([(old) => ({ destinations: old })]);

/** What a destination takes unless the user says otherwise; a file per group only where there are several. */
export function usualFiles(destination: Destination, library: Library): FileChoice[] {
  return destination.formats.filter((f) => f.usual).map((f) => usualFile(destination, f.format, library));
}

/** A format of a destination with what the destination usually needs. */
export function usualFile(destination: Destination, format: string, library: Library): FileChoice {
  const suited = destination.formats.find((f) => f.format === format);
  const several = library.groups.filter((g) => g.swatches.length > 0).length > 1;
  return {
    format,
    ...(suited?.perGroup && several ? { perGroup: true } : {}),
    ...(suited?.options ? { options: suited.options } : {}),
  };
}

/** The part of a library that a scope means. */
export function inScope(library: Library, scope: Scope): Library {
  if (scope.what === 'library') return library;
  const ids = new Set(scope.ids);
  return subset(library, (swatch, group) => ids.has(scope.what === 'groups' ? group.id : swatch.id));
}

/** A scope of the past without what is no longer in the library; everything when nothing of it is left. */
export function stillThere(library: Library, scope: Scope): Scope {
  if (scope.what === 'library') return scope;
  const there = new Set(
    library.groups.flatMap((g) => (scope.what === 'groups' ? [g.id] : g.swatches.map((s) => s.id))),
  );
  const ids = scope.ids.filter((id) => there.has(id));
  return ids.length > 0 ? { ...scope, ids } : { what: 'library' };
}

/** The choices with other files for one destination, in the order destinations and formats stand in the list; none takes it out. */
export function withFiles(
  chosen: KitChoices['destinations'],
  id: string,
  files: FileChoice[],
): KitChoices['destinations'] {
  const ordered = destinationById(id).formats.flatMap((f) => files.filter((c) => c.format === f.format));
  const all = [...chosen.filter((c) => c.id !== id), ...(ordered.length > 0 ? [{ id, files: ordered }] : [])];
  return destinations.flatMap((d) => all.filter((c) => c.id === d.id));
}

/** One library per group, each named after the library and its group, so that its files lie together. */
export function perGroup(library: Library): Library[] {
  return library.groups
    .filter((g) => g.swatches.length > 0)
    .map((g) => ({
      ...library,
      name: `${library.name}, ${isLoose(library, g) ? 'no group' : g.name || 'group without a name'}`,
      groups: [{ ...g, name: '' }],
    }));
}

/**
 * The libraries that become a file each: one for all or one per group, and more where a file holds fewer swatches
 * than there are, so that none is left out.
 */
export function partsOf(library: Library, format: Format, byGroup = false): Library[] {
  const parts = byGroup ? perGroup(library) : [library];
  const most = format.traits.most ?? Number.POSITIVE_INFINITY;
  return parts.flatMap((part) => {
    const files = Math.ceil(countSwatches(part) / most);
    if (files <= 1) return [part];
    return Array.from({ length: files }, (_, n) => {
      let place = 0;
      const cut = subset(part, () => Math.floor(place++ / most) === n);
      return { ...cut, name: `${part.name} ${n + 1} of ${files}` };
    });
  });
}

/** What changes in the files of a choice, all of them together. */
export const changesOf = (
  library: Library,
  { format, perGroup, options }: FileChoice,
  lent: Lent,
): Promise<ChangeReport> => {
  const wanted = formatById(format);
  return changesInParts(partsOf(library, wanted, perGroup), wanted, lent, perGroup, options);
};

/** A file of a kit before it is written. */
export interface PlannedFile {
  path: string;
  destination: Destination;
  format: Format;
  part: Library;
  options?: Options;
}

/** Every swatch file of a kit with its path. A library named by hand keeps that name in its files. */
export function planKit(library: Library, choices: KitChoices): PlannedFile[] {
  const part = inScope(library, choices.scope);
  const free = freePaths();
  return choices.destinations.flatMap(({ id, files }) => {
    const destination = destinationById(id);
    return files.flatMap((choice) => {
      const format = formatById(choice.format);
      return partsOf(part, format, choice.perGroup).map((p) => ({
        path: free(`${destination.name}/${fileName(p.name, format.endings[0])}`),
        destination,
        format,
        part: p,
        ...(choice.options ? { options: choice.options } : {}),
      }));
    });
  });
}

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
  lent: Lent,
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
      bytes: await writeAs(format, own, lent, options),
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
      bytes: writeText(await note(library, part, destination, files, own, lent)),
    });
  }
  for (const [path, format, options] of [
    ['Chips.pdf', 'pdf', undefined],
    ['Chips.png', 'png', { names: true }],
  ] as const) {
    await step(planned.length, total, path);
    entries.push({ path, bytes: await formatById(format).encode(part, lent, options) });
  }
  if (choices.artwork && lent.artwork) {
    // large, and of use to few kits
    const { artworkFiles } = await import('../artwork/kit.ts');
    const free = freePaths();
    entries.push(
      ...(await artworkFiles(library, lent.artwork, lent, free, (path) =>
        step(total - 1, total, `Artwork, ${path}`),
      )),
    );
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
  lent: Lent,
): Promise<string> {
  const lines = [
    `${library.name}: ${destination.name.toLowerCase()}`,
    '',
    `${plural(countSwatches(part), 'swatch', 'swatches')} in ${plural(planned.length, 'file')}.`,
  ];
  for (const choice of files) {
    const format = formatById(choice.format);
    const own = planned.filter((p) => p.format === format);
    const { title, detail } = summarize(await changesOf(part, choice, lent));
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

import { SHIPPED, SHIPPED_NAMES, type Space } from '../color/index.ts';
import type { OptionDeclaration, Options } from '../options.ts';
import { stored } from '../stored.ts';
import { countSwatches, isLoose, type Library, subset } from '../swatch/model.ts';
import { fileName, freePaths } from '../text/names.ts';
import { type Destination, destinationById, destinations } from './destinations.ts';
import { formatFacts } from './facts.ts';
import { type FormatFacts, withId } from './format.ts';

// What is handed over, before any of it is written: for pages, which know the facts of the formats alone.

/** The facts of the formats that can be written. */
export const writableFacts = formatFacts.filter((f) => f.traits.write);

/** @throws FormatError for an unknown format */
export const factsById = (id: string): FormatFacts => withId(formatFacts, id);

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
  /** Whether its boards go along. */
  boards?: boolean;
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
export function partsOf(library: Library, format: FormatFacts, byGroup = false): Library[] {
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

/** A file of a kit before it is written. */
export interface PlannedFile {
  path: string;
  destination: Destination;
  format: FormatFacts;
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
      const format = factsById(choice.format);
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

/** Spaces that all colours of a file can be asked for in. */
const SPACES_ASKED = [
  ['rgb', 'RGB'],
  ['cmyk', 'CMYK'],
  ['lab', 'Lab'],
] as const satisfies [Space, string][];

/** What can be chosen on writing a format: its own options, and those of all that hold such a thing. */
export function choicesFor(format: FormatFacts): OptionDeclaration[] {
  const { traits } = format;
  const held = SPACES_ASKED.filter(([space]) => traits.spaces.includes(space));
  // our own file keeps everything, whatever it is for
  if (format.id === 'papillon' || traits.gradientsOnly) return format.options ?? [];
  return [
    ...(format.options ?? []),
    ...(held.length > 1
      ? [
          {
            id: 'space',
            label: 'Colours',
            type: 'choice',
            values: [['', 'as they are'], ...held],
            initial: '',
          } as const,
        ]
      : []),
    ...(traits.spaces.includes('cmyk')
      ? [
          {
            id: 'inks',
            label: 'Inks for',
            type: 'choice',
            values: [
              ['', 'the library’s paper'],
              ...Object.values(SHIPPED).map((hash) => [hash, SHIPPED_NAMES[hash] ?? hash] as const),
            ],
            initial: '',
          } as const,
        ]
      : []),
    ...(traits.names
      ? [
          {
            id: 'naming',
            label: 'Called by',
            type: 'choice',
            values: [
              ['', 'name'],
              ['code', 'code'],
              ['both', 'code and name'],
            ],
            initial: '',
          } as const,
        ]
      : []),
  ];
}

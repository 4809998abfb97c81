import { spectralColumns } from '../formats/cgats/cgats.ts';
import { readTable } from '../formats/cgats/table.ts';
import { openSwatchFile } from '../formats/index.ts';
import { allSwatches } from '../swatch/index.ts';
import { countingIds } from '../swatch/model.ts';
import { type FactId, factIds } from '../swatch/reading.ts';
import { FormatError } from '../text/error.ts';
import { baseName } from '../text/names.ts';
import { plural, sniff } from '../text/text.ts';
import { rootIs, xmlText } from '../text/xml.ts';
import { csvTable, type SpectralTable } from './csv.ts';
import { readCxf } from './cxf.ts';
import type { Backing, Facts, Patch } from './model.ts';

/** What a file of measurements says. */
export interface MeasurementFile {
  /** What it says that it is of, or its name. */
  title: string;
  patches: Patch[];
  conditions: Facts;
  warnings: string[];
}

/** Which of the head's words say how it was measured (ISO 28178, annex A); the first of each is written, and those of our own are declared. */
const KEYWORDS: Record<FactId, { words: string[]; own?: true }> = {
  code: { words: ['STOCK_NUMBER'], own: true },
  substrate: { words: ['SUBSTRATE', 'MATERIAL'], own: true },
  customer: { words: ['CUSTOMER'], own: true },
  tolerance: { words: ['TOLERANCE'], own: true },
  formula: { words: ['TOLERANCE_FORMULA'], own: true },
  operator: { words: ['OPERATOR'], own: true },
  date: { words: ['MEASUREMENT_DATE', 'CREATED'], own: true },
  device: { words: ['INSTRUMENTATION', 'TARGET_INSTRUMENT'] },
  geometry: { words: ['MEASUREMENT_GEOMETRY'] },
  mode: { words: ['MEASUREMENT_SOURCE', 'MEASUREMENT_CONDITION'] },
  filter: { words: ['FILTER', 'FILTER_STATUS'] },
  illuminant: { words: ['ILLUMINANT'], own: true },
  observer: { words: ['OBSERVER'], own: true },
};
const SAID = new Map(factIds.flatMap((id) => KEYWORDS[id].words.map((word) => [word, id] as const)));

/** The keyword that a fact is written under, and whether it is one of our own. */
export const factKeyword = (id: FactId): [keyword: string, own: boolean] => [
  KEYWORDS[id].words[0]!,
  KEYWORDS[id].own ?? false,
];

const BACKINGS = ['SAMPLE_BACKING', 'BACKING', 'MATERIAL_BACKING'];
/** Columns that say how much of the plate is inked. */
const TINTS = ['TINT', 'TINT_PERCENT', 'PERCENT', 'DOT', 'DOT_PERCENT', 'TONE', 'TONE_VALUE', 'NOMINAL'];
const INKS = ['INK', 'INK_NAME', 'COLORANT', 'COLOURANT', 'SPOT_NAME'];
const NAMES = ['SAMPLE_NAME', 'NAME', 'SAMPLE_LOC', 'SAMPLE_ID', 'SAMPLEID'];
/** Device columns: CMYK_C, and inks by number (7CLR_5, SPOT_1) or by name (SPOT_ORANGE). */
const DEVICE = /^(?:CMYK_([CMYK])|\dCLR_(\w+)|SPOT_(\w+)|DEVICE_(\w+))$/;
const PROCESS: Record<string, string> = { C: 'Cyan', M: 'Magenta', Y: 'Yellow', K: 'Black' };

/** What a word says of the backing. */
export const backingOf = (text: string): Backing | undefined =>
  /\b(?:black|bb)\b/i.test(text) ? 'black' : /\b(?:white|wb|self)\b/i.test(text) ? 'white' : undefined;

/** A file that is something else: swatches without spectra, a picture, an archive. */
export class NoSpectraError extends FormatError {}

/**
 * Reads a file of measurements: a table of ISO 28178 with its columns, or whatever else holds spectra (CxF, CSV).
 *
 * @param name of the file, for messages
 * @throws NoSpectraError for one without spectra; FormatError for one with values that no reflectance has
 */
export async function readMeasurements(bytes: Uint8Array, name: string): Promise<MeasurementFile> {
  const file = await opened(bytes, name);
  if (file.patches.length === 0)
    throw new NoSpectraError(
      `${name} has no spectra. A reading needs reflectance by wavelength: a CGATS table with columns such as SPECTRAL_NM400, a CxF with spectra, or a CSV with a column for each wavelength.`,
    );
  inParts(file.patches);
  for (const { spectrum, where } of file.patches) sane(spectrum.values, spectrum, where);
  return file;
}

async function opened(bytes: Uint8Array, name: string): Promise<MeasurementFile> {
  if (rootIs(bytes, 'CxF')) {
    const { title, without, ...read } = readCxf(xmlText(bytes) ?? '', name);
    return { title: title || baseName(name), ...read, warnings: leftOut(name, without, read.patches.length) };
  }
  const text = sniff(bytes, bytes.length);
  if (text && /^[ \t]*BEGIN_DATA_FORMAT\b/m.test(text)) return ofTable(text, name);
  const table = text && /\.(?:csv|tsv|txt)$/i.test(name) ? csvTable(text) : null;
  return table ? ofCsv(table, name) : ofSwatches(bytes, name);
}

/** Reflectance in percent, which a single value above what anything reflects gives away, as parts of 1: for all of a file or none. */
function inParts(patches: readonly Patch[]): void {
  const most = patches.reduce((m, { spectrum }) => spectrum.values.reduce((a, b) => Math.max(a, b), m), 0);
  if (most > MAX_REFLECTANCE && most <= 100 * MAX_REFLECTANCE)
    for (const { spectrum } of patches) spectrum.values = spectrum.values.map((v) => v / 100);
}

const leftOut = (name: string, without: number, patches: number): string[] =>
  without > 0 && patches > 0
    ? [`${name}: ${plural(without, 'row')} without spectra ${without === 1 ? 'was' : 'were'} left out.`]
    : [];

/** More than this reflects nothing, fluorescence included. */
const MAX_REFLECTANCE = 3;
/** An instrument's noise may come out a little below nothing. */
const NOISE = 0.005;

function sane(values: number[], { start, step }: { start: number; step: number }, where: string): void {
  const wrong = values.findIndex((v) => !(v >= -NOISE && v <= MAX_REFLECTANCE));
  if (wrong < 0) return;
  const value = values[wrong]!;
  throw new FormatError(
    `${where}: the reflectance at ${start + wrong * step} nm is ${value.toFixed(3)}. ${
      value < 0
        ? 'It cannot be below 0: the instrument was not calibrated on black, or the file is damaged.'
        : 'Nothing reflects that much: the file may hold other values than reflectance.'
    } Measure again, or export it again.`,
  );
}

function ofTable(text: string, name: string): MeasurementFile {
  const conditions: Facts = {};
  const patches: Patch[] = [];
  let backing: Backing | undefined;
  let read: ((words: string[], line: number) => Patch | null) | null = null;
  let without = 0;
  let title = '';
  for (const part of readTable(text)) {
    if (part.kind === 'keyword') {
      const { key, words } = part;
      const value = words.join(' ').trim();
      if (key === 'DESCRIPTOR') title ||= value;
      const field = SAID.get(key);
      if (field && value) conditions[field] ??= value;
      if (BACKINGS.includes(key)) backing = backingOf(value);
      const mode = /\bM[0-3]\b/.exec(value)?.[0];
      if (mode && !key.startsWith('DESCRIPTOR')) conditions.mode = mode;
    } else if (part.kind === 'columns') read = patchReader(part.columns, name);
    else if (read) {
      const patch = read(part.words, part.line);
      if (patch) patches.push({ ...(backing ? { backing } : {}), ...patch });
      else without++;
    }
  }
  return {
    title: title || baseName(name),
    patches,
    conditions,
    warnings: leftOut(name, without, patches.length),
  };
}

/** Finds the columns once, for all rows of a table. */
function patchReader(columns: string[], file: string) {
  const spectral = spectralColumns(columns);
  const one = (names: readonly string[]) => names.map((n) => columns.indexOf(n)).find((i) => i >= 0);
  const [name, tint, ink, backing] = [one(NAMES), one(TINTS), one(INKS), one(BACKINGS)];
  const devices = columns.flatMap((column, at) => {
    const found = DEVICE.exec(column);
    if (!found) return [];
    const label = found.slice(1).find((g) => g !== undefined)!;
    return [{ at, ink: found[1] ? PROCESS[label]! : label }];
  });
  return (words: string[], line: number): Patch | null => {
    const where = `${file}, line ${line}`;
    if (words.length !== columns.length)
      throw new FormatError(
        `${where} has ${plural(words.length, 'value')}, but the format names ${columns.length}. It is damaged: export or download it again.`,
      );
    if (!spectral) return null;
    const number = (i: number) => {
      const value = Number(words[i]!.replace(',', '.'));
      if (!Number.isFinite(value) || words[i] === '')
        throw new FormatError(`${where}: ${columns[i]} “${words[i]!.slice(0, 40)}” is not a number.`);
      return value;
    };
    const inked = devices.map((d) => ({ ink: d.ink, percent: number(d.at) })).filter((d) => d.percent > 0);
    const said = backing === undefined ? undefined : backingOf(words[backing]!);
    return {
      name: (name === undefined ? '' : words[name]) || `line ${line}`,
      spectrum: { start: spectral.start, step: spectral.step, values: spectral.at.map(number) },
      ...(ink !== undefined && words[ink] ? { ink: words[ink] } : {}),
      ...(tint !== undefined ? { percent: number(tint) } : {}),
      // of several inks it is an overprint, and no tint of one
      ...(devices.length > 0 && tint === undefined && inked.length <= 1
        ? { percent: inked[0]?.percent ?? 0, ...(inked[0] ? { ink: inked[0].ink } : {}) }
        : {}),
      ...(said ? { backing: said } : {}),
      where,
    };
  };
}

function ofCsv({ columns, rows }: SpectralTable, name: string): MeasurementFile {
  const read = patchReader(columns, name);
  const patches = rows.flatMap(({ words, line }) => read(words, line) ?? []);
  return { title: baseName(name), patches, conditions: {}, warnings: [] };
}

async function ofSwatches(bytes: Uint8Array, name: string): Promise<MeasurementFile> {
  const { library, warnings } = await openSwatchFile(bytes, name, countingIds()).catch((error) => {
    throw error instanceof FormatError ? new NoSpectraError(error.message) : error;
  });
  const patches = allSwatches(library).flatMap(({ name: own, spectrum, tint }): Patch[] =>
    spectrum
      ? [
          {
            name: own,
            spectrum,
            ...(tint ? { ink: tint.of, percent: tint.percent } : {}),
            where: `${name}, “${own}”`,
          },
        ]
      : [],
  );
  return { title: library.name || baseName(name), patches, conditions: {}, warnings };
}

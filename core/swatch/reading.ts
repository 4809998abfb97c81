import type { Draft, Op } from './change.ts';
import { itemOps } from './item-ops.ts';
import type { Item, Library, Spectrum } from './model.ts';
import type { LibraryRows } from './rows.ts';

export const READING = 'reading';

/** What lies below the sheet while it is measured (ISO 13655, 4.3). */
export type Backing = 'white' | 'black';

/** A tint of an ink over one backing. */
export interface Step {
  /** Of the plate, 0–100 %. */
  percent: number;
  backing: Backing;
  spectrum: Spectrum;
  name: string;
}

/** Something that is known of a measured ink beside its figures. */
interface Fact {
  label: string;
  /** A file of CxF/X-4 has to say it; from memory of ISO 17972-4. */
  needed?: true;
}

/** What may be known of a measured ink, in the order in which it is shown. */
export const FACTS = {
  code: { label: 'Stock number' },
  substrate: { label: 'Substrate', needed: true },
  customer: { label: 'Customer' },
  tolerance: { label: 'Tolerance' },
  formula: { label: 'Formula' },
  operator: { label: 'Measured by' },
  date: { label: 'Date', needed: true },
  device: { label: 'Instrument', needed: true },
  geometry: { label: 'Geometry', needed: true },
  mode: { label: 'Mode', needed: true },
  filter: { label: 'Filter' },
  illuminant: { label: 'Illuminant' },
  observer: { label: 'Observer' },
} as const satisfies Record<string, Fact>;

export type FactId = keyof typeof FACTS;
export const factIds = Object.keys(FACTS) as FactId[];
export type Facts = Partial<Record<FactId, string>>;

/** An ink on a sheet: its tints, the bare sheet among them as 0 %. */
export interface MeasuredInk {
  name: string;
  /** What its file says of how it was measured. */
  conditions: Facts;
  /** Over white first, each from the sheet to the solid. */
  steps: Step[];
}

/** A measured ink as it is kept. */
export interface ReadingData {
  ink: MeasuredInk;
  /** What is known of it: as its file says it, or as somebody wrote it. */
  facts: Facts;
  /** The files it was read from. */
  from: string;
}

/** A measured ink of a library. It refers to the swatch that was made of it, and stays without it. */
export type Reading = Item & { kind: typeof READING; data: ReadingData };

/** More steps than any ramp has, and as many values as a spectrum may have. */
export const MAX_STEPS = 10_000;
const MAX_WAVELENGTHS = 1000;

const isSpectrum = (s: Spectrum | undefined) =>
  s !== undefined &&
  Number.isFinite(s.start) &&
  s.step > 0 &&
  Array.isArray(s.values) &&
  s.values.length >= 2 &&
  s.values.length <= MAX_WAVELENGTHS &&
  s.values.every(Number.isFinite);

/** What may come from another program or version is looked into before it is drawn. */
export function isReading(item: Item): item is Reading {
  if (item.kind !== READING) return false;
  const { ink, facts, from } = (item.data ?? {}) as Partial<ReadingData>;
  return (
    typeof ink?.name === 'string' &&
    typeof ink.conditions === 'object' &&
    typeof facts === 'object' &&
    typeof from === 'string' &&
    Array.isArray(ink.steps) &&
    ink.steps.length > 0 &&
    ink.steps.length <= MAX_STEPS &&
    ink.steps.every(
      (s) =>
        s &&
        s.percent >= 0 &&
        s.percent <= 100 &&
        /^(white|black)$/.test(s.backing) &&
        isSpectrum(s.spectrum),
    )
  );
}

export const readingsOf = ({ items = [] }: Pick<Library, 'items'>): Reading[] => items.filter(isReading);

/** Keeps measured inks in the library. */
export const addReadings = (rows: LibraryRows, readings: readonly Reading[]): Draft => ({
  label: `keep ${readings.length === 1 ? `the reading “${readings[0]!.name}”` : `${readings.length} readings`}`,
  ops: itemOps(rows, readings),
});

/** Sets the name of a measured ink, or what is known of it. */
export function setReading({ id, name, data }: Reading, to: { name?: string; facts?: Facts }): Draft {
  const fields: { name?: string; data: ReadingData } = {
    ...(to.name === undefined ? {} : { name: to.name }),
    data: {
      ...data,
      ...(to.facts ? { facts: to.facts } : {}),
      ...(to.name === undefined ? {} : { ink: { ...data.ink, name: to.name } }),
    },
  };
  return {
    label: to.name === undefined ? `describe the reading “${name}”` : `rename the reading “${to.name}”`,
    ops: [{ op: 'set', of: 'item', id, fields }],
  };
}

/** Says which swatch was made of a measured ink. */
export const referTo = ({ id, name }: Reading, swatch: string): Draft => ({
  label: `link the reading “${name}”`,
  ops: [{ op: 'set', of: 'item', id, fields: { refs: [swatch] } }],
});

export const removeReading = ({ id, name }: Reading): Draft => ({
  label: `remove the reading “${name}”`,
  ops: [{ op: 'drop', of: 'item', id } satisfies Op],
});

import type { InterpolationId } from '../color/interpolation.ts';
import type { Color } from '../color/model.ts';
import { isColor } from '../color/spaces.ts';
import type { Draft, Op } from './change.ts';
import { itemOps } from './item-ops.ts';
import { type Group, type Item, isLoose, type Library, type NewId, type Swatch } from './model.ts';
import type { LibraryRows } from './rows.ts';

export const GRADIENT = 'gradient';

/** A color on the way. */
export interface Stop {
  /** Which of the item's references it is: the swatch says the color then. */
  ref?: number;
  /** Its own, and what its swatch was the last time, for when that is gone. */
  color: Color;
  /** 0–1, never before the stop before it. */
  at: number;
  /** Where this and the next are mixed half and half, as a part of the way between them, 0–1; halfway when not given. */
  middle?: number;
  /** Of the stop itself, 0–1, over that of the swatch. */
  alpha?: number;
}

export interface GradientData {
  stops: Stop[];
  /** How colors are mixed between stops. */
  way: InterpolationId;
  /** In this many flat steps; smooth when not given. */
  steps?: number;
}

/** A gradient of a library: its stops are swatches where they can be, so that recolouring those recolours it. */
export type Gradient = Item & { kind: typeof GRADIENT; refs: string[]; data: GradientData };

export const MAX_STOPS = 500;
export const MAX_GRADIENT_STEPS = 256;

/** What may come from another program or version is looked into before it is drawn. */
export function isGradient(item: Item): item is Gradient {
  if (item.kind !== GRADIENT || !Array.isArray(item.refs)) return false;
  const { stops, steps = 1 } = (item.data ?? {}) as Partial<GradientData>;
  return (
    Array.isArray(stops) &&
    stops.length > 0 &&
    stops.length <= MAX_STOPS &&
    stops.every((stop) => stop && stop.at >= 0 && stop.at <= 1 && isColor(stop.color)) &&
    Number.isInteger(steps) &&
    steps >= 1 &&
    steps <= MAX_GRADIENT_STEPS
  );
}

export const gradientsOf = ({ items = [] }: Pick<Library, 'items'>): Gradient[] => items.filter(isGradient);

/** A stop with what its swatch says just now. */
export interface ResolvedStop {
  color: Color;
  at: number;
  middle: number;
  alpha: number;
  swatch: Swatch | null;
}

/** The stops as they are now; those whose swatch is gone keep the color it had. */
export function resolvedStops(
  { data, refs }: Pick<Gradient, 'data' | 'refs'>,
  swatchOf: (id: string) => Swatch | undefined,
): ResolvedStop[] {
  return data.stops.map(({ ref, color, at, middle = 0.5, alpha = 1 }) => {
    const swatch = (ref === undefined ? undefined : swatchOf(refs[ref] ?? '')) ?? null;
    return { color: swatch?.color ?? color, at, middle, alpha: alpha * (swatch?.alpha ?? 1), swatch };
  });
}

/** A gradient through swatches at equal distances. */
export function gradientThrough(
  id: string,
  name: string,
  swatches: readonly Swatch[],
  way: InterpolationId,
): Gradient {
  const refs = [...new Set(swatches.map((s) => s.id))];
  const last = Math.max(1, swatches.length - 1);
  return {
    id,
    kind: GRADIENT,
    name,
    refs,
    data: {
      way,
      stops: swatches.map((s, i) => ({ ref: refs.indexOf(s.id), color: s.color, at: i / last })),
    },
  };
}

/** A copy under other references: a stop whose swatch does not come along keeps its color. */
export function gradientAgain<T>(
  { refs, data }: Pick<Gradient, 'refs' | 'data'>,
  to: (id: string) => T | undefined,
): { refs: T[]; data: GradientData } {
  const kept: T[] = [];
  const places = refs.map((id) => {
    const there = to(id);
    return there === undefined ? undefined : kept.push(there) - 1;
  });
  const stops = data.stops.map(({ ref, ...stop }): Stop => {
    const place = ref === undefined ? undefined : places[ref];
    return place === undefined ? stop : { ...stop, ref: place };
  });
  return { refs: kept, data: { ...data, stops } };
}

// --- edits

const s = (n: number) => (n === 1 ? 'a gradient' : `${n} gradients`);

/** Adds gradients behind the items there are. */
export const addGradients = (rows: LibraryRows, gradients: readonly Gradient[]): Draft => ({
  label: `add ${gradients.length === 1 ? `the gradient “${gradients[0]!.name}”` : s(gradients.length)}`,
  ops: itemOps(rows, gradients),
});

/** Sets what a gradient is. */
export const setGradient = (
  { id, name }: Pick<Gradient, 'id' | 'name'>,
  fields: { name?: string; refs?: string[]; data?: GradientData },
): Draft => ({
  label: `${Object.keys(fields).join() === 'name' ? 'rename' : 'change'} the gradient “${fields.name ?? name}”`,
  ops: [{ op: 'set', of: 'item', id, fields }],
});

export const removeGradients = (gradients: readonly Gradient[]): Draft => ({
  label: `delete ${gradients.length === 1 ? `the gradient “${gradients[0]!.name}”` : s(gradients.length)}`,
  ops: gradients.map(({ id }): Op => ({ op: 'drop', of: 'item', id })),
});

/** The steps that keep, in every gradient, the colors of swatches that are about to go. */
export function keptInGradients(
  library: Library,
  going: ReadonlySet<string>,
  swatchOf: (id: string) => Swatch | undefined,
): Op[] {
  return gradientsOf(library).flatMap((gradient): Op[] => {
    if (!gradient.refs.some((id) => going.has(id))) return [];
    const stops = gradient.data.stops.map((stop): Stop => {
      const id = stop.ref === undefined ? undefined : gradient.refs[stop.ref];
      const now = id !== undefined && going.has(id) ? swatchOf(id) : undefined;
      return now ? { ...stop, color: now.color } : stop;
    });
    return [{ op: 'set', of: 'item', id: gradient.id, fields: { data: { ...gradient.data, stops } } }];
  });
}

/** Whether a group has enough swatches for a gradient, and not too many. */
export const makesGradient = (library: Library, group: Group): boolean =>
  !isLoose(library, group) && group.swatches.length > 1 && group.swatches.length <= MAX_STOPS;

/** A gradient for each group of two swatches or more, named as the group is. */
export const gradientsOfGroups = (library: Library, newId: NewId): Gradient[] =>
  library.groups
    .filter((g) => makesGradient(library, g))
    .map((g) => gradientThrough(newId(), g.name, g.swatches, 'oklab'));

import { type Condition, deltaE00, toLab } from '../color/index.ts';
import type { Options } from '../options.ts';
import type { Services } from '../services.ts';
import { compareForMerge } from '../swatch/merge.ts';
import { allSwatches, countingIds, type Library } from '../swatch/model.ts';
import { pairUp } from './changes.ts';
import { formatById } from './registry.ts';
import type { Edited, RoundTrip } from './take-back.ts';
import { writeAs } from './write.ts';

// A file that was handed over and edited elsewhere: only what was edited comes back, so that what the format cannot carry stays.

/** Rounding by programs that only save a file again is less, as CIEDE2000. */
const ROUNDING = 0.05;

/**
 * What was done to a file since it was handed over.
 *
 * @param base the library as it was when it was handed over, or the part of it that the file held
 * @param returned the file as it came back
 */
export async function roundTrip(
  base: Library,
  { format: id, options }: { format: string; options?: Options | undefined },
  returned: Library,
  services: Services,
): Promise<RoundTrip> {
  const format = formatById(id);
  const bytes = await writeAs(format, base, services, options);
  const { library: written } = await format.decode(bytes, countingIds('written-'));
  return editsOf(base, written, returned, services.condition);
}

/** The same, where the file is read already as it was handed over. */
export function editsOf(base: Library, written: Library, returned: Library, condition: Condition): RoundTrip {
  condition.prepare([base, written, returned].flatMap((l) => allSwatches(l).map((s) => s.color)));
  const ours = allSwatches(base);
  /** The library's swatch by the file's. Places say nothing where the format leaves some out: names and colours do. */
  const home =
    ours.length === allSwatches(written).length
      ? new Map(pairUp(base, written, condition).arrived.map(({ swatch }, i) => [swatch.id, ours[i]!.id]))
      : new Map(compareForMerge(base, written, condition).meetings.map((m) => [m.theirs.id, m.mine.id]));
  const { meetings, fresh } = compareForMerge(written, returned, condition);
  const pairs = meetings.map(({ mine, theirs }) => [mine, theirs] as const);
  const met = new Set(pairs.map(([mine]) => mine.id));
  const [before, after] = [allSwatches(written), allSwatches(returned)];
  const left = before.filter((s) => !met.has(s.id));
  const come = new Set(fresh.map((s) => s.id));
  // where nothing else was put in or taken out, what is in its place is the same swatch under another name and colour
  if (before.length === after.length)
    for (const mine of left) {
      const theirs = after[before.indexOf(mine)]!;
      if (come.delete(theirs.id)) pairs.push([mine, theirs]);
    }
  const paired = new Set(pairs.map(([mine]) => mine.id));
  const edited: Edited[] = [];
  for (const [mine, theirs] of pairs) {
    const to = home.get(mine.id);
    if (to === undefined) continue;
    const apart = deltaE00(toLab(mine.color, condition), toLab(theirs.color, condition));
    const one: Edited = {
      id: to,
      ...(mine.name === theirs.name ? {} : { name: { from: mine.name, to: theirs.name } }),
      ...(apart > ROUNDING ? { color: { from: mine.color, to: theirs.color } } : {}),
    };
    if (one.name || one.color) edited.push(one);
  }
  const order = new Map(ours.map((s, i) => [s.id, i]));
  return {
    edited: edited.sort((a, b) => order.get(a.id)! - order.get(b.id)!),
    added: returned.groups.flatMap((g) =>
      g.swatches.flatMap((swatch) => (come.has(swatch.id) ? [{ swatch, group: g.name }] : [])),
    ),
    removed: before.flatMap((s) => {
      const id = paired.has(s.id) ? undefined : home.get(s.id);
      return id === undefined ? [] : [id];
    }),
  };
}

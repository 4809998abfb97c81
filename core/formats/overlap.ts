import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import { type Condition, toHex } from '../color/index.ts';
import { allSwatches, type Library } from '../swatch/model.ts';
import type { Entry } from './archive.ts';
import { checkManifest, type Manifest } from './checks.ts';
import type { Traits } from './format.ts';
import { formats } from './registry.ts';

/** How much a format carries of a library: words first, then kinds and spaces of colour, then precision. */
function richness({ names, groups, kinds, spaces, bits, oneSpace, gradientsOnly }: Traits): number {
  if (gradientsOnly) return 0;
  return (
    (names ? 40 : 0) +
    (groups ? 30 : 0) +
    8 * kinds.length +
    2 * (oneSpace ? 1 : spaces.length) +
    Math.min(bits, 64) / 32
  );
}
const richnessOf = (id: string): number => {
  const format = formats.find((f) => f.id === id);
  // a table of everything says more than a sheet that was drawn from it
  return format ? richness(format.traits) + (format.traits.read && format.traits.write ? 1 : 0) : -1;
};

/** What rounding in a format may do to a channel of 255. */
const ROUNDING = [-1, 0, 1];
/** The smallest share of the larger file's colours that the other must have. */
const SHARE = 0.8;
/** Of fewer colours it says nothing that two files have them both. */
const MIN_COLORS = 2;

const codeOf = (hex: string) => Number.parseInt(hex.slice(1), 16);

/** Whether a set of colours has this one, but for rounding. */
function has(codes: ReadonlySet<number>, code: number): boolean {
  if (codes.has(code)) return true;
  const [r, g, b] = [code >> 16, (code >> 8) & 255, code & 255];
  for (const dr of ROUNDING)
    for (const dg of ROUNDING)
      for (const db of ROUNDING) if (codes.has(((r + dr) << 16) | ((g + dg) << 8) | (b + db))) return true;
  return false;
}

/**
 * For each of several libraries that came in together, which of the others has the same colours and comes from a format that carries
 * more; null for those to be taken.
 */
export function richerThan(
  came: readonly { format: string; library: Library }[],
  condition: Condition,
): (number | null)[] {
  const sets = came.map(
    ({ library }) => new Set(allSwatches(library).map((s) => codeOf(toHex(s.color, condition)))),
  );
  const order = came
    .map((_, i) => i)
    .sort((a, b) => richnessOf(came[b]!.format) - richnessOf(came[a]!.format));
  const richer: (number | null)[] = came.map(() => null);
  order.forEach((poor, at) => {
    const own = sets[poor]!;
    if (own.size < MIN_COLORS) return;
    const found = order.slice(0, at).find((rich) => {
      const theirs = sets[rich]!;
      if (richer[rich] !== null || came[rich]!.format === came[poor]!.format) return false;
      if (own.size < SHARE * theirs.size || theirs.size < SHARE * own.size) return false;
      for (const code of own) if (!has(theirs, code)) return false;
      return true;
    });
    if (found !== undefined) richer[poor] = found;
  });
  return richer;
}

export interface KitContent {
  /** The file that carries the library best. */
  library: Entry;
  name: string;
  drawings: Entry[];
}

/** The manifest of a kit in an archive, in a folder of it if need be. */
const MANIFEST = /^([^/]+\/)?manifest\.json$/;
const DRAWING = /^Artwork\/([^/]+)\/[^/]+$/;

/**
 * What a kit holds by its manifest: its library once, whole and as rich as it is there, and each drawing once; null where an archive is
 * none, was changed since, or has the library in parts.
 */
export function kitIn(entries: readonly Entry[]): KitContent | null {
  const listed = entries.find((e) => MANIFEST.test(e.path));
  if (!listed || listed.bytes.length > 10e6) return null;
  let manifest: Manifest;
  try {
    manifest = checkManifest(JSON.parse(new TextDecoder().decode(listed.bytes)));
  } catch {
    // a manifest of something else
    return null;
  }
  const folder = listed.path.slice(0, -'manifest.json'.length);
  const entryOf = (file: { path: string; sha256: string }) => {
    const entry = entries.find((e) => e.path === folder + file.path);
    return entry && bytesToHex(sha256(entry.bytes)) === file.sha256 ? entry : undefined;
  };
  const best = manifest.files
    .filter((f) => f.format && f.swatches === manifest.swatches && richnessOf(f.format) > 0)
    .sort((a, b) => richnessOf(b.format!) - richnessOf(a.format!))
    .map(entryOf)
    .find((entry) => entry);
  if (!best) return null;
  const seen = new Set<string>();
  const drawings = manifest.files.flatMap((f) => {
    const [, work] = DRAWING.exec(f.path) ?? [];
    if (work === undefined || f.format !== 'svg' || seen.has(work)) return [];
    const entry = entryOf(f);
    if (entry) seen.add(work);
    return entry ?? [];
  });
  return { library: best, name: manifest.library, drawings };
}

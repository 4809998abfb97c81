import { OPAQUE, type Picture, words } from './histogram.ts';
import type { PaletteColor } from './reduce.ts';
import { colorOfPixel } from './space.ts';

export interface ExactResult {
  /** The colours in reading order, at most `most`. */
  colors: PaletteColor[];
  /** How many different colours the picture has, background included. */
  distinct: number;
  /** Whether the picture was read as a chart of solid squares. */
  chart: boolean;
  /** The colours left out as background or gaps. */
  background: PaletteColor[];
  /** How many squares of the chart show a colour that an earlier one has. */
  repeats: number;
}

/** A connected area of one colour. */
interface Patch {
  rgb: number;
  area: number;
  left: number;
  top: number;
  right: number;
  bottom: number;
  first: number;
}

/** A chart has no more patches than this; beyond it a picture is drawn, not laid out. */
const MAX_PATCHES = 20_000;
/** A patch that fills this part of its bounding box is a solid square (a disc fills π/4). */
const SOLID = 0.75;

/**
 * Every distinct colour of a flat picture, in reading order: rows from the top, left to right. A chart of
 * solid squares gives each square's colour once, by the squares' rows, without the background or the gaps
 * when there clearly are some; other pictures give their colours by first appearance.
 *
 * @param most how many colours to give, 256 by default; `distinct` tells when there are more
 */
export function exactColors(picture: Picture, most = 256, keepBackground = false): ExactResult {
  const pixels = words(picture);
  const colorAt = (word: number, first: number): PaletteColor => {
    const rgb: PaletteColor['rgb'] = [word & 255, (word >> 8) & 255, word >> 16];
    return { color: colorOfPixel(rgb, picture.space), rgb, share: 0, first };
  };
  const { distinct, total, seen } = countDistinct(pixels);
  const patches = distinct <= MAX_PATCHES ? findPatches(pixels, picture.width) : null;
  const backgrounds = new Set<number>();
  let ordered: Patch[] | null = null;
  let chart = false;
  if (patches && patches.length > 1) {
    for (const rgb of findBackground(patches, picture)) backgrounds.add(rgb);
    const chips = patches.filter((p) => !backgrounds.has(p.rgb));
    const area = (list: Patch[]) => list.reduce((sum, p) => sum + p.area, 0);
    chart = chips.length >= 2 && area(chips.filter(isSolid)) >= 0.9 * area(chips);
    if (chart) ordered = inReadingOrder(keepBackground ? patches : chips);
    else backgrounds.clear();
  }

  const found = new Map<number, PaletteColor>();
  const note = (rgb: number, first: number) => {
    if (found.has(rgb) || found.size >= most) return;
    found.set(rgb, colorAt(rgb, first));
  };
  if (ordered) for (const p of ordered) note(p.rgb, p.first);
  else for (const [rgb, first] of seen(most)) note(rgb, first);

  const left = new Map<number, PaletteColor>();
  if (chart) {
    for (const p of patches ?? [])
      if (backgrounds.has(p.rgb) && !left.has(p.rgb)) left.set(p.rgb, colorAt(p.rgb, p.first));
  }
  for (const p of patches ?? []) {
    for (const color of [found.get(p.rgb), left.get(p.rgb)]) if (color) color.share += p.area / total;
  }
  if (!patches) addShares(pixels, found, total);
  return {
    colors: [...found.values()],
    distinct,
    chart,
    background: [...left.values()],
    repeats: ordered ? ordered.length - new Set(ordered.map((p) => p.rgb)).size : 0,
  };
}

function countDistinct(pixels: Uint32Array) {
  const bits = new Uint8Array(1 << 21);
  let distinct = 0;
  let total = 0;
  let last = -1;
  const early: [rgb: number, first: number][] = [];
  for (let i = 0; i < pixels.length; i++) {
    const pixel = pixels[i];
    if (pixel >>> 24 < OPAQUE) continue;
    total++;
    const rgb = pixel & 0xffffff;
    if (rgb === last) continue;
    last = rgb;
    const bit = 1 << (rgb & 7);
    if (bits[rgb >> 3] & bit) continue;
    bits[rgb >> 3] |= bit;
    distinct++;
    if (early.length < 4096) early.push([rgb, i]);
  }
  return { distinct, total, seen: (most: number) => early.slice(0, most) };
}

function addShares(pixels: Uint32Array, found: Map<number, PaletteColor>, total: number): void {
  for (const pixel of pixels) {
    if (pixel >>> 24 < OPAQUE) continue;
    const color = found.get(pixel & 0xffffff);
    if (color) color.share += 1 / total;
  }
}

/** Connected areas of one colour, row by row over runs of equal pixels; null when there are too many. */
function findPatches(pixels: Uint32Array, width: number): Patch[] | null {
  const parent: number[] = [];
  const patches: Patch[] = [];
  let live = 0;
  const root = (a: number): number => {
    let r = a;
    while (parent[r] !== r) {
      parent[r] = parent[parent[r]];
      r = parent[r];
    }
    return r;
  };
  const join = (a: number, b: number): number => {
    const [into, from] = a < b ? [a, b] : [b, a];
    if (into === from) return into;
    parent[from] = into;
    live--;
    const [p, q] = [patches[into], patches[from]];
    p.area += q.area;
    p.left = Math.min(p.left, q.left);
    p.right = Math.max(p.right, q.right);
    p.top = Math.min(p.top, q.top);
    p.bottom = Math.max(p.bottom, q.bottom);
    p.first = Math.min(p.first, q.first);
    return into;
  };
  type Run = { from: number; to: number; rgb: number; patch: number };
  let above: Run[] = [];
  for (let start = 0, y = 0; start < pixels.length; start += width, y++) {
    const runs: Run[] = [];
    let a = 0;
    for (let x = 0; x < width; ) {
      const pixel = pixels[start + x];
      const from = x;
      if (pixel >>> 24 < OPAQUE) {
        x++;
        continue;
      }
      const rgb = pixel & 0xffffff;
      while (x < width && (pixels[start + x] & 0xffffff) === rgb && pixels[start + x] >>> 24 >= OPAQUE) x++;
      let patch = -1;
      while (a < above.length && above[a].to <= from) a++;
      for (let b = a; b < above.length && above[b].from < x; b++) {
        if (above[b].rgb !== rgb) continue;
        const other = root(above[b].patch);
        patch = patch < 0 ? other : join(patch, other);
      }
      if (patch < 0) {
        patch = patches.length;
        parent.push(patch);
        patches.push({ rgb, area: 0, left: from, top: y, right: x, bottom: y + 1, first: start + from });
        if (++live > MAX_PATCHES) return null;
      }
      const p = patches[patch];
      p.area += x - from;
      p.left = Math.min(p.left, from);
      p.right = Math.max(p.right, x);
      p.bottom = y + 1;
      runs.push({ from, to: x, rgb, patch });
    }
    above = runs;
  }
  return patches.filter((_, i) => parent[i] === i);
}

const boxArea = (p: Patch) => (p.right - p.left) * (p.bottom - p.top);
const isSolid = (p: Patch) => p.area >= SOLID * boxArea(p);
const holds = (outer: Patch, p: Patch) =>
  p !== outer &&
  p.left >= outer.left &&
  p.right <= outer.right &&
  p.top >= outer.top &&
  p.bottom <= outer.bottom;

/**
 * The colours that are clearly behind or between the squares: all their patches surround others (a page, a
 * grid, frames), or run as bands across the whole picture, thinner than the squares.
 */
function findBackground(patches: Patch[], { width, height }: Picture): number[] {
  const byColor = new Map<number, Patch[]>();
  for (const p of patches) {
    const own = byColor.get(p.rgb);
    if (own) own.push(p);
    else byColor.set(p.rgb, [p]);
  }
  const surrounds = new Map<Patch, boolean>();
  const large = [...patches].sort((a, b) => boxArea(b) - boxArea(a)).slice(0, 400);
  for (const outer of large) {
    const held = patches.filter((p) => p.rgb !== outer.rgb && holds(outer, p)).length;
    const everySide = outer.left === 0 && outer.top === 0 && outer.right === width && outer.bottom === height;
    // a page may show little of itself; a frame or grid shows less than half of its box
    if (held >= 1 && outer.area < 0.5 * boxArea(outer)) surrounds.set(outer, true);
    if (held >= 2 && everySide && outer.area < 0.98 * boxArea(outer)) surrounds.set(outer, true);
  }
  const isBand = (p: Patch) =>
    isSolid(p) &&
    (p.right - p.left === width || p.bottom - p.top === height) &&
    !(boxArea(p) === width * height);
  const thickness = (p: Patch) => Math.min(p.right - p.left, p.bottom - p.top);
  const found: number[] = [];
  for (const [rgb, own] of byColor) {
    // a background may show through in closed corners; what counts is where most of it lies
    const area = own.reduce((sum, p) => sum + p.area, 0);
    const around = own.reduce((sum, p) => sum + (surrounds.get(p) ? p.area : 0), 0);
    if (around > 0.5 * area) found.push(rgb);
    else if (own.length >= 2 && own.every(isBand)) {
      const others = patches
        .filter((p) => p.rgb !== rgb && !isBand(p))
        .map(thickness)
        .sort((a, b) => a - b);
      const typical = others[others.length >> 1] ?? 0;
      if (others.length >= 2 && own.every((p) => thickness(p) < typical / 2)) found.push(rgb);
    }
  }
  return found;
}

/** Rows from the top, left to right: a patch belongs to a row when its middle lies within the row's first patch. */
function inReadingOrder(patches: Patch[]): Patch[] {
  const rest = [...patches].sort((a, b) => a.top - b.top || a.left - b.left);
  const ordered: Patch[] = [];
  while (rest.length > 0) {
    const [{ top, bottom }] = rest;
    const row: Patch[] = [];
    const later: Patch[] = [];
    for (const p of rest) {
      const middle = (p.top + p.bottom) / 2;
      (middle >= top && middle < bottom ? row : later).push(p);
    }
    // the first patch of a row is always in it, so that every round takes at least one
    row.sort((a, b) => a.left - b.left);
    ordered.push(...row);
    rest.splice(0, rest.length, ...later);
  }
  return ordered;
}

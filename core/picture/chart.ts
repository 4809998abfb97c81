import { deltaE00, screenOnly, toLab } from '../color/index.ts';
import { OPAQUE, type Picture } from './histogram.ts';
import { lightOn, placesBetween } from './light.ts';
import type { PaletteColor } from './reduce.ts';
import { colorOfPixel } from './space.ts';

/** Where the chips of a chart lie: a regular grid, turned about the middle of the picture. Lengths in px. */
export interface ChartGrid {
  rows: number;
  columns: number;
  /** Degrees clockwise. */
  angle: number;
  /** From the picture's edges to the outer edges of the outermost chips, measured along the turned grid. */
  left: number;
  top: number;
  right: number;
  bottom: number;
  /** Between neighbouring chips. */
  gapX: number;
  gapY: number;
  /** Places at the end of the last row without a chip. */
  empty: number;
}

export interface Chip {
  row: number;
  column: number;
  /** The corners as they lie in the picture, clockwise from the upper left, px. */
  outline: [x: number, y: number][];
  color: PaletteColor | null;
}

export const MAX_CHIPS_PER_SIDE = 64;

/** Detection looks at a copy with this many pixels at most on its longer side. */
const LOOK = 900;
/** The largest turn that is looked for, degrees. */
const MAX_TURN_DEGREES = 12;
/** A chip fills this part of its box (letters on it, rounded corners and noise take some away). */
const FILLED = 0.72;
/** The chips of a chart cover this part of the picture at least. */
const MIN_COVERAGE = 0.08;
/** How much of a chip, each way, its colour is taken from: edges are soft, and frames belong to nobody. */
const INNER = 0.6;

/** A plausible grid to begin with where none was found. */
export function plainGrid(
  { width, height }: Pick<Picture, 'width' | 'height'>,
  rows = 4,
  columns = 6,
): ChartGrid {
  const margin = Math.round(Math.min(width, height) * 0.04);
  return {
    rows,
    columns,
    angle: 0,
    left: margin,
    top: margin,
    right: margin,
    bottom: margin,
    gapX: 0,
    gapY: 0,
    empty: 0,
  };
}

/**
 * Finds the grid of a chart: flat areas of the same size, as wide apart as each other, on any background. Chips that melt
 * into the background or into a neighbour are supplied from the grid of the others.
 *
 * @returns null when the picture shows no such grid
 */
export function findChart(picture: Picture): ChartGrid | null {
  const look = lookedAt(picture);
  // noise that hides the flat areas is smoothed further; a clean chart is found at once
  for (let pass = 0; pass < 3; pass++) {
    look.rgb = smoothed(look);
    const grid = gridIn(look);
    if (grid) return { ...grid, empty: emptyPlaces(picture, grid) };
  }
  return null;
}

function gridIn({ width, height, rgb, scale }: Look): ChartGrid | null {
  const areas = flatAreas(rgb, width, height);
  if (areas.length < 2) return null;
  let angle = turnOf(areas, width, height);
  let found = laidOut(areas, angle);
  // the middles of the chips tell the turn far better than their edges do
  for (let round = 0; round < 2 && found; round++) {
    angle += turnLeft(found);
    found = laidOut(areas, angle) ?? found;
  }
  if (!found || Math.abs(angle) > (1.5 * MAX_TURN_DEGREES * Math.PI) / 180) return null;
  const { boxes, alike, chip, across, down } = found;
  // areas of two or three chips that look like one also tell how far the grid goes
  for (const box of boxes) {
    stretch(across, box.u, box.width, chip.width);
    stretch(down, box.v, box.height, chip.height);
  }
  const columns = across.last - across.first + 1;
  const rows = down.last - down.first + 1;
  if (columns > MAX_CHIPS_PER_SIDE || rows > MAX_CHIPS_PER_SIDE || rows * columns < 2) return null;
  // most places of a real chart are taken
  const taken = new Set(alike.map((b) => `${across.indexOf(b.u)},${down.indexOf(b.v)}`));
  if (taken.size < 0.35 * rows * columns) return null;
  // a few even patches of a photograph make no chart
  if (alike.reduce((sum, b) => sum + b.area, 0) < MIN_COVERAGE * width * height) return null;

  // chips that touch share an edge; the soft band between them belongs half to each
  const gap = (pitch: number, size: number) => (pitch - size < Math.max(4, 0.04 * pitch) ? 0 : pitch - size);
  const gapX = columns > 1 ? gap(across.pitch, chip.width) : 0;
  const gapY = rows > 1 ? gap(down.pitch, chip.height) : 0;
  const left = across.start + across.first * across.pitch - (across.pitch - gapX) / 2;
  const top = down.start + down.first * down.pitch - (down.pitch - gapY) / 2;
  const right = left + columns * across.pitch - gapX;
  const bottom = top + rows * down.pitch - gapY;
  return {
    rows,
    columns,
    angle: (angle * 180) / Math.PI,
    left: (left + width / 2) / scale,
    top: (top + height / 2) / scale,
    right: (width / 2 - right) / scale,
    bottom: (height / 2 - bottom) / scale,
    gapX: gapX / scale,
    gapY: gapY / scale,
    empty: 0,
  };
}

/** How many places at the end of the last row show nothing but what lies below and beside them. */
function emptyPlaces(picture: Picture, grid: ChartGrid): number {
  if (grid.rows < 2) return 0;
  const wider = { ...grid, rows: grid.rows + 1, empty: 0 };
  const pitch = (picture.height - grid.top - grid.bottom + grid.gapY) / grid.rows;
  wider.bottom -= pitch;
  const chips = readChart(picture, wider);
  const lab = (column: number, row: number) => {
    const color = chips[row * grid.columns + column]?.color?.color;
    return color && toLab(color, screenOnly);
  };
  let empty = 0;
  for (let column = grid.columns - 1; column > 0; column--) {
    const [own, below] = [lab(column, grid.rows - 1), lab(column, grid.rows)];
    // a chip of the colour of the ground could be there, but nobody could see it
    if (!own || !below || deltaE00(own, below) > 1.5) break;
    empty++;
  }
  return empty;
}

interface Layout {
  boxes: Box[];
  alike: Box[];
  chip: { width: number; height: number };
  across: Lattice;
  down: Lattice;
}

/** The chips among the areas, and the lattice they lie on, at a turn. */
function laidOut(areas: Area[], angle: number): Layout | null {
  const boxes = areas
    .map((area) => boxOf(area, angle))
    .filter((box) => box.area >= FILLED * box.width * box.height);
  const alike = largestFamily(boxes);
  if (alike.length < 2) return null;
  const chip = { width: median(alike.map((b) => b.width)), height: median(alike.map((b) => b.height)) };
  const across = lattice(
    alike.map((b) => b.u),
    chip.width,
  );
  const down = lattice(
    alike.map((b) => b.v),
    chip.height,
  );
  return across && down && { boxes, alike, chip, across, down };
}

/** How far the rows and columns of the middles still lean, radians: the least squares over all pairs of one line. */
function turnLeft({ alike, across, down }: Layout): number {
  let over = 0;
  let lean = 0;
  const add = (
    line: (b: Box) => number,
    along: (b: Box) => number,
    off: (b: Box) => number,
    sign: number,
  ) => {
    const lines = new Map<number, Box[]>();
    for (const box of alike) lines.set(line(box), [...(lines.get(line(box)) ?? []), box]);
    for (const list of lines.values()) {
      const [ma, mo] = [along, off].map((f) => list.reduce((s, b) => s + f(b), 0) / list.length);
      for (const b of list) {
        over += (along(b) - ma) ** 2;
        lean += sign * (along(b) - ma) * (off(b) - mo);
      }
    }
  };
  const [u, v] = [(b: Box) => b.u, (b: Box) => b.v];
  add((b) => down.indexOf(b.v), u, v, 1);
  add((b) => across.indexOf(b.u), v, u, -1);
  return over > 0 ? Math.atan(lean / over) : 0;
}

/**
 * The chips of a grid, rows from the top, each with the median colour of its inner part; null where nothing is opaque.
 * The median is taken channel by channel as the mean of the middle fifth, so that noise of 8 bits is averaged and letters
 * and dust are not.
 */
export function readChart(picture: Picture, grid: ChartGrid): Chip[] {
  return chipsOf(picture, grid, placesOf(picture, grid));
}

/**
 * The same in even light: where a photograph's light falls unevenly on chart and page, each chip is brought to the light of the
 * brightest place by the page around it.
 *
 * @returns with the chips how bright the darkest place is against the brightest, 0–1; null where nothing was to be done
 */
export function readLitChart(picture: Picture, grid: ChartGrid): { chips: Chip[]; darkest: number | null } {
  const places = placesOf(picture, grid);
  const chips = chipsOf(picture, grid, places);
  const { left, top, gapX, gapY } = grid;
  const margin = Math.min(0.2 * Math.min(places.chipWidth, places.chipHeight), 0.5 * edgeOf(grid));
  const light = lightOn(
    picture,
    chips.map((c) => c.outline),
    placesBetween(
      grid,
      { left, top, width: places.chipWidth, height: places.chipHeight, gapX, gapY },
      places.place,
      margin,
    ),
  );
  if (!light) return { chips, darkest: null };
  return {
    darkest: light.darkest,
    chips: chips.map((chip) => {
      if (!chip.color) return chip;
      const [a, , c] = chip.outline as [Corner, Corner, Corner];
      const rgb = light.even(chip.color.rgb, [(a[0] + c[0]) / 2, (a[1] + c[1]) / 2]) as PaletteColor['rgb'];
      return { ...chip, color: { ...chip.color, rgb, color: colorOfPixel(rgb, picture.space) } };
    }),
  };
}

type Corner = [x: number, y: number];

/** What of the page is seen around the grid on all sides, px. */
const edgeOf = ({ left, top, right, bottom }: ChartGrid) => Math.max(0, Math.min(left, top, right, bottom));

interface Places {
  chipWidth: number;
  chipHeight: number;
  /** From the turned grid to the picture. */
  place(u: number, v: number): Corner;
}

function placesOf({ width, height }: Picture, grid: ChartGrid): Places {
  const [cos, sin] = [Math.cos((grid.angle * Math.PI) / 180), Math.sin((grid.angle * Math.PI) / 180)];
  return {
    chipWidth: (width - grid.left - grid.right - (grid.columns - 1) * grid.gapX) / grid.columns,
    chipHeight: (height - grid.top - grid.bottom - (grid.rows - 1) * grid.gapY) / grid.rows,
    place: (u, v) => [
      width / 2 + (u - width / 2) * cos - (v - height / 2) * sin,
      height / 2 + (u - width / 2) * sin + (v - height / 2) * cos,
    ],
  };
}

function chipsOf(picture: Picture, grid: ChartGrid, { chipWidth, chipHeight, place }: Places): Chip[] {
  const { width, height, data } = picture;
  const chips: Chip[] = [];
  for (let row = 0; row < grid.rows; row++)
    for (let column = 0; column < grid.columns; column++) {
      if (row === grid.rows - 1 && column >= grid.columns - grid.empty) break;
      const u = grid.left + column * (chipWidth + grid.gapX);
      const v = grid.top + row * (chipHeight + grid.gapY);
      const channels: number[][] = [[], [], []];
      let first = Number.POSITIVE_INFINITY;
      // at most some ten thousand samples a chip, evenly spread
      const step = Math.max(1, Math.sqrt((chipWidth * chipHeight * INNER * INNER) / 10_000));
      const [du, dv] = [(chipWidth * (1 - INNER)) / 2, (chipHeight * (1 - INNER)) / 2];
      const [nu, nv] = [chipWidth * INNER, chipHeight * INNER].map((n) => Math.max(1, Math.floor(n / step)));
      for (let j = 0; j < nv; j++)
        for (let i = 0; i < nu; i++) {
          const [x, y] = place(
            u + du + ((i + 0.5) * chipWidth * INNER) / nu,
            v + dv + ((j + 0.5) * chipHeight * INNER) / nv,
          ).map(Math.floor);
          if (x < 0 || y < 0 || x >= width || y >= height) continue;
          const at = 4 * (y * width + x);
          if (data[at + 3] < OPAQUE) continue;
          for (let c = 0; c < 3; c++) channels[c].push(data[at + c]);
          first = Math.min(first, y * width + x);
        }
      const outline = [
        place(u, v),
        place(u + chipWidth, v),
        place(u + chipWidth, v + chipHeight),
        place(u, v + chipHeight),
      ];
      const rgb = channels.map((values) => Math.round(middle(values))) as PaletteColor['rgb'];
      const color: PaletteColor | null =
        channels[0].length === 0
          ? null
          : {
              color: colorOfPixel(rgb, picture.space),
              rgb,
              share: (chipWidth * chipHeight) / (width * height),
              first,
            };
      chips.push({ row, column, outline, color });
    }
  return chips;
}

/** The mean of the middle fifth. */
function middle(values: number[]): number {
  if (values.length === 0) return 0;
  const sorted = values.sort((a, b) => a - b);
  const from = Math.floor(sorted.length * 0.4);
  const part = sorted.slice(from, Math.max(from + 1, Math.ceil(sorted.length * 0.6)));
  return part.reduce((sum, v) => sum + v, 0) / part.length;
}

function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[sorted.length >> 1] ?? 0;
}

interface Look {
  width: number;
  height: number;
  rgb: Float32Array;
  scale: number;
}

/** A smaller copy without alpha; transparency counts as a colour of its own. */
function lookedAt(picture: Picture): Look {
  const scale = Math.min(1, LOOK / Math.max(picture.width, picture.height));
  const width = Math.max(1, Math.round(picture.width * scale));
  const height = Math.max(1, Math.round(picture.height * scale));
  const small = new Float32Array(3 * width * height);
  const { data } = picture;
  for (let y = 0; y < height; y++) {
    const [y0, y1] = [y, y + 1].map((v) => Math.floor((v * picture.height) / height));
    for (let x = 0; x < width; x++) {
      const [x0, x1] = [x, x + 1].map((v) => Math.floor((v * picture.width) / width));
      const sum = [0, 0, 0];
      for (let py = y0; py < y1; py++)
        for (let px = x0; px < x1; px++) {
          const at = 4 * (py * picture.width + px);
          const opaque = data[at + 3] >= OPAQUE;
          for (let c = 0; c < 3; c++) sum[c] += opaque ? data[at + c] : -300;
        }
      for (let c = 0; c < 3; c++) small[3 * (y * width + x) + c] = sum[c] / ((y1 - y0) * (x1 - x0));
    }
  }
  return { width, height, rgb: small, scale: width / picture.width };
}

/** Noise taken away and edges kept: the median of 3 × 3, channel by channel. */
function smoothed({ width, height, rgb }: Look): Float32Array {
  const out = new Float32Array(rgb.length);
  const nine = new Float32Array(9);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++) {
        let n = 0;
        for (let py = y - 1; py <= y + 1; py++)
          for (let px = x - 1; px <= x + 1; px++) {
            const row = py < 0 ? 0 : py >= height ? height - 1 : py;
            const column = px < 0 ? 0 : px >= width ? width - 1 : px;
            const value = rgb[3 * (row * width + column) + c];
            let at = n++;
            for (; at > 0 && nine[at - 1] > value; at--) nine[at] = nine[at - 1];
            nine[at] = value;
          }
        out[3 * (y * width + x) + c] = nine[4];
      }
  return out;
}

/** A connected area whose neighbours hardly differ: how many pixels, and the first and last of each of its rows. */
interface Area {
  size: number;
  /** Middles of those pixels, from the middle of the picture. */
  x: Float32Array;
  y: Float32Array;
}

function flatAreas(rgb: Float32Array, width: number, height: number): Area[] {
  const step = (a: number, b: number) =>
    Math.max(
      Math.abs(rgb[3 * a] - rgb[3 * b]),
      Math.abs(rgb[3 * a + 1] - rgb[3 * b + 1]),
      Math.abs(rgb[3 * a + 2] - rgb[3 * b + 2]),
    );
  const steps: number[] = [];
  for (let y = 1; y < height - 1; y += 2)
    for (let x = 1; x < width - 1; x += 2) steps.push(step(y * width + x, y * width + x + 1));
  steps.sort((a, b) => a - b);
  // flat areas differ by noise alone; a quarter of the picture at least is flat
  const limit = Math.min(30, Math.max(5, 5 * (steps[steps.length >> 2] ?? 0)));

  // a pixel on a slope belongs to no area, so that a soft edge does not lead from one to the next
  const flat = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const right = x + 1 < width ? step(at, at + 1) : 0;
      const below = y + 1 < height ? step(at, at + width) : 0;
      if (right < limit && below < limit) flat[at] = 1;
    }
  const seen = new Uint8Array(width * height);
  const stack = new Int32Array(width * height);
  const smallest = Math.max(16, width * height * 1e-4);
  const areas: Area[] = [];
  for (let start = 0; start < flat.length; start++) {
    if (!flat[start] || seen[start]) continue;
    let depth = 0;
    let n = 0;
    const found: number[] = [];
    stack[depth++] = start;
    seen[start] = 1;
    while (depth > 0) {
      const at = stack[--depth];
      found[n++] = at;
      const x = at % width;
      const visit = (next: number) => {
        if (flat[next] && !seen[next] && step(at, next) < limit) {
          seen[next] = 1;
          stack[depth++] = next;
        }
      };
      if (x > 0) visit(at - 1);
      if (x + 1 < width) visit(at + 1);
      if (at >= width) visit(at - width);
      if (at + width < flat.length) visit(at + width);
    }
    if (n >= smallest) areas.push(outlineOf(found, width, height));
  }
  return areas;
}

function outlineOf(places: number[], width: number, height: number): Area {
  const from = new Map<number, number>();
  const to = new Map<number, number>();
  for (const at of places) {
    const y = Math.floor(at / width);
    from.set(y, Math.min(from.get(y) ?? at, at));
    to.set(y, Math.max(to.get(y) ?? at, at));
  }
  const ends = [...from.values(), ...to.values()];
  return {
    size: places.length,
    x: Float32Array.from(ends, (at) => (at % width) + 0.5 - width / 2),
    y: Float32Array.from(ends, (at) => Math.floor(at / width) + 0.5 - height / 2),
  };
}

interface Box {
  /** The middle, from the middle of the picture along the turned axes. */
  u: number;
  v: number;
  width: number;
  height: number;
  area: number;
}

function boxOf({ size, x, y }: Area, angle: number): Box {
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  let [u0, v0, u1, v1] = [1e9, 1e9, -1e9, -1e9];
  for (let i = 0; i < x.length; i++) {
    const u = x[i] * cos + y[i] * sin;
    const v = y[i] * cos - x[i] * sin;
    if (u < u0) u0 = u;
    if (u > u1) u1 = u;
    if (v < v0) v0 = v;
    if (v > v1) v1 = v;
  }
  // a pixel is one wide; an area loses the pixels on its right and lower slope, half a pixel's shift
  return {
    u: (u0 + u1) / 2 + 0.5,
    v: (v0 + v1) / 2 + 0.5,
    width: u1 - u0 + 1,
    height: v1 - v0 + 1,
    area: size,
  };
}

/** The turn at which the boxes of the areas are smallest together, radians; a first guess. */
function turnOf(areas: Area[], width: number, height: number): number {
  // areas that run round others say nothing about the turn
  const solid = areas.filter((area) => {
    const box = boxOf(area, 0);
    return box.area > 0.5 * box.width * box.height && box.area < 0.5 * width * height;
  });
  const total = (degrees: number) =>
    solid.reduce((sum, area) => {
      const box = boxOf(area, (degrees * Math.PI) / 180);
      return sum + box.width * box.height;
    }, 0);
  let best = 0;
  let least = total(0);
  for (let d = -MAX_TURN_DEGREES; d <= MAX_TURN_DEGREES; d += 0.5) {
    const sum = total(d);
    if (sum < least - 1e-9) {
      least = sum;
      best = d;
    }
  }
  return (best * Math.PI) / 180;
}

/** The boxes of one size that cover most together. */
function largestFamily(boxes: Box[]): Box[] {
  let best: Box[] = [];
  let covered = 0;
  for (const one of boxes) {
    const near = (a: number, b: number) => Math.abs(a - b) <= Math.max(2.5, 0.12 * b);
    const family = boxes.filter((b) => near(b.width, one.width) && near(b.height, one.height));
    const sum = family.reduce((n, b) => n + b.area, 0);
    if (family.length >= 2 && sum > covered) {
      covered = sum;
      best = family;
    }
  }
  return best;
}

interface Lattice {
  start: number;
  pitch: number;
  first: number;
  last: number;
  indexOf(place: number): number;
}

/** The even spacing on which the middles lie; null when they lie on none. */
function lattice(middles: number[], size: number): Lattice | null {
  const sorted = [...middles].sort((a, b) => a - b);
  const lines: number[][] = [];
  for (const m of sorted) {
    const last = lines[lines.length - 1];
    if (last && m - last[last.length - 1] < size / 2) last.push(m);
    else lines.push([m]);
  }
  const at = lines.map(median);
  let pitch = size;
  let start = at[0];
  if (at.length > 1) {
    const gaps = at.slice(1).map((v, i) => v - at[i]);
    // lines can be missing, so the usual gap is the smallest one that is not an accident
    const least = Math.min(...gaps);
    pitch = median(gaps.filter((g) => g < 1.4 * least));
    for (let round = 0; round < 3; round++) {
      const index = at.map((v) => Math.round((v - start) / pitch));
      const n = at.length;
      const mi = index.reduce((s, i) => s + i, 0) / n;
      const ma = at.reduce((s, v) => s + v, 0) / n;
      const over = index.reduce((s, i) => s + (i - mi) ** 2, 0);
      if (over === 0) break;
      pitch = index.reduce((s, i, k) => s + (i - mi) * (at[k] - ma), 0) / over;
      start = ma - pitch * mi;
    }
    if (pitch < 0.8 * size) return null;
    const off = at.filter((v) => Math.abs((v - start) / pitch - Math.round((v - start) / pitch)) > 0.2);
    if (off.length > 0.2 * at.length) return null;
  }
  const indexOf = (place: number) => Math.round((place - start) / pitch);
  return { start, pitch, first: indexOf(at[0]), last: indexOf(at[at.length - 1]), indexOf };
}

/** Lets a lattice reach over a box that is as wide as several chips and their gaps. */
function stretch(line: Lattice, middle: number, width: number, size: number): void {
  const n = Math.round((width - size) / line.pitch) + 1;
  if (n < 1 || n > 4 || Math.abs(width - size - (n - 1) * line.pitch) > 0.12 * size) return;
  const first = (middle - line.start) / line.pitch - (n - 1) / 2;
  if (Math.abs(first - Math.round(first)) > 0.12) return;
  line.first = Math.min(line.first, Math.round(first));
  line.last = Math.max(line.last, Math.round(first) + n - 1);
}

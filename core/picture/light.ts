import { OPAQUE, type Picture } from './histogram.ts';

// Light that falls unevenly on a photographed chart: what the page around its chips says of it.

/** A place in a picture, px. */
type Place = readonly [x: number, y: number];

/** A chip's corners, clockwise from the upper left. */
type Outline = readonly Place[];

export interface Light {
  /** How bright the darkest chip's place is against the brightest, 0–1. */
  darkest: number;
  /** What a colour of 8 bits at a place would be in the light of the brightest place. */
  even(rgb: readonly number[], place: Place): number[];
}

/** Light that differs by less than this part is even. */
const MIN_DIFFERENCE = 0.03;
/** A page as dark as this says nothing, linear 0–1. */
const MIN_PAGE = 0.04;
/** What is left over where the page is one surface, natural logarithm. */
const MAX_LEFT = 0.04;
/** So much of the shade on the page is found on the chips too, where it is light and not printed. */
const MIN_SLOPE = 0.5;
const MIN_SAMPLES = 16;
/** Samples between two chips. */
const PER_GAP = 5;

/** Of sRGB (IEC 61966-2-1): what is corrected are ratios, for which the curve of other spaces is near enough. */
const toLinear = Float64Array.from({ length: 256 }, (_, v) => {
  const x = v / 255;
  return x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4;
});
const fromLinear = (v: number) =>
  255 * Math.min(1, v <= 0.0031308 ? 12.92 * v : 1.055 * Math.max(0, v) ** (1 / 2.4) - 0.055);

/** The mean of the pixels around a place, linear; null outside, or where something is not opaque. */
function meanAt({ width, height, data }: Picture, [px, py]: Place, reach: number): number[] | null {
  const sum = [0, 0, 0];
  let n = 0;
  for (let y = Math.floor(py - reach); y <= py + reach; y++)
    for (let x = Math.floor(px - reach); x <= px + reach; x++) {
      if (x < 0 || y < 0 || x >= width || y >= height) return null;
      const at = 4 * (y * width + x);
      if (data[at + 3]! < OPAQUE) return null;
      for (let c = 0; c < 3; c++) sum[c]! += toLinear[data[at + c]!]!;
      n++;
    }
  return sum.map((s) => s / n);
}

/** The terms of a surface of the second degree. */
const terms = (x: number, y: number) => [1, x, y, x * x, x * y, y * y];

/** Least squares by Gauss; null where the places do not say enough. */
function solved(rows: number[][], values: number[]): number[] | null {
  const n = rows[0]!.length;
  const m = Array.from({ length: n }, () => new Float64Array(n + 1));
  rows.forEach((row, k) => {
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) m[i]![j]! += row[i]! * row[j]!;
      m[i]![n]! += row[i]! * values[k]!;
    }
  });
  for (let i = 0; i < n; i++) {
    let best = i;
    for (let k = i + 1; k < n; k++) if (Math.abs(m[k]![i]!) > Math.abs(m[best]![i]!)) best = k;
    [m[i], m[best]] = [m[best]!, m[i]!];
    if (Math.abs(m[i]![i]!) < 1e-9) return null;
    for (let k = 0; k < n; k++) {
      if (k === i) continue;
      const by = m[k]![i]! / m[i]![i]!;
      for (let j = i; j <= n; j++) m[k]![j]! -= by * m[i]![j]!;
    }
  }
  return m.map((row, i) => row[n]! / row[i]!);
}

/**
 * The light on a chart by the page around its chips: a smooth surface through what lies between them. Null where it is even, where
 * no page is visible, and where the chips do not have the shade of the page: then the shade was printed.
 *
 * @param chips the corners of each
 * @param between the places half way between neighbours and around the outermost, with how far each is from a chip, px
 */
export function lightOn(
  picture: Picture,
  chips: readonly Outline[],
  between: readonly { place: Place; reach: number }[],
): Light | null {
  const half = Math.max(picture.width, picture.height) / 2;
  const at = ([x, y]: Place) => terms((x - picture.width / 2) / half, (y - picture.height / 2) / half);
  let samples = between.flatMap(({ place, reach }) => {
    const mean = meanAt(picture, place, Math.min(6, Math.max(0, reach * 0.4)));
    return mean && Math.min(...mean) > MIN_PAGE ? [{ row: at(place), log: mean.map(Math.log) }] : [];
  });
  const first = samples.length;
  if (first < MIN_SAMPLES) return null;
  const fitted = () =>
    [0, 1, 2].map((c) =>
      solved(
        samples.map((s) => s.row),
        samples.map((s) => s.log[c]!),
      ),
    );
  const value = (surface: number[], row: number[]) => surface.reduce((sum, f, i) => sum + f * row[i]!, 0);
  let surfaces: number[][] = [];
  // letters and dust are on the page as well: what lies off the surface is left out, more strictly each time
  for (const limit of [Number.POSITIVE_INFINITY, 3, 2.5, 2.5]) {
    if (surfaces.length > 0) {
      const off = samples.map((s) => Math.abs(value(surfaces[1]!, s.row) - s.log[1]!));
      const usual = 1.4826 * ([...off].sort((a, b) => a - b)[off.length >> 1] ?? 0) + 1e-3;
      samples = samples.filter((_, i) => off[i]! <= limit * usual);
    }
    if (samples.length < MIN_SAMPLES || samples.length < first / 2) return null;
    const found = fitted();
    if (found.some((f) => f === null)) return null;
    surfaces = found as number[][];
  }
  const green = surfaces[1]!;
  const left = Math.sqrt(
    samples.reduce((sum, s) => sum + (value(green, s.row) - s.log[1]!) ** 2, 0) / samples.length,
  );
  if (left > MAX_LEFT) return null;
  const middles = chips.map(
    (o): Place => [
      o.reduce((sum, p) => sum + p[0], 0) / o.length,
      o.reduce((sum, p) => sum + p[1], 0) / o.length,
    ],
  );
  const onChips = middles.map((p) => value(green, at(p)));
  // the brightest place that was seen, and not one that a surface only leads to
  const rows = [...samples.map((s) => s.row), ...middles.map(at)];
  const brightest = rows.reduce((best, row) => (value(green, row) > value(green, best) ? row : best));
  const darkest = Math.exp(Math.min(...onChips) - value(green, brightest));
  if (1 - darkest < MIN_DIFFERENCE) return null;
  if (slopeOnChips(picture, chips, (p) => value(green, at(p))) < MIN_SLOPE) return null;
  return {
    darkest,
    even(rgb, place) {
      const row = at(place);
      return rgb.map((v, c) =>
        Math.round(
          fromLinear(toLinear[v]! * Math.exp(value(surfaces[c]!, brightest) - value(surfaces[c]!, row))),
        ),
      );
    },
  };
}

/** How much of the shade that the page leads one to expect is found within the chips: 1 in uneven light, 0 where it is printed. */
function slopeOnChips(
  picture: Picture,
  chips: readonly Outline[],
  expected: (place: Place) => number,
): number {
  let [both, own] = [0, 0];
  for (const [a, b, c, d] of chips as [Place, Place, Place, Place][]) {
    const inside = (s: number, t: number): Place => [
      (a[0] * (1 - s) + b[0] * s) * (1 - t) + (d[0] * (1 - s) + c[0] * s) * t,
      (a[1] * (1 - s) + b[1] * s) * (1 - t) + (d[1] * (1 - s) + c[1] * s) * t,
    ];
    const reach = Math.min(Math.hypot(b[0] - a[0], b[1] - a[1]), Math.hypot(d[0] - a[0], d[1] - a[1])) * 0.12;
    for (const [from, to] of [
      [inside(0.22, 0.5), inside(0.78, 0.5)],
      [inside(0.5, 0.22), inside(0.5, 0.78)],
    ] as const) {
      const [p, q] = [meanAt(picture, from, reach), meanAt(picture, to, reach)];
      if (!p || !q || Math.min(p[1]!, q[1]!) < MIN_PAGE / 2) continue;
      const shade = expected(to) - expected(from);
      both += shade * (Math.log(q[1]!) - Math.log(p[1]!));
      own += shade * shade;
    }
  }
  return own > 0 ? both / own : 0;
}

/** Places half way between the chips of a grid and around it, for {@link lightOn}; none where chips touch and go to the edge. */
export function placesBetween(
  { columns, rows }: { columns: number; rows: number },
  box: { left: number; top: number; width: number; height: number; gapX: number; gapY: number },
  place: (u: number, v: number) => Place,
  margin: number,
): { place: Place; reach: number }[] {
  const { left, top, width, height, gapX, gapY } = box;
  const places: { place: Place; reach: number }[] = [];
  const edge = (gap: number) => (gap >= 2 ? gap / 2 : margin);
  for (let column = 0; column <= columns; column++) {
    const reach = column === 0 || column === columns ? edge(gapX) : gapX / 2;
    if (reach < 1) continue;
    const u =
      column === columns
        ? left + columns * (width + gapX) - gapX + reach
        : left + column * (width + gapX) - reach;
    for (let row = 0; row < rows; row++)
      for (let k = 0; k < PER_GAP; k++)
        places.push({ place: place(u, top + row * (height + gapY) + ((k + 0.5) * height) / PER_GAP), reach });
  }
  for (let row = 0; row <= rows; row++) {
    const reach = row === 0 || row === rows ? edge(gapY) : gapY / 2;
    if (reach < 1) continue;
    const v =
      row === rows ? top + rows * (height + gapY) - gapY + reach : top + row * (height + gapY) - reach;
    for (let column = 0; column < columns; column++)
      for (let k = 0; k < PER_GAP; k++)
        places.push({
          place: place(left + column * (width + gapX) + ((k + 0.5) * width) / PER_GAP, v),
          reach,
        });
  }
  return places;
}

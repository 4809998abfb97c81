/** Shapes of a sample drawing, each of one member: an outline in a box of 160 by 92. */
export interface Shape {
  member: number;
  path: string;
}

export const WIDTH = 160;
export const HEIGHT = 92;

const n = (v: number) => v.toFixed(2);
const rect = (x: number, y: number, w: number, h: number) => `M${n(x)} ${n(y)}h${n(w)}v${n(h)}h${n(-w)}z`;

/** Where each member begins and ends when they are stacked over a length. */
function stacked(areas: readonly number[], length: number): [from: number, to: number][] {
  let at = 0;
  return areas.map((a) => {
    const from = at;
    at += a * length;
    return [from, at];
  });
}

/**
 * A poster: land and water in bands, with hills and waves that take above what they give below, and a sun for the last. Every
 * member has as much of it as its area says.
 */
export function poster(areas: readonly number[]): Shape[] {
  const last = areas.length - 1;
  const sun = last > 1 && areas[last]! < 0.14 ? last : -1;
  const bands = areas.map((a, i) => (i === sun ? 0 : i === 0 && sun > 0 ? a + areas[sun]! : a));
  const edges = stacked(bands, HEIGHT);
  const shapes: Shape[] = [];
  edges.forEach(([from], i) => {
    if (i === sun) return;
    const top =
      i === 0 ? rect(0, 0, WIDTH, HEIGHT) : below(from, i, Math.min(bands[i - 1]!, bands[i]!) * HEIGHT);
    shapes.push({ member: i, path: top });
  });
  if (sun > 0) {
    const r = Math.sqrt((areas[sun]! * WIDTH * HEIGHT) / Math.PI);
    const cy = Math.max(r + 3, edges[0]![1] * 0.4);
    shapes.push({
      member: sun,
      path: `M${n(122 - r)} ${n(cy)}a${n(r)} ${n(r)} 0 1 0 ${n(2 * r)} 0a${n(r)} ${n(r)} 0 1 0 ${n(-2 * r)} 0z`,
    });
  }
  return shapes;
}

/** Everything under an edge that swings about a height: as much above it as below. */
function below(y: number, i: number, room: number): string {
  const swing = Math.min(14, room * 0.8);
  if (i % 2 === 1) {
    // hills: straight slopes, symmetrical about the height
    const points = [0, 40, 80, 120, 160].map((x, k) => `${n(x)} ${n(y + (k % 2 ? -swing : swing))}`);
    return `M${points.join('L')}V${HEIGHT}H0z`;
  }
  // waves
  const s = n(swing * 0.6);
  return `M0 ${n(y)}q20 -${s} 40 0t40 0t40 0t40 0V${HEIGHT}H0z`;
}

/** An interface: a bar over the top, a page, and on it panels, fields and a button, each as large as its area says. */
export function interfaceSample(areas: readonly number[]): Shape[] {
  const whole = WIDTH * HEIGHT;
  // the largest is the page, behind all others
  const page = areas.indexOf(Math.max(...areas));
  const others = areas.map((a, member) => ({ a, member })).filter((o) => o.member !== page);
  const shapes: Shape[] = [{ member: page, path: rect(0, 0, WIDTH, HEIGHT) }];
  let top = 0;
  const [bar, side, ...rest] = others;
  if (bar) {
    top = (bar.a * whole) / WIDTH;
    shapes.push({ member: bar.member, path: rect(0, 0, WIDTH, top) });
  }
  let left = 0;
  if (side) {
    left = (side.a * whole) / (HEIGHT - top);
    shapes.push({ member: side.member, path: rect(0, top, left, HEIGHT - top) });
  }
  // what is left stands on the page in a column, each as wide as the room allows
  const margin = Math.max(2, (WIDTH - left) * 0.08);
  const room = { w: WIDTH - left - 2 * margin, h: HEIGHT - top - 2 * margin };
  const sum = rest.reduce((s, r) => s + r.a, 0) * whole;
  const width = Math.min(room.w, Math.max(room.w * 0.5, sum / Math.max(1, room.h * 0.82)));
  const gap = rest.length > 1 ? Math.max(0, (room.h - sum / width) / (rest.length - 1)) : 0;
  let y = top + margin;
  for (const { a, member } of rest) {
    const h = (a * whole) / width;
    shapes.push({ member, path: rect(left + margin, y, width, h) });
    y += h + Math.min(gap, 8);
  }
  return shapes;
}

/** The side of a cloth's weave. */
const THREAD = 2;

/** A cloth: the same stripes in warp and weft, which pass over and under each other, so that both show half of theirs. */
export function cloth(areas: readonly number[]): Shape[] {
  // wide, narrow and wide again: the order of a plaid
  const repeat = 80;
  const order = [...areas.keys()];
  const paths = new Map<number, string>();
  const add = (member: number, path: string) => paths.set(member, (paths.get(member) ?? '') + path);
  const at = (length: number) => {
    const spans = stacked(
      order.map((m) => areas[m]!),
      repeat,
    );
    const found: number[] = [];
    for (let i = 0; i < length; i += THREAD) {
      const middle = (i + THREAD / 2) % repeat;
      found.push(
        Math.max(
          0,
          spans.findIndex(([from, to]) => middle >= from && middle < to),
        ),
      );
    }
    return found;
  };
  const warp = at(WIDTH);
  const weft = at(HEIGHT);
  weft.forEach((across, j) => {
    warp.forEach((down, i) => {
      add((i + j) % 2 ? order[down]! : order[across]!, rect(i * THREAD, j * THREAD, THREAD, THREAD));
    });
  });
  return [...paths].map(([member, path]) => ({ member, path }));
}

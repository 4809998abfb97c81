import { type Color, type Condition, INTERPOLATIONS } from '../../color/index.ts';
import { plainStops } from '../../gradient/index.ts';
import {
  type Gradient,
  gradientsOf,
  gradientThrough,
  MAX_STOPS,
  resolvedStops,
  type Stop,
} from '../../swatch/gradient.ts';
import { allSwatches, type Library } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { beginningWith, linesOf, oneLine, plural, writeText } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { MARK } from '../gpl/gpl.ts';

const MAGIC = `${MARK} Gradient`;
/** How a segment's colors follow each other; the places in the list are the numbers in the file. */
const CURVES: ((t: number, middle: number) => number)[] = [
  linear,
  (t, m) => t ** (Math.log(0.5) / Math.log(Math.min(0.999, Math.max(0.001, m)))),
  (t, m) => (Math.sin(-Math.PI / 2 + Math.PI * linear(t, m)) + 1) / 2,
  (t, m) => Math.sqrt(1 - (linear(t, m) - 1) ** 2),
  (t, m) => 1 - Math.sqrt(1 - linear(t, m) ** 2),
  (t, m) => (t >= m ? 1 : 0),
];
/** Curves and hues are laid in this many straight pieces. */
const PIECES = 16;

function linear(t: number, m: number): number {
  if (t <= m) return m < 1e-9 ? 0 : (0.5 * t) / m;
  return m > 1 - 1e-9 ? 1 : 0.5 + (0.5 * (t - m)) / (1 - m);
}

/** The gradient a library is written as: the first that leads through one of its swatches, else one through them all. */
export function gradientOf(library: Library): Gradient {
  const swatches = allSwatches(library);
  const here = new Set(swatches.map((s) => s.id));
  const own = gradientsOf(library).find((g) => g.refs.length === 0 || g.refs.some((id) => here.has(id)));
  return own ?? gradientThrough('gradient', library.name, swatches.slice(0, MAX_STOPS), 'oklab');
}

/** The gradient a library is written as, with its name and its stops in plain sRGB. */
export function writtenGradient(library: Library, condition: Condition) {
  const gradient = gradientOf(library);
  const byId = new Map(allSwatches(library).map((s) => [s.id, s]));
  const stops = plainStops(
    gradient.data,
    resolvedStops(gradient, (id) => byId.get(id)),
    condition,
  );
  return { name: gradient.name, stops };
}

export const ggr: PlainFormat = {
  id: 'ggr',
  name: 'GGR',
  about: 'Gradient of painting programs, one to a file: stops with opacity and midpoints, mixed in RGB.',
  endings: ['ggr'],
  mime: 'text/plain',
  traits: {
    read: true,
    write: true,
    names: false,
    groups: false,
    gradientsOnly: true,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 16,
  },

  recognise: beginningWith(MAGIC),

  decode: textDecoder((text, draft) => {
    const lines = [...linesOf(text)];
    if (lines[0]?.trim() !== MAGIC) throw new FormatError(`its first line is not “${MAGIC}”.`);
    let at = 1;
    const name = /^Name:[ \t]?(.*)$/.exec(lines[at] ?? '');
    if (name) at++;
    draft.name = name?.[1] ?? '';
    const wanted = Number(lines[at]?.trim());
    if (!Number.isInteger(wanted) || wanted < 1 || wanted > 10_000)
      throw new FormatError(
        `line ${at + 1} (“${(lines[at] ?? '').trim().slice(0, 40)}”) should say how many segments there are.`,
      );
    const stops: Omit<Stop, 'ref'>[] = [];
    let odd = 0;
    for (let k = 1; k <= wanted; k++) {
      draft.step(PIECES);
      const line = lines[at + k] ?? '';
      const v = line.trim().split(/\s+/).map(Number);
      if (v.length < 11 || v.slice(0, 13).some((x) => !Number.isFinite(x)) || v[0]! > v[2]!)
        throw new FormatError(
          `line ${at + k + 1} (“${line.trim().slice(0, 40)}”) is not a segment: three places and eight colour numbers should stand there. Correct the line or delete it.`,
        );
      const [left, middle, right] = v.slice(0, 3) as [number, number, number];
      const [from, to] = [v.slice(3, 7), v.slice(7, 11)];
      const [curve = 0, model = 0, own = 0, other = 0] = v.slice(11);
      // colors that come from what is chosen in the program are not colors of the file
      if (own !== 0 || other !== 0) odd++;
      const room = right - left;
      const half = room > 0 ? Math.min(1, Math.max(0, (middle - left) / room)) : 0.5;
      const stop = (place: number, c: number[], more = {}): Omit<Stop, 'ref'> => ({
        at: Math.min(1, Math.max(0, place)),
        color: { space: 'rgb', components: c.slice(0, 3) },
        ...(c[3]! < 1 ? { alpha: Math.max(0, c[3]!) } : {}),
        ...more,
      });
      const before = stops.at(-1);
      const joined =
        before &&
        Math.abs(before.at - left) < 1e-6 &&
        before.color.components.every((x, i) => Math.abs(x - from[i]!) < 1e-6) &&
        Math.abs((before.alpha ?? 1) - from[3]!) < 1e-6;
      if (joined) stops.pop();
      if (curve === 0 && model === 0) {
        stops.push(stop(left, from, Math.abs(half - 0.5) < 1e-6 ? {} : { middle: half }), stop(right, to));
        continue;
      }
      const shape = CURVES[curve] ?? CURVES[0]!;
      for (let i = 0; i <= PIECES; i++) {
        const t = shape(i / PIECES, half);
        stops.push(stop(left + (room * i) / PIECES, mixed(from, to, t, model)));
      }
    }
    const distinct = new Map<string, Omit<Stop, 'ref'>>();
    for (const s of stops) distinct.set(JSON.stringify([s.color.components, s.alpha]), s);
    // what was laid in pieces has more colors than anybody wants as swatches
    if (distinct.size <= 64)
      for (const s of distinct.values())
        draft.add({ color: s.color as Color, ...(s.alpha === undefined ? {} : { alpha: s.alpha }) });
    draft.addGradient({ name: draft.name, way: INTERPOLATIONS[5], stops });
    if (odd > 0)
      draft.warn(
        `${plural(odd, 'segment takes', 'segments take')} colours of the program it was made in; those it was saved with were read.`,
      );
  }),

  encode(library, { condition }) {
    const { name, stops } = writtenGradient(library, condition);
    const segments: string[] = [];
    const f = (v: number) => v.toFixed(6);
    stops.slice(1).forEach((to, i) => {
      const from = stops[i]!;
      if (to.at - from.at < 1e-7) return;
      // the first begins at 0 and the last ends at 1, whatever the gradient does
      const left = segments.length === 0 ? 0 : from.at;
      const right = i === stops.length - 2 ? 1 : to.at;
      segments.push(
        [left, (left + right) / 2, right, ...from.rgb, from.alpha, ...to.rgb, to.alpha]
          .map(f)
          .join(' ')
          .concat(' 0 0 0 0'),
      );
    });
    const [only] = stops;
    if (segments.length === 0) {
      const c = only ? [...only.rgb, only.alpha] : [0, 0, 0, 1];
      segments.push([0, 0.5, 1, ...c, ...c].map(f).join(' ').concat(' 0 0 0 0'));
    }
    return writeText(`${MAGIC}\nName: ${oneLine(name)}\n${segments.length}\n${segments.join('\n')}\n`);
  },
};

/** Two colors of a segment, by numbers or around the hues of HSV one way or the other. */
function mixed(from: number[], to: number[], t: number, model: number): number[] {
  if (model === 0) return from.map((v, i) => v + (to[i]! - v) * t);
  const [a, b] = [hsv(from), hsv(to)];
  let turn = b[0]! - a[0]!;
  if (model === 1 && turn < 0) turn += 1;
  if (model === 2 && turn > 0) turn -= 1;
  const [h, s, v] = [a[0]! + turn * t, a[1]! + (b[1]! - a[1]!) * t, a[2]! + (b[2]! - a[2]!) * t];
  const channel = (n: number) => {
    const k = (((n + h * 6) % 6) + 6) % 6;
    return v - v * s * Math.max(0, Math.min(k, 4 - k, 1));
  };
  return [channel(5), channel(3), channel(1), from[3]! + (to[3]! - from[3]!) * t];
}

function hsv([r, g, b]: number[]): number[] {
  const most = Math.max(r!, g!, b!);
  const d = most - Math.min(r!, g!, b!);
  const h = d === 0 ? 0 : most === r ? (g! - b!) / d : most === g ? (b! - r!) / d + 2 : (r! - g!) / d + 4;
  return [(((h / 6) % 1) + 1) % 1, most === 0 ? 0 : d / most, most];
}

import {
  type Color,
  type Condition,
  deltaE00,
  type Lab,
  NearIndex,
  screenOnly,
  toHex,
  toLab,
} from '../color/index.ts';
import {
  type ArtworkData,
  type ArtworkItem,
  type Colorway,
  type Link,
  MAX_KNOWN_COLORS,
  type Wish,
} from '../swatch/colorway.ts';
import type { Swatch } from '../swatch/model.ts';
import type { Assignment } from './assign.ts';
import { type Artwork, type ArtworkColor, colorsOf, type PaintedColor, type Part } from './parts.ts';
import type { FlatPicture } from './pixels.ts';
import type { ArtworkSize } from './size.ts';

/** A part as it is known where the drawing itself is not. */
export interface PartFacts {
  key: string;
  name: string;
  layer: string;
  role: Part['role'];
  /** Of all that is painted, 0–1. */
  share: number;
  /** Its number in the drawing; of a stop also that of the first of its gradient. */
  id: number;
  gradient?: number;
  /** Of a part of a PDF: the first page it is on. */
  page?: number;
}

/** A colour of an artwork as it is known where the drawing itself is not. */
export interface ColorFacts {
  hex: string;
  color: Color;
  /** Of all that is painted, 0–1. */
  share: number;
  /** What its parts are called, each once. */
  names: string[];
  /** Of a PDF: the ink it is, or a tint of, %. */
  ink?: NonNullable<PaintedColor['ink']>;
  /** Of a PDF: how its largest part is written there, in words. */
  written?: string;
  parts: PartFacts[];
}

/** What an artwork holds, the largest colour first. */
export interface ArtworkFacts {
  form: ArtworkData['form'];
  /** Of pages that of the first. */
  size: ArtworkSize;
  /** Of a PDF, each. */
  pages?: ArtworkSize[];
  /** Which of them is looked at; the first by default. */
  page?: number;
  colors: ColorFacts[];
  parts: number;
}

export function factsOf(artwork: Artwork): ArtworkFacts {
  const whole = artwork.parts.reduce((sum, p) => sum + p.area, 0) || 1;
  return {
    form: 'drawing',
    size: artwork.size,
    parts: artwork.parts.length,
    colors: colorsOf(artwork).map(({ parts, ...color }) => ({
      ...color,
      parts: parts.map(({ id, key, name, layer, role, area, gradient }) => ({
        ...{ id, key, name, layer, role },
        share: area / whole,
        ...(gradient === undefined ? {} : { gradient }),
      })),
    })),
  };
}

/** The facts of a flat picture: a colour is one part. */
export function pictureFacts({ width, height, colors }: FlatPicture): ArtworkFacts {
  return {
    form: 'picture',
    size: { width, height, unit: 'px', view: [0, 0, width, height] },
    parts: colors.length,
    colors: [...colors]
      .sort((a, b) => b.share - a.share)
      .map(({ hex, color, share, names, parts }) => ({
        ...{ hex, color, share, names },
        parts: parts.map(({ id }) => ({ id, key: hex, name: '', layer: '', role: 'fill', share })),
      })),
  };
}

/** What a library knows of a piece of artwork without its bytes. @param asset their SHA-256 */
export const knownOf = ({ form, size, colors, parts }: ArtworkFacts, asset: string): ArtworkData => ({
  ...{ asset, form, parts },
  ...{ width: size.width, height: size.height, unit: size.unit },
  count: colors.length,
  colors: colors.slice(0, MAX_KNOWN_COLORS).map(({ hex, names, parts }) => ({
    hex,
    name: (names[0] ?? '').slice(0, 200),
    parts: parts.length,
    fills: parts.filter((p) => p.role !== 'stroke').length,
  })),
});

/** A colour of the artwork, or a part that goes its own way, with what it is in a colourway. */
export interface Row {
  /** `#rrggbb` of the artwork, or the key of a part. */
  key: string;
  /** The colour it is of. */
  from: ColorFacts;
  parts: readonly PartFacts[];
  names: string[];
  share: number;
  /** `drawn`: as it is; `gone`: of a swatch that is not there any more, whose color it keeps. */
  state: 'drawn' | 'swatch' | 'own' | 'follows' | 'gone';
  /** `#rrggbb`, as a screen shows it now. */
  to: string;
  color: Color;
  swatch?: Swatch;
  /** What its swatch was called, where that is gone. */
  was?: string;
  /** The key of what it follows, and what that is called. */
  follows?: string;
  followsName?: string;
  lighter?: number;
  /** It is a line along its shape, with a width in mm. */
  line?: number;
  deltaE00: number;
}

const shifted = (color: Color, by: number, condition: Condition): Color => {
  const [L, a, b] = toLab(color, condition);
  return { space: 'lab', components: [Math.min(100, Math.max(0, L + by)), a, b] };
};

/** What every colour of an artwork is in a colourway; as it is drawn where there is none. */
export function rowsIn(
  colors: readonly ColorFacts[],
  colorway: Pick<Colorway, 'refs' | 'data'> | null,
  swatchOf: (id: string) => Swatch | undefined,
  condition: Condition,
): Row[] {
  const links = colorway?.data.links ?? {};
  const rows: Row[] = [];
  const byKey = new Map<string, Row>();
  const put = (key: string, from: ColorFacts, parts: readonly PartFacts[]) => {
    const names = parts === from.parts ? from.names : [...new Set(parts.flatMap((p) => p.name || []))];
    const share = parts === from.parts ? from.share : parts.reduce((sum, p) => sum + p.share, 0);
    const row: Row = {
      ...{ key, from, parts, names, share },
      ...{ state: 'drawn', to: from.hex, color: from.color, deltaE00: 0 },
    };
    rows.push(row);
    byKey.set(key, row);
  };
  for (const from of colors) {
    const apart = from.parts.filter((p) => p.key !== from.hex && p.key in links);
    const rest = apart.length > 0 ? from.parts.filter((p) => !apart.includes(p)) : from.parts;
    if (rest.length > 0) put(from.hex, from, rest);
    for (const part of apart) put(part.key, from, [part]);
  }
  const settled = new Set<Row>();
  const settle = (row: Row, on: ReadonlySet<string> = new Set()) => {
    if (settled.has(row)) return;
    settled.add(row);
    const link: Link | undefined = links[row.key];
    if (!link) return;
    if (link.line) row.line = link.line;
    const lead = link.follows === undefined ? undefined : byKey.get(link.follows);
    if (lead && lead !== row && !on.has(lead.key)) {
      settle(lead, new Set([...on, row.key]));
      row.state = 'follows';
      row.follows = lead.key;
      row.followsName = lead.names[0] || lead.from.hex.toUpperCase();
      if (link.lighter) row.lighter = link.lighter;
      row.color = link.lighter ? shifted(lead.color, link.lighter, condition) : lead.color;
      // a shade of an ink is not that ink
      if (!link.lighter && lead.swatch) row.swatch = lead.swatch;
    } else if (link.ref !== undefined) {
      const swatch = swatchOf(colorway!.refs[link.ref] ?? '');
      row.color = swatch?.color ?? link.color;
      row.state = swatch ? 'swatch' : 'gone';
      if (swatch) row.swatch = swatch;
      else row.was = link.name ?? '';
    } else {
      row.state = link.name !== undefined ? 'gone' : 'own';
      if (link.name !== undefined) row.was = link.name;
      row.color = link.color;
    }
    // what follows a colour that stays as it was drawn has just that code
    row.to = lead?.state === 'drawn' && !link.lighter ? lead.from.hex : toHex(row.color, condition);
    row.deltaE00 = deltaE00(toLab(row.from.color, condition), toLab(row.color, condition));
  };
  for (const row of rows) settle(row);
  return rows;
}

/** Whether a colour that followed another would follow itself in the end. */
export function wouldTurn(colorway: Pick<Colorway, 'data'>, key: string, lead: string): boolean {
  const seen = new Set<string>();
  for (
    let at: string | undefined = lead;
    at !== undefined && !seen.has(at);
    at = colorway.data.links[at]?.follows
  ) {
    if (at === key) return true;
    seen.add(at);
  }
  return false;
}

/** What some parts become, said so that it can be sent to where the drawing is. */
export interface Order {
  /** The colour they have. */
  from: string;
  /** Keys of parts; null for all of that colour that no other order names. */
  parts: string[] | null;
  to: string;
  color: Color;
  swatch?: Swatch;
  line?: number;
  deltaE00: number;
}

export const ordersOf = (rows: readonly Row[]): Order[] =>
  rows.map(({ key, from, parts, to, color, swatch, line, deltaE00 }) => ({
    from: from.hex,
    parts: key === from.hex ? null : parts.map((p) => p.key),
    ...{ to, color, deltaE00 },
    ...(swatch ? { swatch } : {}),
    ...(line ? { line } : {}),
  }));

/** A list in groups, in the order of their first members. */
export function grouped<T>(list: readonly T[], keyOf: (one: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const one of list) {
    const key = keyOf(one);
    const known = groups.get(key);
    if (known) known.push(one);
    else groups.set(key, [one]);
  }
  return groups;
}

/** A part as orders name it. */
interface Named {
  id: number;
  key: string;
}
/** The parts of a work by their keys, and its colours by their codes. */
interface Lookup {
  byKey: Map<string, Named>;
  byHex: Map<string, Named[]>;
}
const looked = new WeakMap<readonly Named[], Lookup>();

/** The parts that each of some orders is about. @param hexOf the colour a part has, as orders name it */
export function partsOf<P extends Named>(
  parts: readonly P[],
  hexOf: (part: P) => string,
  orders: readonly Pick<Order, 'from' | 'parts'>[],
): P[][] {
  let known = looked.get(parts);
  if (!known) {
    known = { byKey: new Map(parts.map((p) => [p.key, p])), byHex: grouped(parts, hexOf) };
    looked.set(parts, known);
  }
  const { byKey, byHex } = known as { byKey: Map<string, P>; byHex: Map<string, P[]> };
  const named = new Set(orders.flatMap((o) => o.parts ?? []));
  return orders.map(({ from, parts: keys }) => {
    if (keys) return keys.flatMap((key) => byKey.get(key) ?? []);
    const all = byHex.get(from) ?? [];
    return named.size === 0 ? all : all.filter((p) => !named.has(p.key));
  });
}

/** Orders for a drawing as what becomes of its parts. */
export function assignmentsOf(
  artwork: Artwork,
  orders: readonly Order[],
): (Assignment<ArtworkColor> & { line?: number })[] {
  const found = partsOf(artwork.parts, (p) => toHex(p.color, screenOnly), orders);
  return orders.map(({ from, parts: _, line, ...order }, i) => {
    const own = found[i]!;
    const color = own[0]?.color ?? order.color;
    return {
      ...order,
      ...(line ? { line } : {}),
      from: { hex: from, color, parts: own, share: 0, names: [] },
    };
  });
}

/** The lines around shapes that an artwork has, each with what it is painted with just now. */
export function linesAround(
  { refs, data }: Pick<ArtworkItem, 'refs' | 'data'>,
  swatchOf: (id: string) => Swatch | undefined,
  condition: Condition,
) {
  return (data.outlines ?? []).map(({ of, offset, width, ref, color }) => {
    const swatch = swatchOf(refs[ref] ?? '');
    const own = swatch?.color ?? color;
    return {
      ...{ of, offset, width, color: own, to: toHex(own, condition) },
      ...(swatch ? { swatch } : {}),
    };
  });
}

// --- colourways at one stroke

export const WAYS = ['role', 'lightness', 'area', 'nearest', 'random'] as const;
export type Way = (typeof WAYS)[number];

const folded = (text: string) => text.normalize('NFC').trim().toLocaleLowerCase('en');
const wordsIn = (text: string) =>
  new Set(
    folded(text)
      .split(/[^\p{L}\p{N}]+/u)
      .filter((w) => w.length > 2),
  );

/** Numbers 0–1 that are the same for the same seed (mulberry32, a common small generator; from memory). */
function numbersFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** The places of the nearest of some colours, for each of others, with ΔE00; −1 where there are none. */
function nearestOf(of: readonly Lab[], among: readonly Lab[]): { place: number; deltaE00: number }[] {
  const index = new NearIndex(among);
  return of.map((lab) => {
    const near = index.closest(lab);
    return { place: near?.place ?? -1, deltaE00: near?.difference ?? Number.POSITIVE_INFINITY };
  });
}

/**
 * Gives every colour of an artwork a swatch.
 *
 * `role`: the swatch whose role, else name, the parts are called by; others stay as they are. `lightness`: by rank, so that what is
 * lighter than something stays so. `area`: the first swatch to the largest colour, and so on; those that are left over, the nearest.
 * `nearest`: the least ΔE00. `random`: all swatches in an order that the seed says, those of the least area sharing when there are too few.
 *
 * @param swatches technical ones are left out: they are for machines
 */
export function linksBy(
  way: Way,
  colors: readonly ColorFacts[],
  swatches: readonly Swatch[],
  condition: Condition,
  seed = 1,
): Record<string, Wish> {
  const some = swatches.filter((s) => s.kind !== 'technical');
  if (some.length === 0) return {};
  const labs = some.map((s) => toLab(s.color, condition));
  const own = colors.map((c) => toLab(c.color, condition));
  const near = nearestOf(own, labs);
  const given = (places: (number | undefined)[]) =>
    Object.fromEntries(
      colors.flatMap((c, i) => {
        const swatch = some[places[i] ?? -1];
        return swatch ? [[c.hex, { swatch }] as const] : [];
      }),
    );
  if (way === 'nearest') return given(near.map((n) => n.place));
  if (way === 'area') return given(colors.map((_, i) => (i < some.length ? i : near[i]!.place)));
  if (way === 'random') {
    const next = numbersFrom(seed);
    const order = some.map((_, i) => i);
    for (let i = order.length - 1; i > 0; i--) {
      const j = Math.floor(next() * (i + 1));
      [order[i], order[j]] = [order[j]!, order[i]!];
    }
    return given(colors.map((_, i) => order[i % order.length]));
  }
  if (way === 'lightness') {
    const rank = (list: readonly Lab[]) => list.map((_, i) => i).sort((a, b) => list[a]![0] - list[b]![0]);
    const [mine, theirs] = [rank(own), rank(labs)];
    const places: number[] = [];
    const step = (theirs.length - 1) / Math.max(1, mine.length - 1);
    mine.forEach((color, r) => {
      // one colour alone gets what is as light as it
      places[color] = mine.length === 1 ? near[color]!.place : theirs[Math.round(r * step)]!;
    });
    return given(places);
  }
  return given(
    colors.map(({ names, parts }) => {
      const called = [...new Set([...names, ...parts.map((p) => p.layer)])].filter(Boolean);
      const exact = some.findIndex((s) =>
        [s.role, s.name].some((n) => n && called.some((c) => folded(c) === folded(n))),
      );
      if (exact >= 0) return exact;
      const words = new Set(called.flatMap((c) => [...wordsIn(c)]));
      const alike = some.findIndex((s) => [...wordsIn(s.role ?? '')].some((w) => words.has(w)));
      return alike >= 0 ? alike : undefined;
    }),
  );
}

/** Colours closer than this to a swatch are that swatch (common practice, no source). */
const SAME = 0.05;

/** A colour of an artwork that is not a swatch of the library, with the nearest. */
export interface Stray {
  row: Row;
  nearest: Swatch;
  deltaE00: number;
}

/** The colours of a work that are of no swatch, the furthest from any last; those that are a swatch's by chance are at 0. */
export function straysIn(rows: readonly Row[], swatches: readonly Swatch[], condition: Condition): Stray[] {
  if (swatches.length === 0) return [];
  const loose = rows.filter((r) => !r.swatch && r.state !== 'follows');
  const labs = swatches.map((s) => toLab(s.color, condition));
  return nearestOf(
    loose.map((r) => toLab(r.color, condition)),
    labs,
  )
    .map(({ place, deltaE00 }, i) => ({ row: loose[i]!, nearest: swatches[place]!, deltaE00 }))
    .sort((a, b) => a.deltaE00 - b.deltaE00);
}

/** Whether a colour is off the palette, and not a swatch's that it is not linked to. */
export const isOff = ({ deltaE00 }: Pick<Stray, 'deltaE00'>) => deltaE00 >= SAME;

/** Where two colourways of a work differ. */
export function differences(
  a: readonly Row[],
  b: readonly Row[],
  condition: Condition,
): { a: Row; b: Row; deltaE00: number }[] {
  const other = new Map(b.flatMap((row) => row.parts.map((p) => [p.key, row] as const)));
  const seen = new Set<string>();
  return a.flatMap((row) =>
    row.parts.flatMap((part) => {
      const theirs = other.get(part.key);
      const pair = `${row.key} ${theirs?.key}`;
      if (!theirs || seen.has(pair) || (row.to === theirs.to && row.line === theirs.line)) return [];
      seen.add(pair);
      const apart = deltaE00(toLab(row.color, condition), toLab(theirs.color, condition));
      return [{ a: row, b: theirs, deltaE00: apart }];
    }),
  );
}

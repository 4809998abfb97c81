import {
  type Color,
  type Condition,
  carried,
  fromCss,
  INTERPOLATIONS,
  type Space,
  toHex,
} from '../../color/index.ts';
import type { Options } from '../../options.ts';
import { gradientsOf, MAX_GRADIENT_STEPS, resolvedStops, type Stop } from '../../swatch/gradient.ts';
import { allSwatches, isLoose, KINDS, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { identifier } from '../../text/identifier.ts';
import { entriesOf, isRecord, parseJson, recordOf } from '../../text/json.ts';
import { beginningOf, plural, uniquely, writeText } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

/** Where our own words for a token are kept: `$extensions` may hold anything under an own name. */
const OWN = 'papillon';
const MAX_DEPTH = 100;
/** Of references, each to the next. */
const MAX_CHAIN_LENGTH = 1000;

type Json = Record<string, unknown>;

/** A token's colour as CSS text; the standard takes its colour spaces from CSS Color 4. */
function cssOf(value: Json): string | null {
  if (!Array.isArray(value.components)) return null;
  const parts = value.components.map((c) => (c === 'none' ? 'none' : typeof c === 'number' ? c : Number.NaN));
  if (parts.length !== 3 || parts.some((p) => Number.isNaN(p))) return null;
  const [a, b, c] = parts;
  const space = String(value.colorSpace);
  const alpha = typeof value.alpha === 'number' && value.alpha < 1 ? ` / ${value.alpha}` : '';
  if (space === 'hsl' || space === 'hwb') return `${space}(${a} ${b}% ${c}%${alpha})`;
  if (['lab', 'lch', 'oklab', 'oklch'].includes(space)) return `${space}(${a} ${b} ${c}${alpha})`;
  return `color(${space} ${a} ${b} ${c}${alpha})`;
}

/** The spaces that a token can state, by ours; those of CSS Color 4 (Design Tokens, Color module). */
const HELD = new Map<Space, string>([
  ...([
    ['rgb', 'srgb'],
    ['hsl', 'hsl'],
    ['hwb', 'hwb'],
    ['lab', 'lab'],
    ['lch', 'lch'],
  ] as const),
  ...([
    ['oklab', 'oklab'],
    ['oklch', 'oklch'],
    ['p3', 'display-p3'],
    ['a98', 'a98-rgb'],
  ] as const),
  ...([
    ['prophoto', 'prophoto-rgb'],
    ['rec2020', 'rec2020'],
  ] as const),
]);
const BY_ID = new Map<unknown, Space>([...HELD].map(([space, id]) => [id, space]));

/** Where a token counts to 100. */
const PERCENT: Partial<Record<Space, number[]>> = { hsl: [1, 100, 100], hwb: [1, 100, 100] };

/** Numbers of an RGB space beyond 0–1 are of colours outside it; those of another scale lie far from it. */
const MAX_RGB = 2;

/** A token's colour; where nothing is missing it needs no way through CSS. */
function readColor(value: unknown): { color: Color; alpha?: number } | null {
  if (!isRecord(value)) return typeof value === 'string' ? fromCss(value) : null;
  const { components, alpha, hex } = value;
  const opacity = typeof alpha === 'number' && alpha < 1 ? { alpha: Math.max(0, alpha) } : {};
  const space = BY_ID.get(value.colorSpace);
  const onScale =
    !space?.match(/^(rgb|p3|a98|prophoto|rec2020)$/) ||
    !Array.isArray(components) ||
    components.every((v) => typeof v !== 'number' || Math.abs(v) <= MAX_RGB);
  if (
    space &&
    onScale &&
    Array.isArray(components) &&
    components.length === 3 &&
    components.every(Number.isFinite)
  )
    return {
      color: { space, components: components.map((v, i) => v / (PERCENT[space]?.[i] ?? 1)) },
      ...opacity,
    };
  const css = onScale ? cssOf(value) : null;
  const read = css === null ? null : fromCss(css);
  if (read || typeof hex !== 'string') return read;
  // what is in no space we know, or on no scale of one, has a code for those who cannot read it
  const code = fromCss(hex);
  return code && { ...code, ...opacity };
}

/** A colour whose numbers may be references themselves, with what those lead to. */
function inner(value: unknown, follow: (value: unknown) => Followed): unknown {
  if (!isRecord(value) || !Array.isArray(value.components)) return value;
  if (!isRecord(value.alpha) && !value.components.some(isRecord)) return value;
  const one = (v: unknown) => {
    const found = isRecord(v) ? follow(v) : { value: v };
    return 'trouble' in found ? Number.NaN : found.value;
  };
  const { components, alpha, ...rest } = value;
  return { ...rest, components: components.map(one), ...(alpha === undefined ? {} : { alpha: one(alpha) }) };
}

/** The stops of a gradient's token (Design Tokens, “Gradient”): colours, or references to such, with positions 0–1. */
function readStops(value: unknown, follow: (value: unknown) => Followed): Omit<Stop, 'ref'>[] | null {
  if (!Array.isArray(value) || value.length === 0) return null;
  const stops: Omit<Stop, 'ref'>[] = [];
  for (const one of value) {
    const found = follow(one);
    if ('trouble' in found || !isRecord(found.value)) return null;
    const color = follow(found.value.color);
    const read = 'trouble' in color ? null : readColor(inner(color.value, follow));
    const at = Number(found.value.position);
    if (!read || !Number.isFinite(at)) return null;
    stops.push({ ...read, at: Math.min(1, Math.max(0, at)) });
  }
  return stops.sort((a, b) => a.at - b.at);
}

/** The midpoints, which only our own words tell. */
const withMiddles = (stops: Omit<Stop, 'ref'>[], middles: unknown) =>
  stops.map((stop, i) => {
    const middle = Array.isArray(middles) ? Number(middles[i]) : Number.NaN;
    return middle >= 0 && middle <= 1 && middle !== 0.5 ? { ...stop, middle } : stop;
  });

type Followed = { value: unknown } | { trouble: string };

/** A reference as it stands, like `{sea.deep}` or `#/sea/deep`; null when the value is none. */
const referenceIn = (value: unknown): string | null =>
  typeof value === 'string' && value[0] === '{' && /^\{[^{}]+\}$/.test(value)
    ? value
    : isRecord(value) && typeof value.$ref === 'string'
      ? value.$ref
      : null;

/** The keys a reference leads through: those of `{sea.deep}`, or of a JSON Pointer (RFC 6901) such as `#/sea~1deep/$value`. */
function pathOf(reference: string): string[] {
  if (reference.startsWith('{')) return reference.slice(1, -1).split('.');
  const parts = reference.replace(/^#?\/?/, '').split('/');
  return parts.map((p) => unescaped(p).replaceAll('~1', '/').replaceAll('~0', '~'));
}
function unescaped(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}

/** What lies under a key of an object or a place of a list. */
const within = (value: unknown, key: string): unknown =>
  isRecord(value) && Object.hasOwn(value, key)
    ? value[key]
    : Array.isArray(value)
      ? value[Number(key)]
      : undefined;

/**
 * A group with what it takes over from another by `$extends` (Design Tokens, Format, “Extending groups”); what is its own
 * takes the place of what comes from there, deep inside too.
 */
function extended(root: Json, group: Json, step: () => void, depth = 0): Json {
  const reference =
    referenceIn(group.$extends) ?? (typeof group.$extends === 'string' ? group.$extends : null);
  if (reference === null || depth > DEEPEST_EXTENDS) return group;
  step();
  let from: unknown = root;
  for (const part of pathOf(reference)) from = within(from, part);
  if (!isRecord(from) || from === group) return group;
  const own = recordOf(entriesOf(group).filter(([key]) => key !== '$extends'));
  return overlaid(extended(root, from, step, depth + 1), own, step);
}
const DEEPEST_EXTENDS = 20;

/** One group laid over another: tokens and plain values replace, groups are laid over each other. */
function overlaid(below: Json, above: Json, step: () => void): Json {
  step();
  const all = new Map(entriesOf(below));
  for (const [key, value] of entriesOf(above)) {
    const under = Object.hasOwn(below, key) ? below[key] : undefined;
    const groups =
      isRecord(value) &&
      isRecord(under) &&
      value.$value === undefined &&
      under.$value === undefined &&
      !key.startsWith('$');
    all.set(key, groups ? overlaid(under, value, step) : value);
  }
  return recordOf([...all]);
}

/**
 * Follows references to what they lead to in the end, each of a chain only once.
 *
 * @param step is called for each that is followed
 */
function follower(root: Json, step: () => void): (value: unknown) => Followed {
  const known = new Map<string, Followed>();
  return (value) => {
    const passed = new Set<string>();
    let found: Followed | undefined;
    for (let at = value; !found; ) {
      const reference = referenceIn(at);
      if (reference === null) {
        found = { value: at };
        break;
      }
      found = known.get(reference);
      if (found) break;
      const path = pathOf(reference);
      const called = () => `“${path.slice(0, 10).join('.').slice(0, 100)}”`;
      if (passed.has(reference)) found = { trouble: `${called()} refers to itself` };
      else if (passed.size >= MAX_CHAIN_LENGTH)
        found = { trouble: `${called()} leads through more than ${MAX_CHAIN_LENGTH} other tokens` };
      else if (path.length > MAX_DEPTH) found = { trouble: `${called()}… leads too deep` };
      else {
        step();
        passed.add(reference);
        let there: unknown = root;
        for (const part of path) there = within(there, part);
        if (isRecord(there) && there.$value !== undefined) at = there.$value;
        else if (there !== undefined && path.includes('$value')) at = there;
        else found = { trouble: `${called()} is not there` };
      }
    }
    for (const reference of passed) known.set(reference, found);
    return found;
  };
}

/** Tokens that count together, and how what is in them is called. */
interface Scope {
  /** Where references lead. */
  root: Json;
  /** What is listed of it. */
  own: Json;
  path: string[];
  label: string;
}

/** Whether a file says how sets of tokens and modes go together (Design Tokens, Resolver module). */
const isResolver = (root: Json) =>
  Array.isArray(root.resolutionOrder) && (isRecord(root.sets) || isRecord(root.modifiers));

/**
 * The sets of a resolver and each mode of its modifiers, laid over each other in its order; from memory.
 *
 * @param elsewhere called with the name of each other file that holds tokens
 */
function scopesOf(root: Json, step: () => void, elsewhere: (file: string) => void): Scope[] {
  const inner = (value: unknown) => (isRecord(value) ? value : {});
  const merged = (sources: unknown, depth = 0): Json => {
    let all: Json = {};
    if (!Array.isArray(sources) || depth > DEEPEST_EXTENDS) return all;
    for (const source of sources) {
      if (!isRecord(source)) continue;
      const reference = typeof source.$ref === 'string' ? source.$ref : null;
      if (reference !== null && !reference.startsWith('#')) {
        elsewhere(reference);
        continue;
      }
      let there: unknown = source;
      if (reference !== null) {
        there = root;
        for (const part of pathOf(reference)) there = within(there, part);
      }
      const own = inner(there);
      all = overlaid(all, Array.isArray(own.sources) ? merged(own.sources, depth + 1) : own, step);
    }
    return all;
  };
  const sets = entriesOf(inner(root.sets)).map(([name, set]) => ({ name, own: merged(inner(set).sources) }));
  const modifiers = entriesOf(inner(root.modifiers)).map(([name, modifier]) => {
    const modes = entriesOf(inner(inner(modifier).contexts)).map(([mode, sources]) => ({
      mode,
      own: merged(sources),
    }));
    return { name, modes, usual: modes.find((m) => m.mode === inner(modifier).default) ?? modes[0] };
  });
  const base = sets.reduce((all: Json, { own }) => overlaid(all, own, step), {});
  const withUsual = (but?: string) =>
    modifiers.reduce(
      (all, { name, usual }) => (usual && name !== but ? overlaid(all, usual.own, step) : all),
      base,
    );
  const whole = withUsual();
  return [
    ...sets.map(({ name, own }) => ({ root: whole, own, path: [name], label: name })),
    ...modifiers.flatMap(({ name, modes }) =>
      modes.map(({ mode, own }) => ({
        root: overlaid(withUsual(name), own, step),
        own,
        path: [name, mode],
        label: `${name} / ${mode}`,
      })),
    ),
  ];
}

/** A token as build tools write it once they have followed its references: the outcome in `value`, what stood there in `original`. */
const settled = (token: Json): Json =>
  token.$value === undefined && token.value !== undefined && isRecord(token.original)
    ? { ...token, $value: token.value, $type: token.$type ?? token.type }
    : token;

export const tokens: PlainFormat = {
  id: 'tokens',
  name: 'Design tokens',
  about: 'JSON of the W3C community group, for interfaces. Keeps groups, names, Lab values and gradients.',
  endings: ['tokens.json', 'json'],
  mime: 'application/design-tokens+json',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: true,
    kinds: ['process'],
    spaces: [...HELD.keys()],
    bits: 64,
  },

  recognise(bytes) {
    const text = beginningOf(bytes);
    if (!text || !/^\uFEFF?\s*\{/.test(text)) return 0;
    return /"(?:\$value|resolutionOrder)"\s*:/.test(text) ? 0.95 : 0;
  },

  ownWords: true,
  decode: textDecoder((text, draft, options) => {
    const whole = parseJson(text);
    if (!isRecord(whole))
      throw new FormatError('its outermost value is not an object, as design tokens are.');
    const troubles: string[] = [];
    let more = 0;
    const trouble = (path: string[], key: string, why: string) => {
      if (troubles.length < 20) troubles.push(`${[...path, key].join('.').slice(0, 200)}: ${why}`);
      else more++;
    };
    let root = whole;
    let follow = follower(root, () => draft.step(2));
    let others = 0;
    const walk = (given: Json, path: string[], label: string, type: unknown) => {
      const node = given.$extends === undefined ? given : extended(root, given, () => draft.step());
      if (path.length > MAX_DEPTH)
        throw new FormatError(
          `groups lie more than ${MAX_DEPTH} deep, at “${path.slice(0, 5).join('.').slice(0, 200)}…”.`,
        );
      draft.step();
      const here = node.$type ?? type;
      const nested: [string, Json][] = [];
      const own: [string, Json][] = [];
      for (const [key, given] of entriesOf(node)) {
        if (!isRecord(given) || (key.startsWith('$') && key !== '$root')) continue;
        const child = settled(given);
        (child.$value === undefined ? nested : own).push([key, child]);
      }
      // a group of sizes and fonts is not a group of colours
      let entered = path.length === 0;
      const enter = () => {
        if (!entered) draft.enter(label);
        entered = true;
      };
      for (const [named, token] of own) {
        const key = named === '$root' ? (path.at(-1) ?? named) : named;
        draft.step();
        const found = follow(token.$value);
        if ('trouble' in found) {
          trouble(path, key, found.trouble);
          continue;
        }
        if ((token.$type ?? here) === 'gradient') {
          const stops = readStops(found.value, follow);
          if (!stops) trouble(path, key, 'it is not a list of colours with positions');
          else {
            const { name, mixing, steps, middles } = ownWords(token, options);
            enter();
            draft.addGradient({
              name: typeof name === 'string' ? name : key,
              // a token says nothing of the mixing: most programs do it in sRGB
              way: INTERPOLATIONS.find((i) => i === mixing) ?? 'srgb',
              stops: withMiddles(stops, middles),
              ...(typeof steps === 'number' && steps >= 1
                ? { steps: Math.min(MAX_GRADIENT_STEPS, Math.round(steps)) }
                : {}),
            });
          }
          continue;
        }
        const color =
          (token.$type ?? here ?? 'color') === 'color' ? readColor(inner(found.value, follow)) : null;
        if (color) {
          enter();
          draft.add(swatchOf(token, key, color, options));
        } else if ((token.$type ?? here) === 'color')
          trouble(path, key, `${JSON.stringify(found.value).slice(0, 60)} is not a colour`);
        else others++;
      }
      for (const [key, child] of nested) {
        const name = ownWords(child, options).name;
        const own = typeof name === 'string' ? name : key;
        walk(child, [...path, key], path.length > 0 ? `${label} / ${own}` : own, here);
      }
    };
    const description = whole.$description ?? (isResolver(whole) ? whole.description : undefined);
    if (typeof description === 'string') draft.note = description;
    const { name, columns } = ownWords(whole, options);
    if (typeof name === 'string') draft.name = name;
    if (typeof columns === 'number') draft.columns = columns;
    if (isResolver(whole)) {
      const files = new Set<string>();
      for (const { own, path, label, ...scope } of scopesOf(
        whole,
        () => draft.step(),
        (file) => files.add(file),
      )) {
        root = scope.root;
        follow = follower(root, () => draft.step(2));
        walk(own, path, label, undefined);
      }
      if (typeof whole.name === 'string') draft.name = whole.name;
      const list = [...files].slice(0, 8).join(', ').slice(0, 300);
      if (files.size > 0 && draft.count === 0)
        throw new FormatError(`its tokens lie in other files (${list}). Drop those.`);
      if (files.size > 0) draft.warn(`What lies in other files was left out; drop them to have it: ${list}.`);
    } else walk(whole, [], '', undefined);
    if (others > 0)
      draft.warn(
        `${plural(others, 'token is not a colour', 'tokens are not colours')} and ${others === 1 ? 'was' : 'were'} left out.`,
      );
    for (const one of troubles) draft.warn(`Left out: ${one}.`);
    if (more > 0) draft.warn(`${more} more were left out for such reasons.`);
  }),

  encode(library, { condition }) {
    const root: Json = { $type: 'color' };
    if (library.note) root.$description = library.note;
    extend(root, { name: library.name, columns: library.columns });
    const rootKey = uniquely();
    const paths = new Map<string, string>();
    for (const group of library.groups) {
      let node = root;
      let key = rootKey;
      let groupKey = '';
      if (!isLoose(library, group)) {
        node = {};
        extend(node, { name: group.name });
        groupKey = rootKey(keyOf(group.name));
        root[groupKey] = node;
        key = uniquely();
      }
      for (const swatch of group.swatches) {
        const own = key(keyOf(swatch.name));
        node[own] = tokenOf(swatch, own, condition);
        paths.set(swatch.id, node === root ? own : `${groupKey}.${own}`);
      }
    }
    const byId = new Map(allSwatches(library).map((s) => [s.id, s]));
    for (const gradient of gradientsOf(library)) {
      const own = rootKey(keyOf(gradient.name));
      const { way, steps } = gradient.data;
      const stops = resolvedStops(gradient, (id) => byId.get(id));
      const token: Json = {
        $type: 'gradient',
        $value: stops.map(({ color, at, alpha, swatch }) => ({
          // by reference, so that recolouring the swatch recolours it
          color:
            swatch && alpha === (swatch.alpha ?? 1)
              ? `{${paths.get(swatch.id)}}`
              : colorValue(color, condition, alpha),
          position: at,
        })),
      };
      const middles = stops.map((s) => s.middle);
      extend(token, {
        ...(gradient.name === own ? {} : { name: gradient.name }),
        mixing: way,
        steps,
        middles: middles.every((m) => m === 0.5) ? undefined : middles,
      });
      root[own] = token;
    }
    return writeText(`${JSON.stringify(root, null, 2)}\n`);
  },
};

/** A key that stays where it is put: engines move whole numbers to the front of an object. */
const keyOf = (name: string) =>
  identifier(name)
    .replace(/^(\d+)$/, 'c-$1')
    // every object has it already, as some readers find
    .replace(/^constructor$/, 'c-constructor');

const ownWords = (node: Json, options?: Options): Json => {
  if (options?.asOthers) return {};
  const all = isRecord(node.$extensions) ? node.$extensions[OWN] : null;
  return isRecord(all) ? all : {};
};

function extend(node: Json, words: Json): void {
  const given = Object.entries(words).filter(([, v]) => v !== undefined);
  if (given.length > 0) node.$extensions = { [OWN]: Object.fromEntries(given) };
}

function tokenOf(
  { name, code, kind, global, color, alpha, role, note }: Swatch,
  key: string,
  condition: Condition,
): Json {
  const token: Json = { $value: colorValue(color, condition, alpha) };
  if (note) token.$description = note;
  extend(token, {
    ...(name === key ? {} : { name }),
    code,
    role,
    global,
    kind: kind === 'process' ? undefined : kind,
  });
  return token;
}

function colorValue(color: Color, condition: Condition, alpha = 1): Json {
  const { space, components } = carried(color, [...HELD.keys()], condition);
  return {
    colorSpace: HELD.get(space),
    components: components.map((v, i) => v * (PERCENT[space]?.[i] ?? 1)),
    ...(alpha < 1 ? { alpha } : {}),
    hex: toHex(color, condition),
  };
}

function swatchOf(
  token: Json,
  key: string,
  color: { color: Color; alpha?: number },
  options: Options | undefined,
) {
  const { name, code, kind, role, global } = ownWords(token, options);
  return {
    ...color,
    name: typeof name === 'string' ? name : key,
    kind: KINDS.find((k) => k === kind) ?? 'process',
    ...(typeof code === 'string' ? { code } : {}),
    ...(typeof role === 'string' ? { role } : {}),
    ...(global === true ? { global } : {}),
    ...(typeof token.$description === 'string' ? { note: token.$description } : {}),
  };
}

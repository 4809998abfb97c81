import { fromCss, spaces, toHex } from '../../color/index.ts';
import { optionOf } from '../../options.ts';
import { isLoose, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { entriesOf, isRecord, parseJson } from '../../text/json.ts';
import { beginningOf, plural, uniquely, writeText } from '../../text/text.ts';
import { type Draft, textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { colorIn, isMarked, letteredIn, numbersIn, type Read, Scales, spaceOf } from './values.ts';

const MAX_DEPTH = 100;
const MAX_CHAIN_LENGTH = 100;

type Json = Record<string, unknown>;

/** What a colour is called in an object of its own; a space does as well. */
const VALUE_KEYS = ['value', 'color', 'colour', 'hex', 'css'];
const isValueKey = (key: string) => VALUE_KEYS.includes(key.toLowerCase()) || spaceOf(key) !== undefined;
/** What stands beside it. */
const NAME_KEYS = ['name', 'title', 'label', 'key', 'id'];
const NOTE_KEYS = ['comment', 'description', 'note'];

const firstText = (node: Json, keys: string[]): string | undefined =>
  keys.map((k) => node[k]).find((v): v is string => typeof v === 'string');

/** Follows `{sea.deep}` and `{sea.deep.value}` to what stands there, inside of a longer text too. */
function follower(root: unknown, draft: Draft) {
  const at = (path: string): unknown => {
    let node: unknown = root;
    for (const part of path.split('.').slice(0, MAX_DEPTH)) {
      if (Array.isArray(node)) node = node[Number(part)];
      else node = isRecord(node) && Object.hasOwn(node, part) ? node[part] : undefined;
    }
    return isRecord(node) ? VALUE_KEYS.map((k) => (node as Json)[k]).find((v) => v !== undefined) : node;
  };
  const follow = (text: string, passed: readonly string[] = []): string | null => {
    if (!text.includes('{')) return text;
    let whole: string | null = '';
    let end = 0;
    for (const { 0: all, 1: path = '', index } of text.matchAll(/\{([^{}]{1,300})\}/g)) {
      draft.step();
      const key = path.trim().replace(/\.value$/, '');
      if (passed.includes(key) || passed.length >= MAX_CHAIN_LENGTH) return null;
      const value = at(key);
      const inner: string | null = typeof value === 'string' ? follow(value, [...passed, key]) : null;
      if (inner === null) return null;
      whole += text.slice(end, index) + inner;
      end = index + all.length;
      if (whole.length > 1000) return null;
    }
    return whole + text.slice(end);
  };
  return follow;
}

/** Keys under which a word or bare digits are a colour. */
const EXPECTING =
  /^(?:colou?rs?|hex|css|palettes?|swatch(?:es)?|shades?|tints?|fill|stroke|background|foreground)$/i;

/**
 * Takes the colours out of nested names and values, whatever notation they were written in.
 *
 * @throws FormatError when the outermost value is neither an object nor a list, or all its colours are out of range
 */
export function readTheme(root: unknown, draft: Draft): void {
  if (!isRecord(root) && !Array.isArray(root))
    throw new FormatError('its outermost value is neither an object nor a list, as themes are.');
  const follow = follower(root, draft);
  const lost = new Set<string>();
  /** What is out of range, by the value that is, which may be met on two ways. */
  const bad = new Map<unknown, string>();
  const unexpected = new Set<string>();
  const scales = scalesOf(root, draft);
  /** The colour of a value; null when it is none. */
  const read = (key: string, value: unknown, expected: boolean, place = key): Read | null => {
    const named = spaceOf(key);
    const numbers = numbersIn(
      value,
      named ?? (expected && Array.isArray(value) ? spaceOf('rgb') : undefined),
    );
    if (numbers) {
      const found = scales.read(numbers);
      if (!found) {
        const said = numbers.values.map((v) => v.value).join(', ');
        bad.set(
          value,
          bad.get(value) ??
            `“${place.slice(0, 80)}”: ${said} is out of range for ${spaces[numbers.named.space].name}.`,
        );
      }
      return found;
    }
    if (typeof value !== 'string') return null;
    const given = follow(value);
    // what leads nowhere would have been one
    if (given === null) {
      if (/^\s*(?:\{[^{}]+\}|(?:rgb|hsl)a?\(.*)\s*$/i.test(value)) lost.add(value);
      return null;
    }
    if (expected || named || given !== value || isMarked(given))
      return colorIn(given) ?? (expected || named ? letteredIn(given) : null);
    const word = key === '' || NAME_KEYS.includes(key) || NOTE_KEYS.includes(key) ? null : fromCss(given);
    if (word) unexpected.add(`“${place.slice(0, 80)}”: “${given.slice(0, 80)}”`);
    return null;
  };
  /** The colours that an object of its own states, as authored first; a code last, since it has the fewest digits. */
  const stated = (value: Json, expected: boolean, place: string): Read[] => {
    const own = read('', value, false, place);
    if (own) return [own];
    const isColor = expected || value.type === 'color';
    const found = entriesOf(value).flatMap(([key, inside]) => {
      if (!isValueKey(key)) return [];
      const expects = key.toLowerCase() === 'value' ? isColor : EXPECTING.test(key);
      const color =
        isRecord(inside) && !spaceOf(key)
          ? stated(inside, expects, place)[0]
          : read(key, inside, expects, `${place}.${key}`);
      return color ? [{ color, isCode: typeof inside === 'string' && !spaceOf(key) }] : [];
    });
    return [...found.filter((f) => !f.isCode), ...found.filter((f) => f.isCode)].map((f) => f.color);
  };
  /** A value with its colour, where it is one: a code, or an object with one. */
  const leaf = (
    key: string,
    value: unknown,
    expected: boolean,
  ): (Pick<Swatch, 'name' | 'color'> & Partial<Swatch>) | null => {
    if (!isRecord(value)) {
      const color = read(key, value, expected);
      return color && { name: key, ...color };
    }
    const [color, ...others] = stated(value, expected, key);
    if (!color) return null;
    // an object that has other colours too is a group with one of that name
    const isGroup = entriesOf(value).some(([k, v]) => !isValueKey(k) && isRecord(v) && leaf(k, v, expected));
    if (isGroup) return null;
    const note = firstText(value, NOTE_KEYS);
    const code = typeof value.code === 'string' ? value.code : undefined;
    const called = Number.isInteger(Number(key)) ? (firstText(value, NAME_KEYS) ?? key) : key;
    const alternates = others.map((o) => o.color).filter((c) => c.space !== color.color.space);
    return {
      name: called,
      ...color,
      ...(alternates.length > 0 ? { alternates } : {}),
      ...(note ? { note } : {}),
      ...(code ? { code } : {}),
    };
  };
  const walk = (node: Json | unknown[], label: string, depth: number, expected: boolean) => {
    if (depth > MAX_DEPTH)
      throw new FormatError(`groups lie more than ${MAX_DEPTH} deep, at “${label.slice(0, 200)}…”.`);
    draft.step();
    let entered = depth === 0;
    const codes = isListOfCodes(node);
    const inner: [string, Json | unknown[], boolean][] = [];
    for (const [key, value] of entriesOf(node)) {
      draft.step();
      const expects = expected || codes || EXPECTING.test(key);
      const own = leaf(key, value, expects);
      if (!own) {
        // the fields of a row do not name colours
        if (isRecord(value)) inner.push([key, value, expects && !Array.isArray(node)]);
        else if (Array.isArray(value)) inner.push([key, value, expects]);
        continue;
      }
      if (!entered) draft.enter(label);
      entered = true;
      draft.add(own);
    }
    for (const [key, value, expects] of inner)
      walk(value, depth > 0 ? `${label} / ${key}` : key, depth + 1, expects);
  };
  walk(root, '', 0, false);
  if (lost.size > 0)
    draft.warn(
      `${plural(lost.size, 'reference leads', 'references lead')} nowhere, and ${lost.size === 1 ? 'was' : 'were'} left out.`,
    );
  if (draft.count === 0 && bad.size > 0) throw new FormatError([...bad.values()][0]!);
  for (const why of bad.values()) draft.warn(`Left out: ${why}`);
  if (unexpected.size > 0) {
    const [first] = unexpected;
    draft.warn(
      unexpected.size === 1
        ? `${first} could be a colour, but stands where none is expected, and was left out.`
        : `${unexpected.size} words and numbers could be colours, but stand where none is expected, and were left out, such as ${first}.`,
    );
  }
}

export const theme: PlainFormat = {
  id: 'theme',
  name: 'Theme JSON',
  about: 'Nested names and codes, as design systems ship them in JSON. Keeps groups and names, 8-bit RGB.',
  endings: ['theme.json'],
  mime: 'application/json',
  options: [
    {
      id: 'shape',
      label: 'Shape',
      type: 'choice',
      values: [
        ['plain', 'Name and code'],
        ['value', 'Value and type'],
      ],
      initial: 'plain',
    },
  ],
  traits: {
    read: true,
    write: true,
    names: true,
    groups: true,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
  },

  recognise(bytes) {
    const text = beginningOf(bytes);
    if (!text || !/^\s*[[{]/.test(text)) return 0;
    for (const [, value] of text.matchAll(/"((?:[^"\\\n]|\\.){3,210})"/g)) if (isMarked(value!)) return 0.6;
    return /"(?:rgba?|cmyk|hsl|hsv|hsb|lab|lch|oklab|oklch)"\s*:\s*[[{"]|:\s*"(?=\d*[a-f])[\da-f]{6}"|"r(?:ed)?"\s*:\s*[\d.]+\s*,\s*"g(?:reen)?"\s*:/i.test(
      text,
    )
      ? 0.5
      : 0;
  },

  decode: textDecoder((text, draft) => readTheme(parseJson(text), draft)),

  encode(library, { condition }, options) {
    const older = optionOf(theme, options, 'shape') === 'value';
    const value = ({ color, alpha = 1 }: Swatch) => {
      const hex = JSON.stringify(
        toHex(color, condition) +
          (alpha < 1
            ? Math.round(alpha * 255)
                .toString(16)
                .padStart(2, '0')
            : ''),
      );
      return older ? `{ "value": ${hex}, "type": "color" }` : hex;
    };
    const key = uniquely(' ');
    const line = (name: string, content: string, indent: string) =>
      `${indent}${JSON.stringify(name)}: ${content}`;
    const lines = library.groups.flatMap((group) => {
      if (isLoose(library, group)) return group.swatches.map((s) => line(key(s.name), value(s), '  '));
      const own = uniquely(' ');
      const inside = group.swatches.map((s) => line(own(s.name), value(s), '    '));
      return [line(key(group.name), inside.length > 0 ? `{\n${inside.join(',\n')}\n  }` : '{}', '  ')];
    });
    return writeText(lines.length > 0 ? `{\n${lines.join(',\n')}\n}\n` : '{}\n');
  },
};

const BARE_CODE = /^[\da-f]{6}(?:[\da-f]{2})?$/i;

/** Whether names lead to nothing but codes without their mark, as in `{"Hull": "ff8000"}`. */
const isListOfCodes = (node: Json | unknown[]): boolean => {
  const entries = entriesOf(node);
  return (
    entries.every(([key, v]) => typeof v === 'string' && BARE_CODE.test(v) && !NAME_KEYS.includes(key)) &&
    entries.some(([, v]) => /[a-f]/i.test(String(v)))
  );
};

/** The scales of the numbers, by all colours of the file. */
function scalesOf(root: unknown, draft: Draft): Scales {
  const scales = new Scales();
  const look = (node: unknown, named: ReturnType<typeof spaceOf>, depth: number) => {
    draft.step();
    const numbers = numbersIn(node, named);
    if (numbers) scales.see(numbers);
    else if (depth <= MAX_DEPTH && typeof node === 'object' && node !== null)
      for (const [key, value] of entriesOf(node)) look(value, spaceOf(key), depth + 1);
  };
  look(root, undefined, 0);
  return scales;
}

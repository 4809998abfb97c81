import { type Color, fromCss, toHex } from '../../color/index.ts';
import { optionOf } from '../../options.ts';
import { isLoose, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { isRecord, parseJson } from '../../text/json.ts';
import { beginningOf, plural, uniquely, writeText } from '../../text/text.ts';
import { type Draft, textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const MAX_DEPTH = 100;
const MAX_CHAIN_LENGTH = 100;

type Read = { color: Color; alpha?: number };
type Json = Record<string, unknown>;

/** What stands beside a colour in an object of its own. */
const VALUE_KEYS = ['value', 'hex', 'color', 'colour', 'rgb', 'css'];
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

/** A colour as CSS has it, or `rgba(#112233, 0.5)` as style languages do. */
function colorIn(text: string): Read | null {
  const thin = /^rgba?\(\s*(#[\da-f]{3,8})\s*,\s*([\d.]+%?)\s*\)$/i.exec(text.trim());
  if (!thin) return fromCss(text.trim());
  const solid = fromCss(thin[1]!);
  const alpha = Number.parseFloat(thin[2]!) / (thin[2]!.endsWith('%') ? 100 : 1);
  return solid && Number.isFinite(alpha)
    ? { color: solid.color, ...(alpha < 1 ? { alpha: Math.max(0, alpha) } : {}) }
    : null;
}

/** Three numbers of 0–255 in a list, and opacity 0–1. */
function numbersIn(list: unknown[]): Read | null {
  if (list.length < 3 || list.length > 4 || !list.every((v): v is number => typeof v === 'number'))
    return null;
  if (list.slice(0, 3).some((v) => v < 0 || v > 255)) return null;
  const [alpha] = list.slice(3);
  return {
    color: { space: 'rgb', components: list.slice(0, 3).map((v) => v / 255) },
    ...(alpha !== undefined && alpha < 1 ? { alpha: Math.max(0, alpha) } : {}),
  };
}

const COLOR_TEXT = /^\s*(?:#[\da-f]{3,8}|(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\([^"]{1,200}\))\s*$/i;

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
    for (const [, value] of text.matchAll(/"((?:[^"\\\n]|\\.){3,210})"/g))
      if (COLOR_TEXT.test(value!)) return 0.6;
    return 0;
  },

  decode: textDecoder((text, draft) => {
    const root = parseJson(text);
    if (!isRecord(root) && !Array.isArray(root))
      throw new FormatError('its outermost value is neither an object nor a list, as themes are.');
    const follow = follower(root, draft);
    const lost = new Set<string>();
    const read = (value: unknown): Read | null => {
      if (Array.isArray(value)) return numbersIn(value);
      if (typeof value !== 'string') return null;
      const given = follow(value);
      const color = given === null ? null : colorIn(given);
      // what leads nowhere would have been one
      if (given === null) lost.add(value);
      return color;
    };
    /** A value with its colour, where it is one: a code, or an object with one. */
    const leaf = (key: string, value: unknown): (Pick<Swatch, 'name' | 'color'> & Partial<Swatch>) | null => {
      if (!isRecord(value)) {
        const color = read(value);
        return color && { name: key, ...color };
      }
      const given = VALUE_KEYS.find((k) => typeof value[k] === 'string' || Array.isArray(value[k]));
      const color = given === undefined ? null : read(value[given]);
      if (!color) return null;
      // an object that has other colours too is a group with one of that name
      const others = Object.keys(value).some(
        (k) => k !== given && !VALUE_KEYS.includes(k) && isRecord(value[k]) && leaf(k, value[k]),
      );
      if (others) return null;
      const note = firstText(value, NOTE_KEYS);
      const code = typeof value.code === 'string' ? value.code : undefined;
      const called = Number.isInteger(Number(key)) ? (firstText(value, NAME_KEYS) ?? key) : key;
      return { name: called, ...color, ...(note ? { note } : {}), ...(code ? { code } : {}) };
    };
    const walk = (node: unknown, label: string, depth: number) => {
      if (depth > MAX_DEPTH)
        throw new FormatError(`groups lie more than ${MAX_DEPTH} deep, at “${label.slice(0, 200)}…”.`);
      draft.step();
      let entered = depth === 0;
      const inner: [string, unknown][] = [];
      for (const [key, value] of Object.entries(node as Json)) {
        draft.step();
        const own = leaf(key, value);
        if (!own) {
          if (isRecord(value) || Array.isArray(value)) inner.push([key, value]);
          continue;
        }
        if (!entered) draft.enter(label);
        entered = true;
        draft.add(own);
      }
      for (const [key, value] of inner) walk(value, depth > 0 ? `${label} / ${key}` : key, depth + 1);
    };
    walk(root, '', 0);
    if (lost.size > 0)
      draft.warn(
        `${plural(lost.size, 'reference leads', 'references lead')} nowhere, and ${lost.size === 1 ? 'was' : 'were'} left out.`,
      );
  }),

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

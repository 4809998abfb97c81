import { type AST, parseTOML } from 'toml-eslint-parser';
import { FormatError } from '../../text/error.ts';
import { recordOf } from '../../text/json.ts';
import { beginningOf } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { readTheme } from '../theme/theme.ts';

const QUOTED_CODE =
  /^[ \t]*(?:["'][^"'\n]{1,100}["']|[\w.-]{1,100})[ \t]*=[ \t]*(["'])(?:#[\da-f]{3,8}|(?:rgb|hsl|oklch|lab|lch)a?\([^)\n]{1,60}\))\1[ \t]*(?:#.*)?$/im;

type Entries = Map<string, Value>;
type Value = Entries | Value[] | unknown;

const keysOf = (key: AST.TOMLKey) => key.keys.map((k) => (k.type === 'TOMLBare' ? k.name : k.value));

/** Puts a value under dotted keys; of a list of tables, into the last. */
function put(into: Entries, keys: readonly (string | number)[], value: Value): Entries | null {
  let node = into;
  for (const key of keys.slice(0, -1).map(String)) {
    let next = node.get(key);
    if (Array.isArray(next)) next = next.at(-1);
    if (!(next instanceof Map)) {
      next = new Map();
      node.set(key, next);
    }
    node = next as Entries;
  }
  node.set(String(keys.at(-1)), value);
  return value instanceof Map ? value : null;
}

function contentOf(node: AST.TOMLContentNode): Value {
  if (node.type === 'TOMLArray') return node.elements.map(contentOf);
  if (node.type === 'TOMLInlineTable') {
    const table: Entries = new Map();
    for (const pair of node.body) put(table, keysOf(pair.key), contentOf(pair.value));
    return table;
  }
  if (node.kind === 'integer' || node.kind === 'float') return Number(node.value);
  return node.kind === 'string' ? node.value : null;
}

/** Maps as objects, with their keys in the order of the text. */
const plain = (value: Value): unknown =>
  value instanceof Map
    ? recordOf([...value].map(([key, v]) => [key, plain(v)] as const))
    : Array.isArray(value)
      ? value.map(plain)
      : value;

export const toml: PlainFormat = {
  id: 'toml',
  name: 'Theme TOML',
  about: 'Tables of names and codes in TOML. It is only read: groups, names and notes.',
  endings: ['toml'],
  mime: 'application/toml',
  traits: {
    ...{ read: true, write: false, names: true, groups: true, kinds: ['process'], spaces: ['rgb'], bits: 8 },
  },

  recognise(bytes) {
    const text = beginningOf(bytes);
    return text && !/^\s*[{<]/.test(text) && !/;\s*$/m.test(text) && QUOTED_CODE.test(text) ? 0.55 : 0;
  },

  decode: textDecoder((text, draft) => {
    const root: Entries = new Map();
    let program: AST.TOMLProgram;
    try {
      program = parseTOML(text);
    } catch (error) {
      const { lineNumber, column } = error as { lineNumber?: number; column?: number };
      throw new FormatError(
        `${lineNumber ? `line ${lineNumber}, column ${(column ?? 0) + 1}` : 'somewhere'}: it is no TOML. Correct it there, or get the file again.`,
      );
    }
    for (const node of program.body[0].body) {
      draft.step();
      if (node.type === 'TOMLKeyValue') {
        put(root, keysOf(node.key), contentOf(node.value));
        continue;
      }
      const keys = keysOf(node.key);
      const table: Entries = new Map();
      for (const pair of node.body) put(table, keysOf(pair.key), contentOf(pair.value));
      // a list of tables has its place as the last of its resolved key
      const known = keys.reduce<Value>(
        (at, key) =>
          at instanceof Map
            ? at.get(String(key))
            : Array.isArray(at) && at.at(-1) instanceof Map
              ? (at.at(-1) as Entries).get(String(key))
              : undefined,
        root,
      );
      if (node.kind === 'array') {
        if (Array.isArray(known)) known.push(table);
        else put(root, keys, [table]);
      } else if (known instanceof Map) for (const [key, value] of table) known.set(key, value);
      else put(root, keys, table);
    }
    readTheme(plain(root), draft);
  }),

  encode() {
    throw new Error('Theme TOML is only read.');
  },
};

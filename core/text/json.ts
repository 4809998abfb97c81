import { visit } from 'jsonc-parser';
import { FormatError } from './error.ts';

/** Deeper than any swatch file, and than the stack of every engine. */
const MAX_DEPTH = 1000;

/** @throws FormatError with the line and column of the slip; the engines' own messages do not tell it alike */
export function parseJson(text: string): unknown {
  const deep = tooDeep(text);
  if (deep !== null)
    throw new FormatError(
      `${placeOf(text, deep)}: values lie more than ${MAX_DEPTH} deep; more than a swatch file needs.`,
    );
  try {
    const value: unknown = JSON.parse(text);
    return WHOLE_NUMBER_KEY.test(text) ? inOrder(text) : value;
  } catch (error) {
    throw new FormatError(
      `${placeOf(text, slipOf(text, (error as Error).message))}: the JSON is damaged. Get the file again from where it was made.`,
    );
  }
}

/** Keys that engines put before all others, whatever the order of the text. */
const WHOLE_NUMBER_KEY = /"\d+"\s*:/;
/** Where an object keeps the order of its keys that it cannot have itself. */
const KEYS = Symbol('keys in the order of the text');

/** The keys and values of an object that {@link parseJson} gave, in the order of the text. */
export function entriesOf(node: object): [key: string, value: unknown][] {
  const keys = (node as { [KEYS]?: Set<string> })[KEYS];
  return keys ? [...keys].map((key) => [key, (node as Record<string, unknown>)[key]]) : Object.entries(node);
}

/** An object of these keys and values, which {@link entriesOf} gives in this order. */
export function recordOf(
  entries: readonly (readonly [key: string, value: unknown])[],
): Record<string, unknown> {
  const node: Record<string, unknown> = {};
  Object.defineProperty(node, KEYS, { value: new Set(entries.map(([key]) => key)) });
  for (const [key, value] of entries)
    Object.defineProperty(node, key, { value, enumerable: true, writable: true, configurable: true });
  return node;
}

/** Sound JSON as its value, each object with the order of its keys. */
function inOrder(text: string): unknown {
  const root: unknown[] = [];
  const open: { node: object; key: string | null }[] = [{ node: root, key: null }];
  const put = (value: unknown) => {
    const { node, key } = open.at(-1)!;
    if (Array.isArray(node)) node.push(value);
    else {
      (node as { [KEYS]: Set<string> })[KEYS].add(key!);
      Object.defineProperty(node, key!, { value, enumerable: true, writable: true, configurable: true });
    }
  };
  const enter = (node: object) => {
    put(node);
    open.push({ node, key: null });
  };
  visit(text, {
    onObjectBegin: () => enter(Object.defineProperty({}, KEYS, { value: new Set<string>() })),
    onArrayBegin: () => enter([]),
    onObjectProperty: (key) => {
      open.at(-1)!.key = key;
    },
    onLiteralValue: put,
    onObjectEnd: () => void open.pop(),
    onArrayEnd: () => void open.pop(),
  });
  return root[0];
}

function placeOf(text: string, offset: number): string {
  const before = text.slice(0, offset);
  return `line ${before.split('\n').length}, column ${before.length - before.lastIndexOf('\n')}`;
}

/** Where the first thing stands that is no JSON. */
function slipOf(text: string, said: string): number {
  // the parser that finds it everywhere takes too long for these; most engines tell the place
  if (text.length > 1_000_000) return Number(/at position (\d+)/.exec(said)?.[1] ?? text.length);
  let slip = text.length;
  try {
    visit(
      text,
      {
        onError(_code, offset) {
          slip = offset;
          // one is enough
          throw new Error();
        },
      },
      { disallowComments: true },
    );
  } catch {
    // found
  }
  return slip;
}

/** Where brackets lie too deep, outside of strings; null when they do not. */
function tooDeep(text: string): number | null {
  let depth = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (quoted) {
      if (c === 0x5c) i++;
      else if (c === 0x22) quoted = false;
    } else if (c === 0x22) quoted = true;
    else if (c === 0x5b || c === 0x7b) {
      if (++depth > MAX_DEPTH) return i;
    } else if (c === 0x5d || c === 0x7d) depth--;
  }
  return null;
}

export const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

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
    return JSON.parse(text);
  } catch (error) {
    throw new FormatError(
      `${placeOf(text, slipOf(text, (error as Error).message))}: the JSON is damaged. Get the file again from where it was made.`,
    );
  }
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

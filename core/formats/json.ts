import { type ParseError, parse } from 'jsonc-parser';
import { FormatError } from './format.ts';

/** @throws FormatError with the line and column of the slip; the engines' own messages do not tell it */
export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    const errors: ParseError[] = [];
    parse(text, errors, { disallowComments: true });
    const before = text.slice(0, errors[0]?.offset ?? text.length);
    throw new FormatError(
      `line ${before.split('\n').length}, column ${before.length - before.lastIndexOf('\n')}: the JSON is damaged. Get the file again from where it was made.`,
    );
  }
}

export const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

import { FormatError } from './format.ts';

/** @throws FormatError with the line and column of the slip, where the engine tells its place */
export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    const message = error instanceof Error ? error.message : '';
    const at = /position (\d+)/.exec(message);
    const before = at ? text.slice(0, Number(at[1])) : text;
    const line = before.split('\n').length;
    const where = at
      ? `line ${line}, column ${before.length - before.lastIndexOf('\n')}`
      : `line ${line}, its end`;
    throw new FormatError(`${where}: the JSON is damaged. Get the file again from where it was made.`);
  }
}

export const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

import { CommanderError, InvalidArgumentError } from 'commander';
import { type Color, NotationError, parseColor } from '../core/color/index.ts';
import { type Format, FormatError, formatByEnding, formatById, writable } from '../core/formats/index.ts';

// What stands behind an option or argument, read. Each parser throws what Commander reports with the option's name.

/** A command that was put together wrongly; exit code 2. */
export const wrongUsage = (message: string) => new CommanderError(2, 'usage', `error: ${message}`);

interface Range {
  min?: number;
  max?: number;
  whole?: boolean;
  /** What is added to the message. */
  hint?: string;
}

/** A number within a range, both ends included. */
export function asNumber({ min = Number.NEGATIVE_INFINITY, max = Infinity, whole, hint }: Range = {}) {
  const ends = [
    ...(min > Number.NEGATIVE_INFINITY
      ? [max < Infinity ? `from ${min} to ${max}` : `of ${min} or more`]
      : []),
  ];
  return (text: string): number => {
    const value = Number(text);
    const isNumber = whole ? Number.isInteger(value) : Number.isFinite(value);
    if (text.trim() === '' || !isNumber || value < min || value > max)
      throw new InvalidArgumentError(
        `Use ${['a', ...(whole ? ['whole'] : []), 'number', ...ends].join(' ')}${hint ? `; ${hint}` : ''}.`,
      );
    return value;
  };
}

/** How far two colours may be apart. */
export const asDifference = asNumber({ min: 0, max: 100 });

/** One of some words. */
export const oneOf =
  <T extends string>(list: readonly T[], read = (text: string): string => text) =>
  (text: string): T => {
    const found = list.find((id) => id === read(text));
    if (found === undefined) throw new InvalidArgumentError(`Use one of ${list.join(', ')}.`);
    return found;
  };

/** One of some things with an id. */
export const oneById =
  <T extends { id: string }>(list: readonly T[]) =>
  (text: string): T => {
    const found = list.find(({ id }) => id === text);
    if (!found) throw new InvalidArgumentError(`Use one of ${list.map(({ id }) => id).join(', ')}.`);
    return found;
  };

/** An option that may be given several times. */
export const repeated =
  <T>(one: (text: string) => T) =>
  (text: string, before: T[] = []): T[] => [...before, one(text)];

/** Names as they are. */
export const eachName = repeated((name) => name);

/** A format by its id. */
export function asFormat(id: string): Format {
  try {
    return formatById(id);
  } catch (error) {
    throw new InvalidArgumentError((error as Error).message);
  }
}

/** A format that can be written. */
export function asWritable(id: string): Format {
  const format = asFormat(id);
  if (!format.traits.write)
    throw new InvalidArgumentError(
      `${format.name} is only read. Written are ${writable.map((f) => f.id).join(', ')}.`,
    );
  return format;
}

/** The format that a file's ending names. */
export function byEnding(file: string): Format {
  const format = formatByEnding(file);
  if (!format)
    throw wrongUsage(
      `the ending of ${file} names no format; add --to with one of ${writable.map((f) => f.id).join(', ')}`,
    );
  return format;
}

/** A colour as it is typed. @throws FormatError naming the text */
export function asColor(text: string): Color {
  try {
    return parseColor(text);
  } catch (error) {
    if (!(error instanceof NotationError)) throw error;
    throw new FormatError(`“${text}”: ${error.message}`);
  }
}

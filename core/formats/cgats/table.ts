import { FormatError } from '../../text/error.ts';
import { linesOf } from '../../text/text.ts';

/** What stands in a table of ISO 28178, in its order. */
export type TablePart =
  | { kind: 'keyword'; key: string; words: string[] }
  /** The names of the columns, in capitals. */
  | { kind: 'columns'; columns: string[] }
  /** The values of one set, which may go on over several lines; there may be more or fewer than columns. */
  | { kind: 'set'; words: string[]; line: number };

const MAX_COLUMNS = 10_000;
const WORD = /^[^\s"#]+/;
const MAX_WORD_CHARACTERS = 10_000;

/**
 * Words of a line up to a remark, which begins with “#”; a quoted one may hold blanks. Some quote with apostrophes, and some double the
 * quotes inside.
 */
function wordsOf(line: string): string[] {
  const words: string[] = [];
  for (let at = 0; at < line.length; ) {
    const c = line[at]!;
    if (c === '#') break;
    if (/\s/.test(c)) at++;
    else if (c === '"' || (c === "'" && /'(?:\s|$)/.test(line.slice(at + 1, at + 1 + MAX_WORD_CHARACTERS)))) {
      let end = line.indexOf(c, at + 1);
      if (c === '"') while (end >= 0 && line[end + 1] === c) end = line.indexOf(c, end + 2);
      // a quote that is never closed is not a quote
      if (end < 0) at++;
      else {
        const word = line.slice(at + 1, end);
        words.push(c === '"' ? word.replaceAll('""', '"') : word);
        at = end + 1;
      }
    } else {
      const rest = WORD.exec(line.slice(at, at + MAX_WORD_CHARACTERS))?.[0] ?? c;
      words.push(rest);
      at += rest.length;
    }
  }
  return words;
}

/**
 * Reads tables, part by part; a file may hold several.
 *
 * @throws FormatError for data without columns, or more columns than a table of colours has
 */
export function* readTable(text: string): Generator<TablePart> {
  let columns: string[] | null = null;
  let format: string[] = [];
  let place: 'head' | 'format' | 'data' = 'head';
  /** A set of values that is not complete yet, and the line it begins in. */
  let wrapped: string[] = [];
  let begun = 0;
  let n = 0;
  for (const line of linesOf(text)) {
    n++;
    const words = wordsOf(line);
    const [key] = words;
    if (key === undefined) continue;
    if (key === 'BEGIN_DATA_FORMAT') [place, format] = ['format', []];
    else if (key === 'END_DATA_FORMAT') {
      [place, columns] = ['head', format.map((f) => f.toUpperCase())];
      yield { kind: 'columns', columns };
    } else if (place === 'format') {
      format = [...format, ...words];
      if (format.length > MAX_COLUMNS)
        throw new FormatError(
          `its format names more than ${MAX_COLUMNS} columns, more than a table of colours has.`,
        );
    } else if (key === 'BEGIN_DATA') {
      place = 'data';
      if (!columns)
        throw new FormatError(`line ${n}: data begin, but no BEGIN_DATA_FORMAT said what they are.`);
    } else if (key === 'END_DATA') {
      if (wrapped.length > 0) yield { kind: 'set', words: wrapped, line: begun };
      [place, wrapped] = ['head', []];
    } else if (place === 'data' && columns) {
      if (wrapped.length === 0 && words.length >= columns.length) {
        yield { kind: 'set', words, line: n };
        continue;
      }
      // a set may go on in the next lines
      if (wrapped.length === 0) begun = n;
      wrapped.push(...words);
      if (wrapped.length < columns.length) continue;
      yield { kind: 'set', words: wrapped, line: begun };
      wrapped = [];
    } else yield { kind: 'keyword', key, words: words.slice(1) };
  }
  if (!columns)
    throw new FormatError('it has no BEGIN_DATA_FORMAT … END_DATA_FORMAT that says what its columns are.');
}

import { FormatError } from './error.ts';

/** `1 swatch`, `2 swatches`… */
export function plural(n: number, one: string, many = `${one}s`): string {
  return n === 1 ? `1 ${one}` : `${n} ${many}`;
}

/** What old systems put behind the end of a text: NUL, and Ctrl-Z of CP/M and DOS. */
const isPadding = (byte: number | undefined) => byte === 0 || byte === 0x1a;

/** Control characters that no text has. */
const CONTROLS = /[\0-\x08\x0e-\x1a\x1c-\x1f]/;

/**
 * Text from bytes: UTF-8, or UTF-16 where a byte order mark says so, else Latin-1. Returns null when the bytes
 * are not text: they hold control characters that no text file has.
 * @param cut they are the beginning of more, so that the last character may be incomplete
 */
export function readText(bytes: Uint8Array, cut = false): string | null {
  const mark = (bytes[0] << 8) | bytes[1];
  if (mark === 0xfffe || mark === 0xfeff)
    return new TextDecoder(mark === 0xfffe ? 'utf-16le' : 'utf-16be').decode(bytes, { stream: cut });
  let end = bytes.length;
  while (!cut && isPadding(bytes[end - 1])) end--;
  // what is not text mostly says so at once
  for (let i = 0; i < Math.min(end, 64); i++) if (bytes[i]! < 9) return null;
  const part = bytes.subarray(0, end);
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(part, { stream: cut });
  } catch {
    text = new TextDecoder('latin1').decode(part);
  }
  if (CONTROLS.test(text)) return null;
  // lines that end as on old systems, with CR alone
  return text.includes('\r') && !text.includes('\n') ? text.replaceAll('\r', '\n') : text;
}

/** The beginning of a text, for recognising what it is without reading all of it; null when it is none. */
export const sniff = (bytes: Uint8Array, most: number): string | null =>
  bytes.length <= most ? readText(bytes) : readText(bytes.subarray(0, most), true);

/** Whether bytes are words rather than a table of numbers that happens to hold no control characters. */
export function looksLikeText(bytes: Uint8Array): boolean {
  const text = readText(bytes);
  if (!text) return false;
  // UTF-8 of other scripts is not an accident; what was taken for Latin-1 or UTF-16 may be
  const latin = text.replace(/[^\x09-\x7e]/g, '').length;
  return (
    latin >= text.length * 0.75 || (!hasMark(bytes) && new TextEncoder().encode(text).length === bytes.length)
  );
}
const hasMark = (bytes: Uint8Array) => bytes[0]! + bytes[1]! === 0x1fd;

/** {@link sniff}, whole lines only. */
export function beginningOf(bytes: Uint8Array, most = 1 << 18): string | null {
  const text = sniff(bytes, most);
  return bytes.length <= most ? text : (text?.slice(0, text.lastIndexOf('\n') + 1 || text.length) ?? null);
}

/** Text as UTF-8 bytes. */
export function writeText(text: string): Uint8Array<ArrayBuffer> {
  return new TextEncoder().encode(text);
}

/** Shortens text to this many UTF-16 units without cutting a character in two. */
export function cutText(text: string, units: number): string {
  if (text.length <= units) return text;
  const last = text.charCodeAt(units - 1);
  return text.slice(0, last >= 0xd800 && last < 0xdc00 ? units - 1 : units);
}

/** A line break inside a name would begin a new entry, and other control characters make a file that is not text. */
export const oneLine = (text: string) => text.replace(/[\0-\x08\n-\x1f\x7f\u2028\u2029]+/g, ' ');

/** More lines, and longer ones, than any text has that is a list. */
const MAX_LINES = 1_000_000;
const MAX_LINE_CHARACTERS = 1_000_000;

/**
 * The lines of a text, however they end, one by one: millions are not to be held all at once.
 * @throws FormatError when there are too many, or one is too long
 */
export function* linesOf(text: string): Generator<string> {
  let at = 0;
  // the next of each, so that a text without one is not searched to its end again and again
  let feed = text.indexOf('\n');
  let carriage = text.indexOf('\r');
  for (let line = 1; ; line++) {
    if (feed >= 0 && feed < at) feed = text.indexOf('\n', at);
    if (carriage >= 0 && carriage < at) carriage = text.indexOf('\r', at);
    const end = feed < 0 ? carriage : carriage < 0 ? feed : Math.min(feed, carriage);
    if (line > MAX_LINES)
      throw new FormatError(
        `it has more than ${MAX_LINES.toLocaleString('en')} lines, more than a swatch file needs.`,
      );
    if ((end < 0 ? text.length : end) - at > MAX_LINE_CHARACTERS)
      throw new FormatError(
        `line ${line} has more than ${MAX_LINE_CHARACTERS.toLocaleString('en')} characters; more than a swatch file needs.`,
      );
    if (end < 0) {
      yield text.slice(at);
      return;
    }
    yield text.slice(at, end);
    at = end + (text[end] === '\r' && text[end + 1] === '\n' ? 2 : 1);
  }
}

/** A style sheet with blanks in the place of its remarks; one that is never closed goes on to the end. */
export function blankRemarks(text: string): string {
  const parts: string[] = [];
  for (let at = 0; ; ) {
    const from = text.indexOf('/*', at);
    if (from < 0) return parts.join('') + text.slice(at);
    const end = text.indexOf('*/', from + 2);
    const to = end < 0 ? text.length : end + 2;
    parts.push(text.slice(at, from), ' '.repeat(to - from));
    at = to;
  }
}

/** The parts of a text between commas that lie in no brackets or quotes. */
export function commaParts(text: string): string[] {
  const parts: string[] = [];
  let depth = 0;
  let quote = '';
  let from = 0;
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (quote) quote = c === quote ? '' : quote;
    else if (c === '"' || c === "'") quote = c;
    else if (c === '(') depth++;
    else if (c === ')') depth--;
    else if (c === ',' && depth === 0) {
      parts.push(text.slice(from, i));
      from = i + 1;
    }
  }
  return [...parts, text.slice(from)].map((p) => p.trim());
}

/** Recognises text by what it begins with. */
export const beginningWith = (line: string) => (bytes: Uint8Array) =>
  sniff(bytes, 64)?.startsWith(line) ? 1 : 0;

/**
 * Makes names unique: a second `hull` becomes `hull-2`.
 * @param alike what names are the same by, such as {@link sameFile}
 */
export function uniquely(join = '-', alike = (name: string) => name): (name: string) => string {
  const taken = new Set<string>();
  const counts = new Map<string, number>();
  return (base) => {
    let name = base;
    let n = counts.get(alike(base)) ?? 1;
    while (taken.has(alike(name))) name = `${base}${join}${++n}`;
    counts.set(alike(base), n);
    taken.add(alike(name));
    return name;
  };
}

/**
 * Keeps texts apart that were cut to this many characters: when another text became the same, its end becomes a number.
 * Texts that were equal before stay equal.
 */
export function keptApart(length: number): (text: string, cut: string) => string {
  const taken = new Map<string, string>();
  const given = new Map<string, string>();
  return (text, cut) => {
    const known = given.get(text);
    if (known !== undefined) return known;
    let free = cut;
    for (let n = 2; (taken.get(free) ?? text) !== text; n++) {
      const end = `~${n}`;
      free = `${cut.slice(0, length - end.length)}${end}`;
    }
    taken.set(free, text);
    given.set(text, free);
    return free;
  };
}

/** A number with at most this many decimals, and no zeros at its end. */
export const short = (value: number, decimals: number) => String(Number(value.toFixed(decimals)));

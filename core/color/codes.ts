import type { Color } from './model.ts';
import { fromCss, LETTERED_NUMBERS, NotationError, parseColor } from './notation.ts';
import { fromRgb8 } from './spaces.ts';

/** Something a code leaves open, so that whoever knows must be asked. */
export type Question = 'alpha' | 'hex-or-rgb' | 'cmyk-or-alpha' | 'one-or-two' | 'ways';

/** A colour as a code gives it, with the alpha it gives, 0–1. */
export interface CodeColor {
  color: Color;
  alpha?: number;
}

/** One way to understand a code. */
export interface Reading {
  id: string;
  /** In plain words, short. */
  label: string;
  colors: CodeColor[];
}

/** What was found at a place in a line. */
export interface Code {
  /** Where it begins and ends, in characters of the line. */
  from: number;
  to: number;
  /** As the line calls it; empty when it does not. */
  name: string;
  /** One where the code is plain, several where it asks {@link question}, none where there is a {@link problem}. */
  readings: Reading[];
  question?: Question;
  /** Why it could not be read, and what to do. */
  problem?: string;
  /** What to write instead, where that can be guessed. */
  instead?: string;
}

/** A stretch of a line: a code, a name, marks that say nothing by themselves, or words that were not read. */
export interface Part {
  from: number;
  to: number;
  is: 'code' | 'name' | 'mark' | 'unread';
}

export interface CodeLine {
  codes: Code[];
  parts: Part[];
}

const one = (color: Color, alpha?: number): Reading => ({
  id: 'only',
  label: '',
  colors: [{ color, ...(alpha === undefined || alpha >= 1 ? {} : { alpha }) }],
});

type Found = Omit<Code, 'name'> & { notation: string };

/**
 * Finds the colours in one line of any text: hex codes with and without `#` or `0x`, with spaces inside as people type
 * them; CSS functions and names; lettered and bare numbers as the trade writes them. Names are what stands before the
 * codes, or behind them when nothing does.
 *
 * A code that could mean two things keeps both readings and the question between them; one that is nearly a code says
 * what is wrong with it. Nothing is left out: every character lies in exactly one part.
 */
export function readCodes(line: string): CodeLine {
  let found = marked(line);
  if (found.length === 0) found = bare(line);
  found = inSeveralWays(line, found);
  return named(line, found);
}

/** What a code gives when its question is answered; nothing while it is open. */
export function answered({ readings, question }: Code, answer?: string): CodeColor[] {
  if (!question) return readings[0]?.colors ?? [];
  return readings.find((r) => r.id === answer)?.colors ?? [];
}

// ── codes that are marked as such ──

const FUNCTION =
  /(?<![\p{L}\p{N}_-])(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color|hs[bv]|(?:device-)?cmyk|gr[ae]y)\s*\([^()]*\)/giu;
const UNFINISHED = /(?<![\p{L}\p{N}_-])(?:rgba?|hsla?|hwb|lch|oklab|oklch|cmyk)\s*\([^()]*$/giu;
/** Not an entity, nor the name of a part of a document. */
const HASH = /(?<![&\p{L}\p{N}_])#|(?<![\p{L}\p{N}_])0x(?=\s*[0-9a-f])/giu;
const LINKS = /url\(\s*["']?#[^)]*\)|(?:href|id|class)\s*=\s*(?:"[^"]*"|'[^']*')/gi;

function marked(line: string): Found[] {
  const found: Found[] = [];
  const free = (from: number, to: number) => found.every((f) => to <= f.from || from >= f.to);
  const links = [...line.matchAll(LINKS)].map((m) => ({ from: m.index, to: m.index + m[0].length }));
  for (const match of line.matchAll(FUNCTION)) found.push(called(match[0], match.index));
  for (const match of line.matchAll(UNFINISHED))
    found.push({
      from: match.index,
      to: match.index + match[0].length,
      notation: '',
      readings: [],
      problem: 'The bracket is not closed.',
    });
  for (const match of line.matchAll(HASH)) {
    const from = match.index;
    if (!free(from, from + 1) || links.some((l) => from >= l.from && from < l.to)) continue;
    const hex = hexAfter(line, from, from + match[0].length);
    if (hex) found.push(hex);
  }
  for (const match of line.matchAll(LETTERED_NUMBERS)) {
    const text = match[0].trimEnd();
    if (free(match.index, match.index + text.length)) found.push(called(text, match.index));
  }
  for (const match of line.matchAll(/(?<=[:=]\s*["']?)[a-z]{3,20}(?=["']?\s*(?:[;,}"'!/>]|$))/gi)) {
    const css = keyword(match[0]);
    if (css && free(match.index, match.index + match[0].length))
      found.push({
        from: match.index,
        to: match.index + match[0].length,
        notation: 'word',
        readings: [one(css)],
      });
  }
  return found.sort((a, b) => a.from - b.from);
}

/** A CSS colour name. */
function keyword(word: string): Color | null {
  if (!/^[a-z]{3,20}$/i.test(word) || isHex(word) || /^transparent$/i.test(word)) return null;
  return fromCss(word)?.color ?? null;
}

/** A function or lettered numbers. */
function called(text: string, from: number): Found {
  const to = from + text.length;
  const notation = (/^([a-z-]+)\s*\(/i.exec(text)?.[1] ?? '')
    .toLowerCase()
    .replace(/^device-|(?<=rgb|hsl)a$/, '');
  const device = /^device-cmyk\s*\(([^()]*)\)$/i.exec(text);
  // CSS counts the inks of device-cmyk from 0 to 1
  const plain = device
    ? `cmyk(${device[1].replace(/(?<![\d.])(\d*\.?\d+)(?![\d.%])/g, (n) => `${Number(n) * 100}`)})`
    : text.replace(/\s*\(/, '(');
  const css = fromCss(plain);
  try {
    const color = parseColor(plain);
    const over = /^rgba?\(/i.test(plain) && color.components.findIndex((v) => v < 0 || v > 1 + 1e-9);
    if (typeof over === 'number' && over >= 0)
      throw new NotationError(
        `${'RGB'[over]} is ${Math.round(color.components[over] * 255)}; RGB takes 0 to 255.`,
      );
    return { from, to, notation: notation || color.space, readings: [one(color, css?.alpha)] };
  } catch (error) {
    const problem =
      error instanceof NotationError && !error.message.startsWith('“')
        ? error.message
        : `“${text}” is not finished or has a part that does not belong there.`;
    return { from, to, notation, readings: [], problem };
  }
}

const LENGTHS = [6, 3, 8, 4];
const isHex = (text: string) => /^[0-9a-f]+$/i.test(text);

/** The digits behind a mark, with the spaces people and recognisers put between them. */
function hexAfter(line: string, from: number, start: number): Found | null {
  const tokens = tokensFrom(line, start);
  if (tokens.length === 0) return null;
  const first = tokens[0];
  const ends: { digits: string; to: number }[] = [];
  let digits = '';
  for (const token of tokens) {
    if (!isHex(token.text) || digits.length + token.text.length > 8) break;
    digits += token.text;
    ends.push({ digits, to: token.to });
    if (digits.length === 6 && token === first) break;
  }
  const sound = ends.filter((e) => LENGTHS.includes(e.digits.length));
  if (sound.length === 0) return misread(line, from, start, first);
  const fits = [...sound].sort(
    (a, b) => LENGTHS.indexOf(a.digits.length) - LENGTHS.indexOf(b.digits.length),
  )[0];
  // “#fff bad” may be one code, or a short one and a word that has only hex letters
  const short = sound.find((e) => e.digits.length < fits.digits.length && e.to === first.to);
  if (short && fits.digits.length === 6 && !/\d/.test(line.slice(short.to, fits.to)))
    return {
      from,
      to: fits.to,
      notation: 'hex',
      question: 'one-or-two',
      readings: [
        { id: 'one', label: `one code, #${fits.digits}`, colors: [ofDigits(fits.digits)] },
        { id: 'two', label: `#${short.digits}, and a word`, colors: [ofDigits(short.digits)] },
      ],
    };
  return { from, to: fits.to, notation: 'hex', ...digitsRead(fits.digits, inCss(line, from)) };
}

function tokensFrom(line: string, start: number): { text: string; to: number }[] {
  const tokens: { text: string; to: number }[] = [];
  const pattern = /[ \t]*([\p{L}\p{N}]+)/uy;
  pattern.lastIndex = start;
  for (let match = pattern.exec(line); match && tokens.length < 9; match = pattern.exec(line))
    tokens.push({ text: match[1], to: pattern.lastIndex });
  return tokens;
}

/** A style sheet or a drawing, where alpha stands last by the standard (CSS Color 4, section 5.2). */
const inCss = (line: string, at: number) =>
  /(?:--[\w-]+|\b(?:color|background|fill|stroke|border|outline|shadow)[\w-]*)\s*[:=]\s*["']?[^;"']*$/i.test(
    line.slice(0, at),
  );

function ofDigits(digits: string, alphaFirst = false): CodeColor {
  const long = digits.length < 6 ? [...digits].map((d) => d + d).join('') : digits;
  const [w, x, y, z] = [0, 2, 4, 6].map((i) => Number.parseInt(long.slice(i, i + 2), 16));
  if (long.length === 6) return { color: fromRgb8(w, x, y) };
  const [rgb, a] = alphaFirst ? [fromRgb8(x, y, z), w] : [fromRgb8(w, x, y), z];
  return a < 255 ? { color: rgb, alpha: a / 255 } : { color: rgb };
}

/** Four and eight digits hold an alpha, which some write first and others last. */
function digitsRead(digits: string, css = false): Pick<Found, 'readings' | 'question'> {
  const last = { id: 'last', label: 'alpha last', colors: [ofDigits(digits)] };
  if (digits.length % 4 !== 0 || css) return { readings: [{ ...last, id: 'only', label: '' }] };
  return {
    question: 'alpha',
    readings: [last, { id: 'first', label: 'alpha first', colors: [ofDigits(digits, true)] }],
  };
}

/** What a recogniser takes for a digit, and the digit it looks like. */
const ALIKE: Record<string, string> = { o: '0', q: '0', i: '1', l: '1', z: '2', s: '5', g: '6' };

function misread(
  line: string,
  from: number,
  start: number,
  token: { text: string; to: number },
): Found | null {
  const { text, to } = token;
  const fixed = text.toLowerCase().replace(/[oqilzsg]/g, (c) => ALIKE[c]);
  const wrong = [...text].find((c) => !isHex(c));
  if (!wrong) {
    // “#1” counts something, and is not a code at all
    if (text.length < 3) return null;
    return {
      from,
      to,
      notation: 'hex',
      readings: [],
      problem: `${text.length} digits; a code has 3, 4, 6 or 8.`,
    };
  }
  if (!/\d/.test(text) || !isHex(fixed) || !LENGTHS.includes(fixed.length)) return null;
  return {
    from,
    to,
    notation: 'hex',
    readings: [],
    problem: `“${wrong}” is not a hex digit.`,
    instead: line.slice(from, start) + fixed,
  };
}

// ── codes without a mark ──

const BARE_NUMBERS =
  /(?<![\p{L}\p{N}.+-])([-+]?(?:\d*\.)?\d+%?)((?:[ \t]*[,;/][ \t]*|[ \t]+)[-+]?(?:\d*\.)?\d+%?){2,3}(?![\p{L}\p{N}.%]|[ \t]*[,;/]?[ \t]*\d)/gu;

/** Where nothing in a line is marked as a code, what looks like one. */
function bare(line: string): Found[] {
  const words = line.trim();
  const at = line.indexOf(words);
  const whole = { from: at, to: at + words.length };
  const word = keyword(words);
  if (word) return [{ ...whole, notation: 'word', readings: [one(word)] }];
  const numbers = [...line.matchAll(BARE_NUMBERS)].flatMap((m) => {
    // “Pale 2 138 28 36”: the first of four belongs to the name
    const [own] = /\p{L}[ \t]+$/u.test(line.slice(0, m.index))
      ? (/^\d+[ \t]+(?=\d+[ \t]+\d+[ \t]+\d+$)/.exec(m[0]) ?? [''])
      : [''];
    const text = m[0].slice(own.length);
    const read = numbersRead(text);
    return read
      ? [{ from: m.index + own.length, to: m.index + m[0].length, notation: 'numbers', ...read }]
      : [];
  });
  if (numbers.length > 0) return numbers;
  const spaced = spacedHex(line);
  if (spaced) return [spaced];
  const lone = tokensOf(line);
  return lone.flatMap(({ text, from, to }): Found[] => {
    const alone = lone.length === 1;
    const likely = /\d/.test(text) && (text.length !== 3 || /[a-f]/i.test(text));
    if (!isHex(text) || ![3, 6, 8].includes(text.length) || !(alone || likely)) return [];
    return [{ from, to, notation: 'hex', ...digitsRead(text) }];
  });
}

const tokensOf = (line: string) =>
  [...line.matchAll(/(?<![\p{L}\p{N}_.-])[\p{L}\p{N}]+(?![\p{L}\p{N}_]|[.-]\d)/gu)].map((m) => ({
    text: m[0],
    from: m.index,
    to: m.index + m[0].length,
  }));

/** Six or eight digits in groups, as all that stands in the line or at its end: `8a 1c 24`, `Hull 8a 1c 24`. */
function spacedHex(line: string): Found | null {
  const match =
    /(?:^|[:=|\t–—-])[ \t"']*((?:[0-9a-f]{1,4}[ \t]+){1,7}[0-9a-f]{1,4})[ \t"',;]*$/i.exec(line) ??
    /[ \t]((?:[0-9a-f]{2}[ \t]){2}[0-9a-f]{2})[ \t"',;]*$/i.exec(line);
  if (!match) return null;
  const digits = match[1].replace(/[ \t]/g, '');
  if (![6, 8].includes(digits.length) || !/\d/.test(digits)) return null;
  const from = match.index + match[0].indexOf(match[1]);
  return { from, to: from + match[1].length, notation: 'hex', ...digitsRead(digits) };
}

/** Three or four bare numbers. */
function numbersRead(text: string): Pick<Found, 'readings' | 'question'> | null {
  const parts = text.split(/[ \t]*[,;/][ \t]*|[ \t]+/);
  const n = parts.map((p) => Number(p.replace('%', '')));
  const percent = parts.every((p) => p.endsWith('%'));
  const whole = !text.includes('.');
  const within = (max: number, list = n) => list.every((v) => v >= 0 && v <= max);
  const cmyk: Color = { space: 'cmyk', components: n.map((v) => v / 100) };
  const rgb: Color = {
    space: 'rgb',
    components: n.slice(0, 3).map((v) => v / (percent ? 100 : within(1) && !whole ? 1 : 255)),
  };
  if (n.length === 4) {
    if (percent) return within(100) ? { readings: [one(cmyk)] } : null;
    const alpha = n[3] <= 1 && parts[3].includes('.') ? n[3] : n[3] / 255;
    const asRgb = within(255) ? one(rgb, alpha) : null;
    if (!within(100)) return asRgb && { readings: [asRgb] };
    return {
      question: 'cmyk-or-alpha',
      readings: [
        { id: 'cmyk', label: 'CMYK', colors: [{ color: cmyk }] },
        { id: 'rgba', label: 'RGB and alpha', colors: asRgb?.colors ?? [] },
      ],
    };
  }
  if (!within(255)) {
    // only Lab has negative numbers
    const lab = n[0] >= 0 && n[0] <= 100 && within(128, n.slice(1).map(Math.abs)) && n.some((v) => v < 0);
    return lab ? { readings: [one({ space: 'lab', components: n })] } : null;
  }
  if (percent && !within(100)) return null;
  if (parts.every((p) => /^\d\d$/.test(p)) && /^\d\d[ \t]+\d\d[ \t]+\d\d$/.test(text))
    return {
      question: 'hex-or-rgb',
      readings: [
        { id: 'rgb', label: 'RGB in numbers', colors: [{ color: rgb }] },
        { id: 'hex', label: `hex #${parts.join('')}`, colors: [ofDigits(parts.join(''))] },
      ],
    };
  return { readings: [one(rgb)] };
}

// ── one colour in several notations ──

const NOTATIONS: Record<string, string> = {
  rgb: 'RGB',
  cmyk: 'CMYK',
  hsb: 'HSB',
  hsl: 'HSL',
  lab: 'Lab',
  numbers: 'numbers',
};

/** A line that gives a hex code, RGB and CMYK is likely one colour in a style guide; but who knows? */
function inSeveralWays(line: string, found: Found[]): Found[] {
  const kinds = new Set(found.map((f) => f.notation));
  if (found.length < 2 || kinds.size < found.length || found.some((f) => f.readings.length !== 1))
    return found;
  const between = found.slice(1).map((f, i) => line.slice(found[i].to, f.from));
  if (kinds.has('word') || between.some((text) => /[;{}<>"]/.test(text))) return found;
  const [first, last] = [found[0], found[found.length - 1]];
  return [
    {
      from: first.from,
      to: last.to,
      notation: 'ways',
      question: 'ways',
      readings: [
        ...found.map((f) => ({
          id: f.notation,
          label: NOTATIONS[f.notation] ?? f.notation,
          colors: f.readings[0].colors,
        })),
        {
          id: 'each',
          label: found.length === 2 ? 'both' : `all ${found.length}`,
          colors: found.flatMap((f) => f.readings[0].colors),
        },
      ],
    },
  ];
}

// ── names, and what is left ──

/** Properties of style sheets and drawings say where a colour is used, not what it is called. */
const PROPERTY =
  /^(?:-webkit-|-moz-)?(?:accent|background|border|box|caret|color|column|fill|flood|lighting|outline|scrollbar|stop|stroke|text|\$?value|hex|rgb|code)(?:-[a-z-]+)?$/i;
const NAMING = /\b(?:[\w-]+[:-])?(?:name|label|title)\s*=\s*(?:"([^"]*)"|'([^']*)')/gi;
const DECLARED =
  /^\s*(?:(?:export|public|private|static|final)\s+)*(?:const|let|var|val|int|uint32_t|#define)\s+([\p{L}_$][\p{L}\p{N}_$]*)/u;
const DECLARING = /^[\s;]*(?:export|public|private|static|final|const|let|var|val|int|uint32_t|#define|\s)+$/;
const VARIABLE = /(?:--|[$@])([\p{L}\p{N}_-]+)["']?\s*[:=]\s*["']?$/u;
/** What stands round names: numbering, bullets, brackets, quotes, separators. */
const EDGES =
  /^(?:\s|\d+[.)](?=\s)|#\d+\b|[-–—•*·:;=|,>→"'“”‘’`(){}[\]<\\/+.])+|(?:\s|[-–—•*·:;=|,>→"'“”‘’`({[<\\/+])+$/gu;

/** The name in a stretch before or behind a code, and where it stands; null where there is none. */
function nameIn(text: string): { name: string; from: number; to: number } | null {
  const attribute = /[<>]|[\w-]\s*=\s*(?:"[^"]*"|'[^']*')/.test(text) && [...text.matchAll(NAMING)].pop();
  const given = attribute && (attribute[1] ?? attribute[2]).trim();
  if (attribute && given) {
    const from = attribute.index + attribute[0].lastIndexOf(given);
    return { name: given, from, to: from + given.length };
  }
  for (const pattern of [DECLARED, VARIABLE]) {
    const match = pattern.exec(text);
    if (!match) continue;
    const from = match.index + match[0].indexOf(match[1]);
    return { name: match[1], from, to: from + match[1].length };
  }
  // tags and attributes become blanks, so that places stay
  const blank = (tag: string) => ' '.repeat(tag.length);
  const bare = text
    .replace(/^[^<]*>|<[^>]*(?:>|$)/g, blank)
    .replace(/[\w:-]+\s*=\s*(?:"[^"]*"|'[^']*')/g, blank)
    .replace(/^.*[{;](?=.*\S)/, blank);
  const name = bare.replace(EDGES, '');
  if (!/[\p{L}\p{N}]/u.test(name) || PROPERTY.test(name) || /^(?:and|or|to)$/i.test(name)) return null;
  const from = bare.indexOf(name);
  return { name, from, to: from + name.length };
}

const REMARK = /^\s*(?:\/\*|\*\/|\/\/|<!--|-->)/;

function named(line: string, found: Found[]): CodeLine {
  // the stretches between the codes, one more than there are codes
  const gaps = Array.from({ length: found.length + 1 }, (_, i) => ({
    from: i === 0 ? 0 : found[i - 1].to,
    to: i === found.length ? line.length : found[i].from,
  }));
  const names = gaps.map(({ from, to }) => nameIn(line.slice(from, to)));
  // names stand before the codes, or else behind them
  const behind = found.length > 0 && !names[0];
  const taken = new Set<number>();
  const codes = found.map(({ notation: _, ...code }, i): Code => {
    const gap = behind ? i + 1 : i;
    const own = names[gap];
    if (!own || (behind && REMARK.test(line.slice(gaps[gap].from)))) return { ...code, name: '' };
    taken.add(gap);
    return { ...code, name: own.name };
  });
  const parts: Part[] = [];
  gaps.forEach((gap, g) => {
    const own = names[g];
    const add = (from: number, to: number, is: Part['is']) => {
      if (to > from) parts.push({ from, to, is });
    };
    const rest = (from: number, to: number) => {
      const text = line.slice(from, to);
      // markup round a code is read over knowingly; words are not
      const words = /[\p{L}\p{N}]/u.test(text.replace(EDGES, ''));
      const markup = found.length > 0 && /[<>{}=;]|^\s*--/.test(text);
      add(from, to, words && !markup && !isProperty(text) && !DECLARING.test(text) ? 'unread' : 'mark');
    };
    if (own && taken.has(g)) {
      rest(gap.from, gap.from + own.from);
      add(gap.from + own.from, gap.from + own.to, 'name');
      rest(gap.from + own.to, gap.to);
    } else rest(gap.from, gap.to);
    const code = found[g];
    if (code) add(code.from, code.to, 'code');
  });
  return { codes, parts };
}

const isProperty = (text: string) => PROPERTY.test(text.replace(EDGES, ''));

// ── lines ──

/** Longer lines are cut at the ends of declarations, so that each colour has a line of its own. */
const LONG = 160;

/**
 * A text as lines for {@link readCodes}: blanks at the ends and empty lines are gone, full-width signs and hard spaces are
 * plain ones, functions that run over several lines are one line, and style sheets and drawings without line breaks get some.
 */
export function codeLines(text: string): string[] {
  return text
    .normalize('NFC')
    .replace(/[\u200b-\u200f\u2060\ufeff\u202a-\u202e]/g, '')
    .replace(/[\u00a0\u2000-\u200a\u202f\u3000]/g, ' ')
    .replace(/[\uff01-\uff5e]/g, (c) => String.fromCharCode(c.charCodeAt(0) - 0xfee0))
    .replace(/\b(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\s*\([^()]{0,200}\)/gi, (call) =>
      call.replace(/\s*[\r\n]+\s*/g, ' '),
    )
    .split(/\r\n|[\n\r\u2028\u2029]/)
    .flatMap((line) => (line.length > LONG ? line.replace(/[;}>](?=\s*\S)/g, '$&\n').split('\n') : [line]))
    .map((line) => line.trim())
    .filter(Boolean);
}

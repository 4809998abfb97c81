import { fromRgb8, toHex } from '../../color/index.ts';
import { optionOf } from '../../options.ts';
import { allSwatches } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { beginningOf, linesOf, oneLine, plural, writeText } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

/** A code with its mark, or six bare digits; 3, 4 and 8 digits need the mark, or they could be any number. */
const MARKED = /^(?:#|0x)([0-9a-f]{8}|[0-9a-f]{6}|[0-9a-f]{4}|[0-9a-f]{3})$/i;
const BARE = /^([0-9a-f]{6})$/i;
/** Opacity first, as some painting programs list their colours, each line of the file. */
const BARE_WITH_ALPHA = /^[0-9a-f]{8}$/i;

const digitsOf = (token: string) => (MARKED.exec(token) ?? BARE.exec(token))?.[1];

interface Token {
  token: string;
  line: number;
  name?: string;
}

/** The lines that are not remarks, which begin with `;` or `//`. */
function* entriesOf(text: string): Generator<{ entry: string; line: number }> {
  let line = 0;
  for (const entry of linesOf(text.replace(/^\uFEFF/, ''))) {
    line++;
    if (!/^\s*(;|\/\/|$)/.test(entry)) yield { entry, line };
  }
}

/** The codes of a text with their lines. */
function* tokens(text: string): Generator<Token> {
  for (const { entry, line } of entriesOf(text))
    if (ALONE.test(entry)) yield { token: entry.trim(), line };
    else for (const [token] of entry.matchAll(/[^\s,;]+/g)) yield { token, line };
}

/** A line with one code in it and a name before or behind: `Navy #14304a`, `#14304a Navy`, `Navy = "#14304a"`. */
function namedCode(entry: string): { token: string; name: string } | null {
  // most lines of most lists are a code and nothing else
  if (ALONE.test(entry)) return null;
  const found = /(?:^|[\s:=,"'([])((?:#|0x)[0-9a-f]{3,8})(?=$|[\s:=,;"')\]])/i.exec(entry);
  if (!found?.[1] || !digitsOf(found[1]) || entry.length > MAX_ENTRY_CHARACTERS) return null;
  const rest = `${entry.slice(0, found.index)} ${entry.slice(found.index + found[0].length)}`;
  if (/[{}]|#[0-9a-f]{3}/i.test(rest)) return null;
  const name = rest.replace(/^[\s:=,;"'()[\]–—-]+|[\s:=,;"'()[\]–—-]+$/g, '');
  return name === '' ? null : { token: found[1], name };
}
/** The entries of a list that is not plain, each with its code and its name, if it has one. */
function* named(text: string, kind: 'alpha' | 'named'): Generator<Token> {
  for (const { entry, line } of entriesOf(text))
    yield { line, token: entry.trim(), ...(kind === 'named' ? namedCode(entry) : {}) };
}
const MAX_ENTRY_CHARACTERS = 1000;
const ALONE = /^\s*(?:#|0x)?[0-9a-f]+\s*$/i;

/** What kind of list a text is: codes alone, codes with opacity first, or a name and a code to each line. */
function kindOf(text: string): 'codes' | 'alpha' | 'named' {
  const lines = [...entriesOf(text)];
  if (lines.length > 0 && lines.every(({ entry }) => BARE_WITH_ALPHA.test(entry.trim()))) return 'alpha';
  const named = lines.filter(({ entry }) => namedCode(entry)).length;
  return named > 0 && named >= lines.length * 0.75 ? 'named' : 'codes';
}

export const hex: PlainFormat = {
  id: 'hex',
  name: 'Hex list',
  about: 'One code to a line, for anything that takes text. Names only when asked, no groups.',
  endings: ['hex', 'txt'],
  mime: 'text/plain',
  options: [
    {
      id: 'before',
      label: 'Before the digits',
      type: 'choice',
      values: [
        ['#', '#'],
        ['0x', '0x'],
        ['', 'nothing'],
      ],
      initial: '#',
    },
    {
      id: 'letters',
      label: 'Letters',
      type: 'choice',
      values: [
        ['small', 'a–f'],
        ['capital', 'A–F'],
      ],
      initial: 'small',
    },
    {
      id: 'opacity',
      label: 'Opacity',
      type: 'choice',
      values: [
        ['none', 'left out'],
        ['last', 'behind, RRGGBBAA'],
        ['first', 'in front, AARRGGBB'],
      ],
      initial: 'none',
    },
    { id: 'names', label: 'Names before codes', type: 'boolean', initial: false },
  ],
  traits: {
    read: true,
    write: true,
    names: false,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
  },

  recognise(bytes) {
    const text = beginningOf(bytes, 1 << 16);
    if (!text) return 0;
    const kind = kindOf(text);
    // a table of names and codes is a table
    if (kind !== 'codes') return kind === 'alpha' ? 0.8 : 0.45;
    const all = [...tokens(text)];
    const codes = all.filter((t) => digitsOf(t.token)).length;
    // a list with a slip in it is still a list, so that the slip can be named
    return codes === 0 ? 0 : codes === all.length ? 0.8 : codes >= all.length * 0.75 ? 0.3 : 0;
  },

  decode: textDecoder((text, draft) => {
    let alphaGiven = 0;
    const kind = kindOf(text);
    const read = ({ token, line, name = '' }: Token) => {
      const digits = kind === 'alpha' ? token.slice(2) + token.slice(0, 2) : digitsOf(token);
      if (!digits)
        throw new FormatError(
          `line ${line}: “${token.slice(0, 40)}” is not a colour code. A code has 3 or 6 digits 0–9, a–f after “#”. Correct it or delete it.`,
        );
      const long = digits.length < 6 ? [...digits].map((d) => d + d).join('') : digits;
      const rgb = Number.parseInt(long.slice(0, 6), 16);
      const color = fromRgb8(rgb >> 16, (rgb >> 8) & 255, rgb & 255);
      if (long.length < 8) return draft.add({ name, color });
      alphaGiven++;
      const alpha = Number.parseInt(long.slice(6), 16) / 255;
      draft.add({ name, color, ...(alpha < 1 ? { alpha } : {}) });
    };
    const list = kind === 'codes' ? tokens(text) : named(text, kind);
    for (const code of list) draft.attempt(() => read(code));
    if (alphaGiven)
      draft.warn(
        `${plural(alphaGiven, 'code has', 'codes have')} an alpha value, read from the ${kind === 'alpha' ? 'first' : 'last'} digits.`,
      );
  }),

  encode(library, { condition }, options) {
    const [before, letters, opacity] = ['before', 'letters', 'opacity'].map((id) =>
      optionOf(hex, options, id),
    );
    const names = optionOf(hex, options, 'names');
    const lines = allSwatches(library).map(({ name, color, alpha = 1 }) => {
      const rgb = toHex(color, condition).slice(1);
      const a = Math.round(alpha * 255)
        .toString(16)
        .padStart(2, '0');
      const digits = opacity === 'first' ? a + rgb : opacity === 'last' ? rgb + a : rgb;
      const code = `${before}${letters === 'capital' ? digits.toUpperCase() : digits}`;
      return names && name.trim() !== '' ? `${oneLine(name)} ${code}\n` : `${code}\n`;
    });
    return writeText(lines.join(''));
  },
};

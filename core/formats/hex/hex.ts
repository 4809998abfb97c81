import { fromRgb8, toHex } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { textDecoder } from '../draft.ts';
import { FormatError } from '../error.ts';
import type { PlainFormat } from '../format.ts';
import { beginningOf, linesOf, plural, writeText } from '../text.ts';

/** A code with its mark, or six bare digits; 3, 4 and 8 digits need the mark, or they could be any number. */
const MARKED = /^(?:#|0x)([0-9a-f]{8}|[0-9a-f]{6}|[0-9a-f]{4}|[0-9a-f]{3})$/i;
const BARE = /^([0-9a-f]{6})$/i;

const digitsOf = (token: string) => (MARKED.exec(token) ?? BARE.exec(token))?.[1];

/** The codes of a text with their lines; lines that begin with `;` or `//` are remarks. */
function* tokens(text: string): Generator<{ token: string; line: number }> {
  let n = 0;
  for (const line of linesOf(text.replace(/^\uFEFF/, ''))) {
    n++;
    if (/^\s*(;|\/\/)/.test(line)) continue;
    for (const [token] of line.matchAll(/[^\s,;]+/g)) yield { token, line: n };
  }
}

export const hex: PlainFormat = {
  id: 'hex',
  name: 'Hex list',
  about: 'One code to a line, for anything that takes text. No names, no groups.',
  endings: ['hex', 'txt'],
  mime: 'text/plain',
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
    const all = [...tokens(text)];
    const codes = all.filter((t) => digitsOf(t.token)).length;
    // a list with a slip in it is still a list, so that the slip can be named
    return codes === 0 ? 0 : codes === all.length ? 0.8 : codes >= all.length * 0.75 ? 0.3 : 0;
  },

  decode: textDecoder((text, draft) => {
    let alphaGiven = 0;
    const read = (token: string, line: number) => {
      const digits = digitsOf(token);
      if (!digits)
        throw new FormatError(
          `line ${line}: “${token.slice(0, 40)}” is no colour code. A code has 3 or 6 digits 0–9, a–f after “#”. Mend it or take it out.`,
        );
      const long = digits.length < 6 ? [...digits].map((d) => d + d).join('') : digits;
      const [r, g, b, a] = [0, 2, 4, 6].map((i) => Number.parseInt(long.slice(i, i + 2), 16));
      if (long.length === 8) alphaGiven++;
      draft.add({
        color: fromRgb8(r, g, b),
        ...(long.length === 8 && a < 255 ? { alpha: a / 255 } : {}),
      });
    };
    for (const { token, line } of tokens(text)) draft.attempt(() => read(token, line));
    if (alphaGiven)
      draft.warn(
        `${plural(alphaGiven, 'code has', 'codes have')} an alpha value, read from the last digits.`,
      );
  }),

  encode: (library, { condition }) =>
    writeText(
      allSwatches(library)
        .map((s) => `${toHex(s.color, condition)}\n`)
        .join(''),
    ),
};

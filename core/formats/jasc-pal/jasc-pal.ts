import { fromRgb8, toRgb8 } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { beginningWith, linesOf, plural, writeText } from '../../text/text.ts';
import { type Draft, textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const MAGIC = 'JASC-PAL';

export const jascPal: PlainFormat = {
  id: 'jasc-pal',
  name: 'JASC PAL',
  about: 'Plain text colour table of painting programs. RGB only, no names, no groups.',
  endings: ['pal'],
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

  recognise: beginningWith(MAGIC),

  decode: textDecoder((text, draft) => {
    const lines = linesOf(text);
    const [, , third = ''] = Array.from({ length: 3 }, () => lines.next().value || '');
    const promised = Number(third.trim() || Number.NaN);
    if (!Number.isInteger(promised) || promised < 0)
      throw new FormatError(`line 3 (“${third.slice(0, 40)}”) should say how many colours follow.`);
    let n = 3;
    for (const line of lines) {
      n++;
      if (line.trim() === '') continue;
      draft.attempt(() => readEntry(line, n, draft));
    }
    if (draft.attempted === 0 && promised > 0)
      throw new FormatError(
        `it promises ${plural(promised, 'colour')} in line 3, but has none. It is cut short; get it again from where it was made.`,
      );
    if (draft.attempted < promised)
      draft.warn(
        `Line 3 counts ${plural(promised, 'colour')}; ${draft.attempted === 1 ? 'one is there and was' : `${draft.attempted} are there and were`} read. The file may be cut short.`,
      );
    if (draft.attempted > promised)
      draft.warn(`Line 3 counts ${plural(promised, 'colour')}; ${draft.attempted} are there and were read.`);
  }),

  encode(library, { condition }) {
    const swatches = allSwatches(library);
    const lines = [
      MAGIC,
      '0100',
      swatches.length,
      ...swatches.map((s) => toRgb8(s.color, condition).join(' ')),
    ];
    return writeText(lines.map((line) => `${line}\r\n`).join(''));
  },
};

function readEntry(line: string, n: number, draft: Draft): void {
  const entry = /^\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(\d{1,3}))?\s*$/.exec(line);
  const [r, g, b, a] = entry?.slice(1).map((v) => (v === undefined ? 255 : Number(v))) ?? [256];
  if (Math.max(r, g, b, a) > 255 || !entry)
    throw new FormatError(
      `line ${n} (“${line.trim().slice(0, 40)}”) is not a colour: three numbers from 0 to 255 should stand there. Correct the line or delete it.`,
    );
  draft.add({ color: fromRgb8(r, g, b), ...(a < 255 ? { alpha: a / 255 } : {}) });
}

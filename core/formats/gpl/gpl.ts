import { fromRgb8, toRgb8 } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { beginningWith, linesOf, oneLine, writeText } from '../../text/text.ts';
import { type Draft, textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const MAGIC = 'GIMP Palette';
/** The word that this format and GGR have before what they hold. */
export const MARK = MAGIC.split(' ')[0]!;
const [ENTRY, ENTRY_RGBA] = [3, 4].map(
  (n) => new RegExp(`^[ \\t]*${Array(n).fill('(\\d+)').join('[ \\t]+')}(?:\\t(.*)|[ \\t]+(.*)|)$`, 's'),
);

export const gpl: PlainFormat = {
  id: 'gpl',
  name: 'GPL',
  about: 'Plain text palette of painting and drawing programs. Keeps names, RGB only, no groups.',
  endings: ['gpl'],
  mime: 'text/plain',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
  },

  recognise: beginningWith(MAGIC),

  decode: textDecoder((text, draft) => {
    let channels: 3 | 4 = 3;
    let n = 0;
    for (const line of linesOf(text)) {
      n++;
      if (n === 1) {
        if (line.trim() !== MAGIC) throw new FormatError(`its first line is not “${MAGIC}”.`);
        continue;
      }
      if (line.trim() === '' || line.startsWith('#')) continue;
      const header = draft.isEmpty && /^(Name|Columns|Channels):[ \t]?(.*)$/is.exec(line);
      if (header) {
        const [, key, value] = header;
        if (/^name$/i.test(key)) draft.name = value;
        else if (/^columns$/i.test(key)) draft.columns = readColumns(value);
        else if (value.trim().toUpperCase() === 'RGBA') channels = 4;
        continue;
      }
      draft.attempt(() => readEntry(line, n, channels, draft));
    }
  }),

  encode(library, { condition }) {
    const lines = [MAGIC, `Name: ${oneLine(library.name)}`];
    if (library.columns) lines.push(`Columns: ${library.columns}`);
    lines.push('#');
    for (const { color, name } of allSwatches(library)) {
      const rgb = toRgb8(color, condition).map((v) => String(v).padStart(3));
      lines.push(name === '' ? rgb.join(' ') : `${rgb.join(' ')}\t${oneLine(name)}`);
    }
    return writeText(`${lines.join('\n')}\n`);
  },
};

function readEntry(line: string, n: number, channels: 3 | 4, draft: Draft): void {
  // the name begins after one tab, or after blanks; names are kept as they are
  const entry = (channels === 4 ? ENTRY_RGBA : ENTRY).exec(line);
  const values = entry?.slice(1, 1 + channels).map(Number);
  if (!entry || !values)
    throw new FormatError(
      `line ${n} (“${line.trim().slice(0, 40)}”) is not a colour: ${channels === 4 ? 'four' : 'three'} numbers from 0 to 255 should stand there. Correct the line or delete it.`,
    );
  if (values.some((v) => v > 255))
    throw new FormatError(
      `line ${n} has the value ${Math.max(...values)}; 255 is the largest allowed. Correct the line or delete it.`,
    );
  const [r, g, b, a = 255] = values;
  draft.add({
    name: entry[channels + 1] ?? entry[channels + 2] ?? '',
    color: fromRgb8(r, g, b),
    ...(a < 255 ? { alpha: a / 255 } : {}),
  });
}

/** 0 when it says none. */
function readColumns(text: string): number {
  const n = Number.parseInt(text, 10);
  return n > 0 && n <= 65535 ? n : 0;
}

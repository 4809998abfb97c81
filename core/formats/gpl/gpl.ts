import { fromRgb8, toRgb8 } from '../../color/index.ts';
import { allSwatches, type Swatch } from '../../swatch/model.ts';
import { readText, writeText } from '../bytes.ts';
import { type Format, FormatError } from '../format.ts';

const MAGIC = 'GIMP Palette';

export const gpl: Format = {
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

  recognise: (bytes) =>
    readText(bytes.subarray(0, 64))
      ?.replace(/^\uFEFF/, '')
      .startsWith(MAGIC)
      ? 1
      : 0,

  decode(bytes, newId) {
    const text = readText(bytes);
    if (text === null)
      throw new FormatError('it begins as a text palette (GPL), but binary data follow. It is damaged.');
    const [first, ...lines] = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
    if (first.trim() !== MAGIC) throw new FormatError(`its first line is not “${MAGIC}”.`);
    const swatches: Swatch[] = [];
    let name = '';
    let columns: number | undefined;
    lines.forEach((line, i) => {
      if (line.trim() === '' || line.startsWith('#')) return;
      const header = swatches.length === 0 && /^(Name|Columns|Channels):[ \t]?(.*)$/is.exec(line);
      if (header) {
        if (/^name$/i.test(header[1])) name = header[2];
        else if (/^columns$/i.test(header[1])) columns = readColumns(header[2]);
        return;
      }
      // the name begins after one tab, or after blanks; names are kept as they are
      const entry = /^[ \t]*(\d+)[ \t]+(\d+)[ \t]+(\d+)(?:\t(.*)|[ \t]+(.*)|)$/s.exec(line);
      const rgb = entry?.slice(1, 4).map(Number);
      if (!entry || !rgb)
        throw new FormatError(
          `line ${i + 2} (“${line.trim().slice(0, 40)}”) is no colour: three numbers from 0 to 255 should stand there. Mend the line or take it out.`,
        );
      if (rgb.some((v) => v > 255))
        throw new FormatError(
          `line ${i + 2} has the value ${Math.max(...rgb)}; 255 is the largest allowed. Mend the line or take it out.`,
        );
      const [r, g, b] = rgb;
      swatches.push({
        id: newId(),
        name: entry[4] ?? entry[5] ?? '',
        kind: 'process',
        color: fromRgb8(r, g, b),
      });
    });
    return {
      library: {
        id: newId(),
        name,
        ...(columns ? { columns } : {}),
        groups: [{ id: newId(), name: '', swatches }],
      },
      warnings: [],
    };
  },

  encode(library) {
    const lines = [MAGIC, `Name: ${oneLine(library.name)}`];
    if (library.columns) lines.push(`Columns: ${library.columns}`);
    lines.push('#');
    for (const { color, name } of allSwatches(library)) {
      const rgb = toRgb8(color).map((v) => String(v).padStart(3));
      lines.push(name === '' ? rgb.join(' ') : `${rgb.join(' ')}\t${oneLine(name)}`);
    }
    return writeText(`${lines.join('\n')}\n`);
  },
};

/** A line break inside a name would begin a new entry, and other control characters make a file that is no text. */
const oneLine = (text: string) => text.replace(/[\0-\x08\n-\x1f]+/g, ' ');

function readColumns(text: string): number | undefined {
  const n = Number.parseInt(text, 10);
  return n > 0 && n <= 65535 ? n : undefined;
}

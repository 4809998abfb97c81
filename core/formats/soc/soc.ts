import { fromCss, toHex } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { writeText } from '../../text/text.ts';
import { escapeXml, parseXml, rootIs } from '../../text/xml.ts';
import { xmlDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

export const soc: PlainFormat = {
  id: 'soc',
  name: 'SOC',
  about: 'Colour table of office programs. Keeps names, RGB only, no groups.',
  endings: ['soc'],
  mime: 'application/xml',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
  },

  recognise: (bytes) => (rootIs(bytes, 'color-table') ? 1 : 0),

  decode: xmlDecoder((text, draft) => {
    parseXml(text, {
      each: {
        name: 'color',
        take: ({ attributes, line }) =>
          draft.attempt(() => {
            const value = /^#[0-9a-f]{6}$/i.test(attributes.color ?? '') && fromCss(attributes.color);
            if (!value)
              throw new FormatError(
                `line ${line}: “${(attributes.color ?? '').slice(0, 40)}” is not a colour code; “#” and six digits should stand there.`,
              );
            draft.add({ name: attributes.name ?? '', color: value.color });
          }),
      },
    });
  }),

  encode(library, { condition }) {
    const lines = allSwatches(library).map(
      (s) => `  <draw:color draw:name="${escapeXml(s.name)}" draw:color="${toHex(s.color, condition)}"/>\n`,
    );
    return writeText(
      `<?xml version="1.0" encoding="UTF-8"?>\n<ooo:color-table xmlns:ooo="http://openoffice.org/2004/office" xmlns:draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0">\n${lines.join('')}</ooo:color-table>\n`,
    );
  },
};

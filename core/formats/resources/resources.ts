import { fromRgb8, toRgb8 } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { identifier } from '../../text/identifier.ts';
import { plural, uniquely, writeText } from '../../text/text.ts';
import { parseXml, rootIs } from '../../text/xml.ts';
import { xmlDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

/** Names that no resource may have, as they are words of the language that the build makes of them. */
const WORDS = new Set(
  'abstract assert boolean break byte case catch char class const continue default do double else enum extends final finally float for goto if implements import instanceof int interface long native new package private protected public return short static strictfp super switch synchronized this throw throws transient try void volatile while true false null'.split(
    ' ',
  ),
);

/** A colour as resources have it: three, four, six or eight digits, opacity first. */
function readCode(text: string): { color: ReturnType<typeof fromRgb8>; alpha?: number } | null {
  const digits = /^#([\da-f]{3,4}|[\da-f]{6}|[\da-f]{8})$/i.exec(text.trim())?.[1];
  if (!digits) return null;
  const long = digits.length < 6 ? [...digits].map((d) => d + d).join('') : digits;
  const n = Number.parseInt(long.slice(-6), 16);
  const alpha = long.length === 8 ? Number.parseInt(long.slice(0, 2), 16) : 255;
  return {
    color: fromRgb8(n >> 16, (n >> 8) & 255, n & 255),
    ...(alpha < 255 ? { alpha: alpha / 255 } : {}),
  };
}

/** A name that builds take: letters, digits and `_`, no digit first, no word of the language. */
function resourceName(name: string): string {
  const plain = identifier(name.normalize('NFKD').replace(/[^\x20-\x7e]/g, ' ')).replaceAll('-', '_');
  return /^\d/.test(plain) || WORDS.has(plain) ? `c_${plain}` : plain;
}

export const resources: PlainFormat = {
  id: 'resources',
  name: 'Mobile resources',
  about:
    'XML of named colours for mobile applications. Names become identifiers; RGB with opacity, no groups.',
  endings: ['colors.xml'],
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

  recognise: (bytes) => (rootIs(bytes, 'resources') ? 0.9 : 0),

  decode: xmlDecoder((text, draft) => {
    const [root] = parseXml(text).children;
    const values = new Map<string, string>();
    const named: { name: string; line: number }[] = [];
    let others = 0;
    for (const { name, attributes, text: content, line } of root!.children) {
      draft.step();
      if (name !== 'color' && !(name === 'item' && attributes.type === 'color')) {
        others++;
        continue;
      }
      values.set(attributes.name ?? '', content.trim());
      named.push({ name: attributes.name ?? '', line });
    }
    for (const { name, line } of named)
      draft.attempt(() => {
        let value = values.get(name)!;
        // one may be another's, by its name
        for (let n = 0; value.startsWith('@') && n < MAX_STEPS; n++) {
          const of = /^@(?:\w+:)?color\/([\w.]+)$/.exec(value)?.[1] ?? '';
          draft.step();
          value = values.get(of) ?? '';
        }
        const color = readCode(value);
        if (!color)
          throw new FormatError(
            `line ${line}: the colour “${name.slice(0, 80)}” is “${(values.get(name) ?? '').slice(0, 40)}”; “#” and three, four, six or eight digits should stand there.`,
          );
        draft.add({ name, ...color });
      });
    if (others > 0)
      draft.warn(
        `${plural(others, 'resource is not a colour', 'resources are not colours')} and ${others === 1 ? 'was' : 'were'} left out.`,
      );
  }),

  encode(library, { condition }) {
    const unique = uniquely('_');
    const lines = allSwatches(library).map(({ name, color, alpha = 1 }) => {
      const hex = [...(alpha < 1 ? [Math.round(alpha * 255)] : []), ...toRgb8(color, condition)]
        .map((v) => v.toString(16).padStart(2, '0'))
        .join('');
      return `    <color name="${unique(resourceName(name))}">#${hex}</color>\n`;
    });
    return writeText(`<?xml version="1.0" encoding="utf-8"?>\n<resources>\n${lines.join('')}</resources>\n`);
  },
};
const MAX_STEPS = 20;

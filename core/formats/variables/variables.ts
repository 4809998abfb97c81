import { type Condition, CSS_SPACES, fromCss, toCss, toHex, toRgb8 } from '../../color/index.ts';
import { isLoose, type Swatch } from '../../swatch/model.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { identifier, linesOf, oneLine, uniquely, writeText } from '../text.ts';

/** A style language whose variables are `mark` and a name. */
function variables(
  declared: Pick<PlainFormat, 'id' | 'name' | 'about' | 'endings' | 'mime'> & {
    mark: string;
    /** Letters beyond ASCII are no part of a name. */
    ascii?: true;
    spaces: PlainFormat['traits']['spaces'];
    bits: number;
    value(swatch: Swatch, condition: Condition): string;
  },
): PlainFormat {
  const { mark, ascii, spaces, bits, value, ...rest } = declared;
  return {
    ...rest,
    traits: {
      // decode is here for reading our own file back
      read: false,
      write: true,
      names: true,
      groups: false,
      kinds: ['process'],
      spaces,
      bits,
    },

    recognise: () => 0,

    decode: textDecoder((text, draft) => {
      for (const line of linesOf(text)) {
        if (!line.startsWith(mark)) continue;
        const at = line.indexOf(':');
        const css = fromCss(line.slice(at + 1, line.indexOf(';')).trim());
        if (css) draft.add({ name: line.slice(mark.length, at), ...css });
      }
    }),

    encode(library, { condition }) {
      const unique = uniquely();
      const lines = library.groups.flatMap((group) => [
        ...(isLoose(library, group) ? [] : [`\n// ${oneLine(group.name)}\n`]),
        ...group.swatches.map((swatch) => {
          const plain = ascii ? swatch.name.replace(/[^\x20-\x7e]+/g, ' ') : swatch.name;
          const name = unique(identifier(plain).replace(/^(?=\p{N}|\p{M})/u, 'c-'));
          const original = name === swatch.name ? '' : ` // ${oneLine(swatch.name)}`;
          return `${mark}${name}: ${value(swatch, condition)};${original}\n`;
        }),
      ]);
      return writeText(lines.join('').trimStart());
    },
  };
}

export const scss = variables({
  id: 'scss',
  name: 'SCSS',
  about: 'Variables for web style sheets. Valid names, the original as a remark.',
  endings: ['scss'],
  mime: 'text/x-scss',
  mark: '$',
  spaces: [...CSS_SPACES],
  bits: 64,
  value: ({ color, alpha }, condition) => toCss(color, condition, alpha),
});

export const less = variables({
  id: 'less',
  name: 'Less',
  about: 'Variables for web style sheets. Valid names, the original as a remark; 8-bit RGB.',
  endings: ['less'],
  mime: 'text/x-less',
  mark: '@',
  ascii: true,
  spaces: ['rgb'],
  bits: 8,
  // Less has a function of its own called color(), so only the plain notations are safe
  value: ({ color, alpha = 1 }, condition) =>
    alpha < 1 ? `rgba(${toRgb8(color, condition).join(', ')}, ${alpha})` : toHex(color, condition),
});

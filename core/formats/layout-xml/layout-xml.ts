import { type Color, fromRgb8, spaces } from '../../color/index.ts';
import { FormatError } from '../../text/error.ts';
import { parseXml, rootIs, type XmlNode } from '../../text/xml.ts';
import { xmlDecoder } from '../draft.ts';
import type { Format } from '../format.ts';

/** The root element of such lists is a program's name before this, in capitals; the layout is from memory. */
const ROOT = '[A-Z]{2,20}COLORS';

/** Numbers in attributes of their own, as newer versions have them: what 1 inside is outside. */
const BY_SPACE: Record<string, { space: Color['space']; keys: string[]; factor: number }> = {
  RGB: { space: 'rgb', keys: ['R', 'G', 'B'], factor: 255 },
  CMYK: { space: 'cmyk', keys: ['C', 'M', 'Y', 'K'], factor: 100 },
  Lab: { space: 'lab', keys: ['L', 'A', 'B'], factor: 1 },
};

function colorOf({ attributes: a, line }: XmlNode): Color {
  const known = BY_SPACE[a.SPACE ?? ''];
  if (known) {
    const components = known.keys.map((k) => Number(a[k] ?? Number.NaN) / known.factor);
    if (components.every(Number.isFinite)) return { space: known.space, components };
  }
  const cmyk = /^#([\da-f]{8})$/i.exec(a.CMYK ?? '')?.[1];
  if (cmyk)
    return {
      space: 'cmyk',
      components: [0, 2, 4, 6].map((i) => Number.parseInt(cmyk.slice(i, i + 2), 16) / 255),
    };
  const rgb = /^#([\da-f]{6})$/i.exec(a.RGB ?? '')?.[1];
  if (rgb) {
    const n = Number.parseInt(rgb, 16);
    return fromRgb8(n >> 16, (n >> 8) & 255, n & 255);
  }
  throw new FormatError(
    `line ${line}: the colour “${(a.NAME ?? '').slice(0, 80)}” has no values in RGB, CMYK or Lab.`,
  );
}

export const layoutXml: Format = {
  id: 'layout-xml',
  name: 'Layout XML',
  about: 'Swatches of open-source layout programs. Read only: names, spot colours, RGB, CMYK and Lab.',
  endings: ['xml'],
  mime: 'application/xml',
  traits: {
    read: true,
    write: false,
    names: true,
    groups: false,
    kinds: ['process', 'spot'],
    spaces: Object.values(BY_SPACE).map((s) => s.space),
    bits: 64,
  },

  recognise: (bytes) => (rootIs(bytes, ROOT) ? 1 : 0),

  decode: xmlDecoder((text, draft) => {
    const root = parseXml(text, {
      each: {
        name: 'COLOR',
        take: (node) =>
          draft.attempt(() => {
            const color = colorOf(node);
            const off = color.components.findIndex((v, i) => {
              const { min, max } = spaces[color.space].channels[i]!;
              return color.space !== 'lab' && (v < min - 0.01 || v > max + 0.01);
            });
            if (off >= 0)
              throw new FormatError(
                `line ${node.line}: a value of “${(node.attributes.NAME ?? '').slice(0, 80)}” is out of range.`,
              );
            const yes = (key: string) => ['1', 'true'].includes((node.attributes[key] ?? '').toLowerCase());
            draft.add({
              name: node.attributes.NAME ?? '',
              // what is printed on all plates is a mark for the machine
              kind: yes('Register') ? 'technical' : yes('Spot') ? 'spot' : 'process',
              color,
            });
          }),
      },
    }).children[0];
    draft.name = root?.attributes.Name ?? '';
  }),

  encode() {
    throw new Error('Layout XML is only read.');
  },
};

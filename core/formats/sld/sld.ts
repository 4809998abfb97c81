import { fromCss, toHex } from '../../color/index.ts';
import type { Stop } from '../../swatch/gradient.ts';
import { FormatError } from '../../text/error.ts';
import { short, writeText } from '../../text/text.ts';
import { elements, escapeXml, parseXml, rootIs } from '../../text/xml.ts';
import { xmlDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { writtenGradient } from '../ggr/ggr.ts';

// Styled Layer Descriptors: OGC 02-070 and 05-078r4; colour maps OGC 02-070, 11.6.

/** Parameters that are colours (OGC 02-070, 11). */
const PAINTS = new Set(['fill', 'stroke']);

export const sld: PlainFormat = {
  id: 'sld',
  name: 'SLD',
  about:
    'Styles of maps: colours at quantities with labels, and fills. Keeps labels, opacity, one gradient. 8-bit RGB.',
  endings: ['sld'],
  mime: 'application/vnd.ogc.sld+xml',
  traits: {
    ...{
      read: true,
      write: true,
      names: false,
      groups: false,
      gradientsOnly: true,
      kinds: ['process'],
      spaces: ['rgb'],
      bits: 8,
    },
  },

  recognise: (bytes) => (rootIs(bytes, 'StyledLayerDescriptor') ? 1 : 0),

  decode: xmlDecoder((text, draft) => {
    const root = parseXml(text);
    let maps = 0;
    for (const map of elements(root, 'ColorMap')) {
      const entries = map.children
        .filter((c) => c.name === 'ColorMapEntry')
        .flatMap(({ attributes: { color = '', quantity, label, opacity } }) => {
          draft.step();
          const value = Number(quantity);
          const read = fromCss(color);
          draft.attempt(() => {
            if (!read || !Number.isFinite(value))
              throw new FormatError(
                `“${color.slice(0, 40)}” at ${(quantity ?? 'no quantity').slice(0, 20)} is not a colour at a quantity.`,
              );
          });
          const alpha = Number(opacity ?? 1);
          return read && Number.isFinite(value)
            ? [
                {
                  color: read.color,
                  value,
                  label: label ?? '',
                  ...(alpha < 1 ? { alpha: Math.max(0, alpha) } : {}),
                },
              ]
            : [];
        });
      for (const { value, label, color, alpha } of entries)
        draft.add({ name: label || short(value, 6), color, ...(alpha === undefined ? {} : { alpha }) });
      const [low, high] = [entries[0]?.value ?? 0, entries.at(-1)?.value ?? 0];
      if (entries.length < 2 || high <= low) continue;
      // steps stay the same from the one before up to each (OGC 02-070 has ramps; the attribute is of newer programs)
      const steps = /intervals|values/i.test(map.attributes.type ?? '');
      const stops = entries.flatMap(({ color, value, alpha }, i): Omit<Stop, 'ref'>[] => {
        const stop = { color, at: (value - low) / (high - low), ...(alpha === undefined ? {} : { alpha }) };
        return steps && i > 0
          ? [{ ...stop, at: (entries[i - 1]!.value - low) / (high - low) }, stop]
          : [stop];
      });
      draft.addGradient({ name: `Scale ${++maps}`, way: 'srgb', stops });
    }
    const seen = new Set<string>();
    for (const kind of ['CssParameter', 'SvgParameter'])
      for (const node of elements(root, kind)) {
        const read = PAINTS.has(node.attributes.name ?? '') ? fromCss(node.text.trim()) : null;
        const key = read && JSON.stringify(read);
        if (!read || !key || seen.has(key)) continue;
        seen.add(key);
        draft.add({ name: '', ...read, ...(node.attributes.name === 'stroke' ? { role: 'stroke' } : {}) });
      }
    if (draft.count === 0 && draft.attempted === 0 && [...elements(root, 'ColorMap')].length === 0)
      throw new FormatError('nothing in it has a colour.');
  }),

  encode(library, { condition }) {
    const { name, stops } = writtenGradient(library, condition);
    const entries = stops.map(({ rgb, at, alpha }) => {
      const hex = toHex({ space: 'rgb', components: [...rgb] }, condition);
      return `<ColorMapEntry color="${hex}" quantity="${short(at, 6)}"${alpha < 1 ? ` opacity="${short(alpha, 4)}"` : ''}/>\n`;
    });
    const title = escapeXml(name);
    return writeText(
      `<?xml version="1.0" encoding="UTF-8"?>\n<StyledLayerDescriptor version="1.0.0" xmlns="http://www.opengis.net/sld">\n<NamedLayer><Name>${title}</Name><UserStyle><Name>${title}</Name><FeatureTypeStyle><Rule><RasterSymbolizer><ColorMap>\n${entries.join('')}</ColorMap></RasterSymbolizer></Rule></FeatureTypeStyle></UserStyle></NamedLayer>\n</StyledLayerDescriptor>\n`,
    );
  },
};

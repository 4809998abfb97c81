import { type Color, encodeSrgb, fromRgb8, toHex, toLab } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { writeText } from '../../text/text.ts';
import { childOf, elements, escapeXml, parseXml, rootIs, type XmlNode, xmlText } from '../../text/xml.ts';
import { holds, isZip, unpack } from '../archive.ts';
import { type Draft, decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

// ECMA-376-1, 20.1.6 (styles of a theme), 20.1.2.3 (colours); the layout from memory.

const NAMESPACE = 'http://schemas.openxmlformats.org/drawingml/2006/main';
/** The twelve places of a scheme in their order (ECMA-376-1, 20.1.6.2), and what they are for. */
const PLACES: [string, string][] = [
  ['dk1', 'Dark 1'],
  ['lt1', 'Light 1'],
  ['dk2', 'Dark 2'],
  ['lt2', 'Light 2'],
  ...[1, 2, 3, 4, 5, 6].map((n): [string, string] => [`accent${n}`, `Accent ${n}`]),
  ['hlink', 'Hyperlink'],
  ['folHlink', 'Followed hyperlink'],
];
/** This many own colours such programs show. */
const MAX_SWATCHES = 50;

const isTheme = (path: string) => /(^|\/)theme\/theme\d*\.xml$/i.test(path);

/** The base colour of an element such as `srgbClr`; null when it only points elsewhere. */
function colorIn(holder: XmlNode | undefined): Color | null {
  for (const { name, attributes } of holder?.children ?? []) {
    const hex = name === 'srgbClr' ? attributes.val : name === 'sysClr' ? attributes.lastClr : undefined;
    if (hex && /^[\da-f]{6}$/i.test(hex)) {
      const n = Number.parseInt(hex, 16);
      return fromRgb8(n >> 16, (n >> 8) & 255, n & 255);
    }
    // in linear light, percent or thousandths of one
    if (name === 'scrgbClr') {
      const parts = ['r', 'g', 'b'].map((k) => {
        const text = attributes[k] ?? '';
        return Number.parseFloat(text) / (text.endsWith('%') ? 100 : 100_000);
      });
      const encoded = parts.map(encodeSrgb);
      if (encoded.every(Number.isFinite)) return { space: 'rgb', components: encoded };
    }
    if (name === 'hslClr') {
      const hue = Number(attributes.hue) / 60_000;
      const [s, l] = ['sat', 'lum'].map(
        (k) => Number.parseFloat(attributes[k] ?? '') / ((attributes[k] ?? '').endsWith('%') ? 100 : 100_000),
      );
      if ([hue, s, l].every(Number.isFinite)) return { space: 'hsl', components: [hue, s!, l!] };
    }
  }
  return null;
}

function readTheme(bytes: Uint8Array, draft: Draft): void {
  const root = parseXml(xmlText(bytes) ?? '');
  const own = [...elements(root, 'custClr')].flatMap((node) => {
    const color = colorIn(node);
    return color ? [{ name: node.attributes.name ?? '', color }] : [];
  });
  const [scheme] = elements(root, 'clrScheme');
  const places = PLACES.flatMap(([place, name]) => {
    const color = colorIn(childOf(scheme, place));
    return color ? [{ name, color }] : [];
  });
  if (places.length === 0 && own.length === 0)
    throw new FormatError('its theme has no colours with values of their own.');
  const key = ({ color }: { color: Color }) => JSON.stringify(color.components);
  const known = new Set(own.map(key));
  const greys = new Set(['[0,0,0]', '[1,1,1]']);
  // a theme that only repeats its own list has nothing of its own; nor has one of black and white
  const repeats = places.every((p) => known.has(key(p)) || greys.has(key(p)));
  draft.name ||= scheme?.attributes.name ?? '';
  if (!repeats) {
    if (own.length > 0) draft.enter('Theme');
    for (const place of places) draft.add(place);
    if (own.length > 0) draft.enter('Own colours');
  }
  for (const swatch of own) draft.add(swatch);
}

export const officeTheme: PlainFormat = {
  id: 'office-theme',
  name: 'Office theme',
  about: 'Theme of office documents: twelve places and a list of named colours. 8-bit RGB, no groups.',
  endings: ['theme.xml'],
  mime: 'application/vnd.openxmlformats-officedocument.theme+xml',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
    most: MAX_SWATCHES,
  },

  recognise(bytes) {
    if (!isZip(bytes)) return rootIs(bytes, 'theme') || rootIs(bytes, 'clrScheme') ? 0.95 : 0;
    return holds(bytes, isTheme) ? 0.95 : 0;
  },

  decode: decoder((bytes, draft) => {
    if (!isZip(bytes)) return readTheme(bytes, draft);
    const themes = unpack(bytes, isTheme);
    if (themes.length === 0) throw new FormatError('the document has no theme.');
    // a document may have one for each of its masters; those of notes and handouts are mostly the same
    const seen = new Set<string>();
    for (const { path, bytes: theme } of themes) {
      const text = xmlText(theme) ?? '';
      const scheme = /<(?:\w+:)?clrScheme[\s\S]*?<\/(?:\w+:)?clrScheme>/.exec(text)?.[0] ?? text;
      if (seen.has(scheme)) continue;
      if (seen.size > 0)
        draft.enter(
          path
            .split('/')
            .at(-1)!
            .replace(/\.xml$/i, ''),
        );
      seen.add(scheme);
      draft.attempt(() => readTheme(theme, draft));
    }
  }),

  encode(library, { condition }) {
    const swatches = allSwatches(library).slice(0, MAX_SWATCHES);
    const hex = swatches.map((s) => toHex(s.color, condition).slice(1).toUpperCase());
    const L = swatches.map((s) => toLab(s.color, condition)[0]);
    /** The place of the darkest, or lightest, that is not another. */
    const extreme = (sign: number, not: number) =>
      L.reduce((best, v, i) => (i !== not && (best < 0 || sign * v < sign * L[best]!) ? i : best), -1);
    const dark = extreme(1, -1);
    const light = extreme(-1, -1);
    const [dark2, light2] = [extreme(1, dark), extreme(-1, light)];
    const rest = [4, 5, 6, 7, 8, 9, 10, 11].map((_, k) => (swatches.length > 0 ? k % swatches.length : -1));
    const places = [dark, light, dark2 < 0 ? dark : dark2, light2 < 0 ? light : light2, ...rest];
    const scheme = PLACES.map(
      ([place], i) =>
        `<a:${place}><a:srgbClr val="${hex[places[i]!] ?? (i % 2 || i > 3 ? 'FFFFFF' : '000000')}"/></a:${place}>`,
    );
    const own = swatches.map(
      (s, i) => `<a:custClr name="${escapeXml(s.name)}"><a:srgbClr val="${hex[i]}"/></a:custClr>`,
    );
    const name = escapeXml(library.name);
    const font = '<a:latin typeface=""/><a:ea typeface=""/><a:cs typeface=""/>';
    const fill = '<a:solidFill><a:schemeClr val="phClr"/></a:solidFill>';
    const line = (w: number) => `<a:ln w="${w}">${fill}</a:ln>`;
    const effect = '<a:effectStyle><a:effectLst/></a:effectStyle>';
    return writeText(
      `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<a:theme xmlns:a="${NAMESPACE}" name="${name}"><a:themeElements><a:clrScheme name="${name}">${scheme.join('')}</a:clrScheme><a:fontScheme name="${name}"><a:majorFont>${font}</a:majorFont><a:minorFont>${font}</a:minorFont></a:fontScheme><a:fmtScheme name="${name}"><a:fillStyleLst>${fill.repeat(3)}</a:fillStyleLst><a:lnStyleLst>${[6350, 12700, 19050].map(line).join('')}</a:lnStyleLst><a:effectStyleLst>${effect.repeat(3)}</a:effectStyleLst><a:bgFillStyleLst>${fill.repeat(3)}</a:bgFillStyleLst></a:fmtScheme></a:themeElements><a:objectDefaults/><a:extraClrSchemeLst/>${own.length > 0 ? `<a:custClrLst>${own.join('')}</a:custClrLst>` : ''}</a:theme>\n`,
    );
  },
};

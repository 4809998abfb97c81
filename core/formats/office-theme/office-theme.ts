import {
  type Color,
  convert,
  decodeSrgb,
  encodeSrgb,
  fromCss,
  screenOnly,
  toHex,
  toLab,
} from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { plural, writeText } from '../../text/text.ts';
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

/** A colour of a theme, with how opaque it is. */
type Found = { color: Color; alpha?: number };

/** What `sysClr` means where the file does not say what it was last (ECMA-376-1, 20.1.10.58), as such systems have it at first. */
const SYSTEM: Record<string, string> = {
  window: '#ffffff',
  windowText: '#000000',
  btnFace: '#f0f0f0',
  btnText: '#000000',
  highlight: '#0078d7',
  highlightText: '#ffffff',
  grayText: '#6d6d6d',
  infoBk: '#ffffe1',
  infoText: '#000000',
  hotLight: '#0066cc',
};
/** The places of a scheme by what a master calls them (20.1.10.54). */
const ROLES: Record<string, string> = { tx1: 'dk1', bg1: 'lt1', tx2: 'dk2', bg2: 'lt2' };
const MAX_LINKS = 20;

/** A number in percent or in thousandths of one, as part of 1. */
const partOf = (text = '') => Number.parseFloat(text) / (text.endsWith('%') ? 100 : 100_000);

/** The base colour of an element such as `srgbClr`; null when it has no values. */
function baseOf({ name, attributes }: XmlNode, lookUp: (place: string) => Found | null): Found | null {
  const val = attributes.val ?? '';
  switch (name) {
    case 'srgbClr':
      return /^[\da-f]{6}$/i.test(val) ? fromCss(`#${val}`) : null;
    case 'sysClr':
      return fromCss(
        /^[\da-f]{6}$/i.test(attributes.lastClr ?? '') ? `#${attributes.lastClr}` : (SYSTEM[val] ?? ''),
      );
    case 'prstClr':
      // CSS has the same colours, the words for dark, light and medium written out (20.1.10.47)
      return fromCss(val.replace(/^dk/, 'dark').replace(/^lt/, 'light').replace(/^med/, 'medium'));
    case 'schemeClr':
      return lookUp(ROLES[val] ?? val);
    // in linear light
    case 'scrgbClr': {
      const encoded = ['r', 'g', 'b'].map((k) => encodeSrgb(partOf(attributes[k])));
      return encoded.every(Number.isFinite) ? { color: { space: 'rgb', components: encoded } } : null;
    }
    case 'hslClr': {
      const numbers = [Number(attributes.hue) / 60_000, partOf(attributes.sat), partOf(attributes.lum)];
      return numbers.every(Number.isFinite) ? { color: { space: 'hsl', components: numbers } } : null;
    }
    default:
      return null;
  }
}

const within = (v: number) => Math.min(1, Math.max(0, v));

/**
 * A colour as what stands inside its element changes it, one after the other (20.1.2.3): hue, saturation and lightness in HSL,
 * tint and shade in linear light. Changes that are not known are added to `unknown`.
 */
function transformed({ color, alpha = 1 }: Found, changes: readonly XmlNode[], unknown: Set<string>): Found {
  if (changes.length === 0) return alpha < 1 ? { color, alpha } : { color };
  let [own, opacity] = [color, alpha];
  const inHsl = (change: (hsl: [number, number, number]) => number[]) => {
    const [h = 0, s = 0, l = 0] = convert(own, 'hsl', screenOnly).components;
    const [hue = 0, sat = 0, lum = 0] = change([h, s, l]);
    own = convert(
      { space: 'hsl', components: [((hue % 360) + 360) % 360, within(sat), within(lum)] },
      'rgb',
      screenOnly,
    );
  };
  const inLight = (change: (v: number) => number) => {
    const rgb = convert(own, 'rgb', screenOnly).components;
    own = { space: 'rgb', components: rgb.map((v) => within(encodeSrgb(change(decodeSrgb(v))))) };
  };
  for (const { name, attributes } of changes) {
    const v = partOf(attributes.val);
    const angle = Number(attributes.val) / 60_000;
    const known: Record<string, () => void> = {
      alpha: () => {
        opacity = within(v);
      },
      alphaMod: () => {
        opacity = within(opacity * v);
      },
      alphaOff: () => {
        opacity = within(opacity + v);
      },
      lum: () => inHsl(([h, s]) => [h, s, v]),
      lumMod: () => inHsl(([h, s, l]) => [h, s, l * v]),
      lumOff: () => inHsl(([h, s, l]) => [h, s, l + v]),
      sat: () => inHsl(([h, , l]) => [h, v, l]),
      satMod: () => inHsl(([h, s, l]) => [h, s * v, l]),
      satOff: () => inHsl(([h, s, l]) => [h, s + v, l]),
      hue: () => inHsl(([, s, l]) => [angle, s, l]),
      hueMod: () => inHsl(([h, s, l]) => [h * v, s, l]),
      hueOff: () => inHsl(([h, s, l]) => [h + angle, s, l]),
      comp: () => inHsl(([h, s, l]) => [h + 180, s, l]),
      tint: () => inLight((c) => c * v + (1 - v)),
      shade: () => inLight((c) => c * v),
      inv: () => inLight((c) => 1 - c),
    };
    if (known[name]) known[name]();
    else unknown.add(name);
  }
  return opacity < 1 ? { color: own, alpha: opacity } : { color: own };
}

/** Reads the colours of a scheme, and what refers to its places. */
function schemeReader(scheme: XmlNode | undefined, unknown: Set<string>) {
  const read = (holder: XmlNode | undefined, depth = 0): Found | null => {
    for (const node of holder?.children ?? []) {
      const base =
        depth > MAX_LINKS ? null : baseOf(node, (place) => read(childOf(scheme, place), depth + 1));
      if (base) return transformed(base, node.children, unknown);
    }
    return null;
  };
  return read;
}

function readTheme(bytes: Uint8Array, draft: Draft): void {
  const root = parseXml(xmlText(bytes) ?? '');
  const [scheme, ...extra] = elements(root, 'clrScheme');
  const unknown = new Set<string>();
  const without: string[] = [];
  const read = schemeReader(scheme, unknown);
  const placesOf = (from: XmlNode | undefined) => {
    const readIn = from === scheme ? read : schemeReader(from, unknown);
    return PLACES.flatMap(([place, name]) => {
      const holder = childOf(from, place);
      const found = readIn(holder);
      if (!found && holder) without.push(name);
      return found ? [{ name, ...found }] : [];
    });
  };
  const own = [...elements(root, 'custClr')].flatMap((node) => {
    const name = node.attributes.name ?? '';
    const found = read(node);
    if (!found) without.push(name);
    return found ? [{ name, ...found }] : [];
  });
  const places = placesOf(scheme);
  if (places.length === 0 && own.length === 0)
    throw new FormatError('its theme has no colours with values of their own.');
  const key = ({ color, alpha = 1 }: Found) => JSON.stringify([...color.components, alpha]);
  const known = new Set(own.map(key));
  const greys = new Set(['[0,0,0,1]', '[1,1,1,1]']);
  // a theme that only repeats its own list has nothing of its own; nor has one of black and white
  const repeats = places.every((p) => known.has(key(p)) || greys.has(key(p)));
  draft.name ||= scheme?.attributes.name ?? '';
  if (!repeats) {
    if (own.length > 0) draft.enter('Theme');
    for (const place of places) draft.add(place);
    if (own.length > 0) draft.enter('Own colours');
  }
  for (const swatch of own) draft.add(swatch);
  for (const one of extra) {
    draft.enter(one.attributes.name ?? 'Another scheme');
    for (const place of placesOf(one)) draft.add(place);
  }
  if (without.length > 0)
    draft.warn(
      `${plural(without.length, 'colour has', 'colours have')} no value of ${without.length === 1 ? 'its' : 'their'} own, and ${without.length === 1 ? 'was' : 'were'} left out: ${without.slice(0, 5).join(', ')}${without.length > 5 ? ' and others' : ''}.`,
    );
  for (const name of unknown)
    draft.warn(`A change that is not read (${name.slice(0, 40)}) was left out of a colour.`);
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

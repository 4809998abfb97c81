import { fromCss } from '../../color/index.ts';
import { FormatError } from '../../text/error.ts';
import { plural, readText } from '../../text/text.ts';
import { elements, parseXml, type XmlNode, xmlText } from '../../text/xml.ts';
import { holds, unpack } from '../archive.ts';
import { type Draft, decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

// Texts, drawings and presentations: OASIS OpenDocument 1.3, part 3, 16 (styles, gradients, hatches) and 20 (attributes).

const KINDS = /^application\/vnd\.oasis\.opendocument\.(?:text|graphics|presentation)/;
const isPart = (path: string) => /^(?:styles|content)\.xml$/i.test(path);
const isKind = (path: string) => path === 'mimetype';

/** What is coloured in a style, by the attribute that says so, and what makes it thin. */
const PAINTS: [attribute: string, what: string, opacity?: string][] = [
  ['fill-color', 'fill', 'opacity'],
  ['stroke-color', 'line', 'stroke-opacity'],
  ['color', 'text'],
  ['background-color', 'background'],
];
const USED = 'In use';

/** `Heading_20_1` is how a name with a blank is written as one word (20.2 `style:display-name`). */
const nameOf = ({ attributes }: XmlNode) =>
  attributes['display-name'] ??
  (attributes.name ?? '').replace(/_([\da-f]{1,4})_/gi, (_, hex) =>
    String.fromCharCode(Number.parseInt(hex, 16)),
  );

const codeIn = (value = '') => (/^#[\da-f]{6}$/i.test(value) ? fromCss(value)?.color : undefined);

function alphaIn(value = ''): { alpha?: number } {
  const percent = /^([\d.]+)%$/.exec(value)?.[1];
  const alpha = percent === undefined ? 1 : Number(percent) / 100;
  return alpha < 1 ? { alpha } : {};
}

/** The colours of a style, each with what it colours. */
function paintsOf(style: XmlNode) {
  return style.children.flatMap(({ attributes }) =>
    PAINTS.flatMap(([attribute, what, opacity]) => {
      const color = codeIn(attributes[attribute]);
      return color ? [{ what, color, ...alphaIn(opacity && attributes[opacity]) }] : [];
    }),
  );
}

/** The gradient of a definition (16.40.1); its stops, where it has more than two, lie in it. */
function addGradient(node: XmlNode, draft: Draft): void {
  const { 'start-color': start, 'end-color': end } = node.attributes;
  const more = [...elements(node, 'gradient-stop')].flatMap(({ attributes }) => {
    const color = codeIn(attributes['color-value']);
    return color ? [{ color, at: Math.min(1, Math.max(0, Number(attributes.offset) || 0)) }] : [];
  });
  const [from, to] = [codeIn(start), codeIn(end)];
  const two =
    from && to
      ? [
          { color: from, at: 0 },
          { color: to, at: 1 },
        ]
      : [];
  const stops = more.length > 1 ? more.sort((a, b) => a.at - b.at) : two;
  if (stops.length > 1) draft.addGradient({ name: nameOf(node), way: 'srgb', stops });
}

export const odf: PlainFormat = {
  id: 'odf',
  name: 'OpenDocument',
  about:
    'Texts, drawings and presentations: the colours of a theme, of named styles, of hatches, and those in use; gradients.',
  endings: ['odg', 'odp', 'odt'],
  mime: 'application/vnd.oasis.opendocument.graphics',
  traits: {
    ...{ read: true, write: false, names: true, groups: true },
    ...{ kinds: ['process'], spaces: ['rgb'], bits: 8 },
  },

  recognise(bytes) {
    if (!holds(bytes, isPart) || !holds(bytes, isKind)) return 0;
    try {
      const [kind] = unpack(bytes, isKind);
      return kind && KINDS.test(readText(kind.bytes) ?? '') ? 0.97 : 0;
    } catch {
      // a zip that does not unpack is none of anything
      return 0;
    }
  },

  decode: decoder((bytes, draft) => {
    const roots = unpack(bytes, isPart)
      .sort((a, b) => b.path.localeCompare(a.path))
      .map((part) => parseXml(xmlText(part.bytes) ?? ''));
    for (const root of roots)
      for (const theme of elements(root, 'theme-colors')) {
        draft.enter(theme.attributes.name || 'Theme');
        for (const { name, attributes } of theme.children) {
          draft.step();
          const color = name === 'color' && codeIn(attributes.color);
          if (color) draft.add({ name: attributes.name ?? '', color });
        }
      }
    draft.leave();
    const named = roots.flatMap((root) => [...elements(root, 'styles')].flatMap((list) => list.children));
    const seen = new Set<string>();
    draft.into('Styles');
    for (const style of named.filter((s) => s.name === 'style')) {
      draft.step();
      const paints = paintsOf(style);
      for (const { what, ...paint } of paints) {
        seen.add(JSON.stringify(paint));
        draft.add({ name: paints.length > 1 ? `${nameOf(style)} ${what}` : nameOf(style), ...paint });
      }
    }
    draft.into('Hatches');
    for (const hatch of named.filter((s) => s.name === 'hatch')) {
      const color = codeIn(hatch.attributes.color);
      if (color) draft.add({ name: nameOf(hatch), color });
    }
    draft.into(USED);
    for (const root of roots)
      for (const list of elements(root, 'automatic-styles'))
        for (const style of list.children) {
          draft.step();
          for (const { what, ...paint } of paintsOf(style)) {
            const key = JSON.stringify(paint);
            if (seen.has(key)) continue;
            seen.add(key);
            draft.add({ name: '', ...paint });
          }
        }
    for (const gradient of named.filter((s) => s.name === 'gradient')) addGradient(gradient, draft);
    const pictures = roots.reduce((n, root) => n + [...elements(root, 'image')].length, 0);
    if (pictures > 0)
      draft.warn(
        `${plural(pictures, 'picture')} in it ${pictures === 1 ? 'was' : 'were'} not looked into; open them in Gather.`,
      );
    if (draft.count === 0 && !named.some((s) => s.name === 'gradient'))
      throw new FormatError('none of its styles has a colour.');
  }),

  encode() {
    throw new Error('OpenDocument is only read.');
  },
};

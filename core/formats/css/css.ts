import { CSS_SPACES, fromCss, toCss } from '../../color/index.ts';
import { cssFallback, cssGradient, readCssGradient } from '../../gradient/index.ts';
import { gradientsOf, resolvedStops } from '../../swatch/gradient.ts';
import { allSwatches } from '../../swatch/model.ts';
import { textDecoder } from '../draft.ts';
import { FormatError } from '../error.ts';
import type { PlainFormat } from '../format.ts';
import { beginningOf, blankRemarks, identifier, plural, uniquely, writeText } from '../text.ts';

interface Declaration {
  property: string;
  value: string;
  /** The name as it was, from the comment that our own writer puts behind a declaration. */
  name?: string;
}

const MOST = 200_000;

/** The custom properties of a style sheet, in order. */
function declarations(text: string): Declaration[] {
  const found: Declaration[] = [];
  // comments become blanks of the same length, so that places stay and nothing inside them is read
  const bare = blankRemarks(text);
  // a name is taken whole before its colon is looked for, so that a long row of dashes is gone through once
  const pattern = /--[\w\x80-\uffff-]+/g;
  for (let match = pattern.exec(bare); match; match = pattern.exec(bare)) {
    let from = pattern.lastIndex;
    while (' \t\r\n'.includes(bare[from] ?? ':')) from++;
    pattern.lastIndex = from;
    if (bare[from] !== ':') continue;
    if (found.length >= MOST)
      throw new FormatError(`it has more than ${MOST.toLocaleString('en')} custom properties.`);
    let end = ++from;
    while (end < bare.length && bare[end] !== ';' && bare[end] !== '}') end++;
    const behind = /^;?[ \t]*\/\* ("(?:[^"\\\n]|\\.)*") \*\//.exec(text.slice(end, end + 200_000));
    const name = behind ? unquoted(behind[1]!) : undefined;
    found.push({
      property: match[0].slice(2),
      value: bare.slice(from, end).trim(),
      ...(name === undefined ? {} : { name }),
    });
    pattern.lastIndex = end;
  }
  return found;
}

function unquoted(json: string): string | undefined {
  try {
    return JSON.parse(json);
  } catch {
    return undefined;
  }
}

export const css: PlainFormat = {
  id: 'css',
  name: 'CSS',
  about: 'Custom properties for web and interface work. Keeps names, Lab values and gradients, no groups.',
  endings: ['css'],
  mime: 'text/css',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: [...CSS_SPACES],
    bits: 64,
  },

  recognise(bytes) {
    const text = beginningOf(bytes);
    return text?.includes('--') && declarations(text).some((d) => fromCss(d.value)) ? 0.85 : 0;
  },

  ownWords: true,
  decode: textDecoder((text, draft, options) => {
    let passed = 0;
    const colors = new Map<string, NonNullable<ReturnType<typeof fromCss>>>();
    /** By property: one that is declared again, for browsers that know more, takes the place of the plain one. */
    const gradients = new Map<string, { name: string; value: string }>();
    for (const { property, value, name: own } of declarations(text)) {
      const name = options?.asOthers ? undefined : own;
      const color = fromCss(value);
      if (color) {
        colors.set(property, color);
        draft.add({ name: name ?? property, ...color });
      } else if (/-gradient\(/i.test(value))
        gradients.set(property, { name: name ?? gradients.get(property)?.name ?? property, value });
      else passed++;
    }
    for (const { name, value } of gradients.values()) {
      draft.step(100);
      const read = readCssGradient(value, (variable) => colors.get(variable) ?? null);
      if (!read) {
        passed++;
        continue;
      }
      // a sheet of gradients alone: their colours are its swatches
      if (colors.size === 0)
        read.stops.forEach(({ color, alpha }, i) => {
          draft.add({ name: `${name} ${i + 1}`, color, ...(alpha === undefined ? {} : { alpha }) });
        });
      draft.addGradient({ ...read, name });
    }
    if (passed)
      draft.warn(
        `${plural(passed, 'custom property is', 'custom properties are')} no colour and was left out.`,
      );
  }),

  encode(library, { condition }) {
    const unique = uniquely();
    const properties = new Map<string, string>();
    const line = (property: string, value: string, name: string) =>
      `  --${property}: ${value};${property === name ? '' : ` /* ${quoted(name)} */`}\n`;
    const swatches = allSwatches(library);
    const lines = swatches.map(({ id, name, color, alpha }) => {
      const property = unique(identifier(name));
      properties.set(id, property);
      return line(property, toCss(color, condition, alpha), name);
    });
    const byId = new Map(swatches.map((s) => [s.id, s]));
    const gradients = gradientsOf(library).map((gradient) => {
      const stops = resolvedStops(gradient, (id) => byId.get(id));
      const property = unique(identifier(gradient.name));
      return {
        plain: line(property, cssFallback(gradient, stops, condition), gradient.name),
        own: line(
          property,
          cssGradient(
            gradient,
            stops,
            condition,
            ({ swatch }) => swatch && `var(--${properties.get(swatch.id)})`,
          ),
          gradient.name,
        ),
      };
    });
    const plain = `:root {\n${lines.join('')}${gradients.map((g) => g.plain).join('')}}\n`;
    if (gradients.length === 0) return writeText(plain);
    const own = gradients.map((g) => g.own).join('');
    return writeText(
      `${plain}@supports (background: linear-gradient(in oklab, red, blue)) {\n:root {\n${own}}\n}\n`,
    );
  },
};

/** A JSON string that cannot end the comment it stands in. */
const quoted = (name: string) => JSON.stringify(name).replaceAll('*/', '*\\/');

import { CSS_SPACES, fromCss, toCss } from '../../color/index.ts';
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
  about: 'Custom properties for web and interface work. Keeps names and Lab values, no groups.',
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

  decode: textDecoder((text, draft) => {
    let passed = 0;
    for (const { property, value, name } of declarations(text)) {
      const color = fromCss(value);
      if (color) draft.add({ name: name ?? property, ...color });
      else passed++;
    }
    if (passed)
      draft.warn(
        `${plural(passed, 'custom property is', 'custom properties are')} no colour and was left out.`,
      );
  }),

  encode(library, { condition }) {
    const unique = uniquely();
    const lines = allSwatches(library).map(({ name, color, alpha }) => {
      const property = unique(identifier(name));
      const note = property === name ? '' : ` /* ${quoted(name)} */`;
      return `  --${property}: ${toCss(color, condition, alpha)};${note}\n`;
    });
    return writeText(`:root {\n${lines.join('')}}\n`);
  },
};

/** A JSON string that cannot end the comment it stands in. */
const quoted = (name: string) => JSON.stringify(name).replaceAll('*/', '*\\/');

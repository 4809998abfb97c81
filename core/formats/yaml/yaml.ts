import { isAlias, isMap, isPair, isScalar, isSeq, type Node, parseDocument, visit } from 'yaml';
import { FormatError } from '../../text/error.ts';
import { recordOf } from '../../text/json.ts';
import { beginningOf, plural } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { readTheme } from '../theme/theme.ts';

const MAX_ALIASES = 1000;
const MAX_DEPTH = 100;
/** A code behind a colon without quotes, which YAML takes for a comment. */
const BARE_CODE = /^[ \t]*(?:- )?[^#\n:]{1,100}:[ \t]+#(?:[\da-f]{3,4}|[\da-f]{6}|[\da-f]{8})[ \t]*$/gim;
const QUOTED_CODE =
  /^[ \t]*(?:- )?(?:["'][^"'\n]{1,100}["']|[^#\n:"'{}]{1,100}):[ \t]+(["'])(?:#[\da-f]{3,8}|(?:rgb|hsl|oklch|lab|lch)a?\([^)\n]{1,60}\))\1[ \t]*(?:#.*)?$/im;

/** A node as a value, each object with its keys in the order of the text; what is referred to is put in. */
function plainOf(
  node: Node | null | undefined,
  resolve: (node: Node) => Node | undefined,
  step: () => void,
  depth = 0,
): unknown {
  step();
  if (!node || depth > MAX_DEPTH) return null;
  if (isScalar(node)) return node.value;
  if (isSeq(node)) return node.items.map((n) => plainOf(n as Node, resolve, step, depth + 1));
  if (isMap(node))
    return recordOf(
      node.items.flatMap((pair) =>
        isPair(pair)
          ? [
              [
                String(isScalar(pair.key) ? pair.key.value : pair.key),
                plainOf(pair.value as Node, resolve, step, depth + 1),
              ] as const,
            ]
          : [],
      ),
    );
  const target = resolve(node);
  return target ? plainOf(target, resolve, step, depth + 1) : null;
}

export const yaml: PlainFormat = {
  id: 'yaml',
  name: 'Theme YAML',
  about: 'Nested names and codes in YAML. It is only read: groups, names and notes.',
  endings: ['yaml', 'yml'],
  mime: 'application/yaml',
  traits: {
    ...{ read: true, write: false, names: true, groups: true, kinds: ['process'], spaces: ['rgb'], bits: 8 },
  },

  recognise(bytes) {
    const text = beginningOf(bytes);
    if (!text || /^\s*[[{<]/.test(text) || /;\s*$/m.test(text)) return 0;
    return QUOTED_CODE.test(text) ? 0.5 : 0;
  },

  decode: textDecoder((text, draft) => {
    const document = parseDocument(text, { prettyErrors: true, uniqueKeys: false });
    const [error] = document.errors;
    if (error)
      throw new FormatError(
        `${error.linePos ? `line ${error.linePos[0].line}, column ${error.linePos[0].col}` : 'somewhere'}: it is no YAML. Correct it there, or get the file again.`,
      );
    let aliases = 0;
    visit(document, {
      Alias() {
        if (++aliases > MAX_ALIASES)
          throw new FormatError(`it refers to itself more than ${MAX_ALIASES} times.`);
      },
    });
    readTheme(
      plainOf(
        document.contents as Node | null,
        (node) => (isAlias(node) ? node.resolve(document) : undefined),
        () => draft.step(),
      ),
      draft,
    );
    const bare = text.match(BARE_CODE)?.length ?? 0;
    if (bare > 0)
      draft.warn(
        `${plural(bare, 'code stands', 'codes stand')} without quotes, where # begins a comment in YAML, and ${bare === 1 ? 'was' : 'were'} left out. Put quotes around ${bare === 1 ? 'it' : 'them'}.`,
      );
  }),

  encode() {
    throw new Error('Theme YAML is only read.');
  },
};

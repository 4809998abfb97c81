import { computedCss } from '../../color/computed-css.ts';
import { type Condition, CSS_SPACES, toCss, toHex, toRgb8 } from '../../color/index.ts';
import { isLoose, type Swatch } from '../../swatch/model.ts';
import { identifierOf, identifierOptions, identifiers, unquoted } from '../../text/identifier.ts';
import { beginningOf, blankRemarks, commaParts, oneLine, plural, writeText } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

/** A variable, or an entry of a map with the keys it lies under. */
interface Variable {
  name: string;
  value: string;
  group: string;
  /** The remark behind it. */
  remark: string;
}

const MAX_DEPTH = 20;
const MAX_LIST_CHARACTERS = 10_000;

/** The entries of a map `(key: value, key: (…))`, those inside of others too; a variable that is not a map is its only one. */
function* entriesOf(
  name: string,
  value: string,
  group: string,
  remark: string,
  depth = 0,
): Generator<Variable> {
  const inside = /^\((.*)\)$/s.exec(value)?.[1];
  if (inside === undefined || depth > MAX_DEPTH) {
    yield { name, value, group, remark };
    return;
  }
  const label = group ? `${group} / ${name}` : name;
  for (const part of commaParts(inside)) {
    const [, key, own] = /^\s*["']?([^"':]{1,200})["']?\s*:\s*(.*)$/s.exec(part) ?? [];
    if (key !== undefined && own !== undefined)
      yield* entriesOf(key.trim(), own.trim(), label, '', depth + 1);
  }
}

/** The variables of a text, each with the line's remark; those declared again, as for a theme, count where they stand first. */
function* variablesIn(text: string, mark: string): Generator<Variable> {
  const pattern = new RegExp(`(?:^|[;{}\\n])[ \\t]*\\${mark}([\\w\\x80-\\uffff-]{1,200})[ \\t]*:`, 'g');
  // the scheme of an address has two strokes, too
  const bare = blankRemarks(text);
  const plain = bare.replace(
    /(^|[^:"'])\/\/.*$/gm,
    (all, before) => before + ' '.repeat(all.length - before.length),
  );
  for (let match = pattern.exec(plain); match; match = pattern.exec(plain)) {
    const from = pattern.lastIndex;
    let depth = 0;
    let end = from;
    for (; end < plain.length && end - from < MAX_MAP_CHARACTERS; end++) {
      const c = plain[end]!;
      if (c === '(') depth++;
      else if (c === ')') depth--;
      else if ((c === ';' || c === '}') && depth <= 0) break;
      else if (c === '\n' && depth <= 0 && plain.slice(from, end).trim() !== '') break;
    }
    const value = plain
      .slice(from, end)
      .replace(/!\s*(?:default|global|important)\b/gi, '')
      .trim();
    const remark =
      /^;?[ \t]*\/\/[ \t]?(.*?)\r?$/m.exec(
        bare.slice(end, bare.indexOf('\n', end) + 1 || bare.length),
      )?.[1] ?? '';
    yield* entriesOf(match[1]!, value, '', remark);
    // what ends one may begin the next
    pattern.lastIndex = end;
  }
}
const MAX_MAP_CHARACTERS = 1_000_000;

/** A style language whose variables are `mark` and a name. */
function variables(
  declared: Pick<PlainFormat, 'id' | 'name' | 'about' | 'endings' | 'mime'> & {
    mark: string;
    /** Letters beyond ASCII are not part of a name. */
    ascii?: true;
    spaces: PlainFormat['traits']['spaces'];
    bits: number;
    value(swatch: Swatch, condition: Condition): string;
  },
): PlainFormat {
  const { mark, ascii, spaces, bits, value, ...rest } = declared;
  const letters = { ascii: ascii === true };
  return {
    ...rest,
    options: identifierOptions,
    traits: {
      read: true,
      write: true,
      names: true,
      groups: false,
      kinds: ['process'],
      spaces,
      bits,
    },

    recognise(bytes) {
      const text = beginningOf(bytes);
      if (!text?.includes(mark)) return 0;
      for (const { value: own } of variablesIn(text, mark)) if (computedCss(own)) return 0.8;
      return 0;
    },

    ownWords: true,
    decode: textDecoder((text, draft, options) => {
      const all = [...variablesIn(text, mark)];
      const known = new Map(all.filter((v) => v.group === '').map((v) => [v.name, v.value]));
      /** What a variable is in the end; one that is another takes that one's value. */
      const follow = (own: string): string => {
        const one = /^(?:extract|nth|list\.nth)\(\s*([^\s,()]+)\s*,\s*(\d{1,4})\s*\)$/.exec(own);
        if (one) {
          draft.step();
          picked.add(one[1]!);
          return commaParts(known.get(one[1]!.slice(mark.length)) ?? '')[Number(one[2]) - 1]?.trim() ?? '';
        }
        let at = own;
        for (let n = 0; n < 50 && at.startsWith(mark); n++) {
          draft.step();
          at = known.get(at.slice(mark.length)) ?? '';
        }
        return at.replace(/^~(["'])(.*)\1$/, '$2');
      };
      /** Lists whose colours have names of their own. */
      const picked = new Set<string>();
      for (const { value: own } of all) if (/^(?:extract|nth|list\.)/.test(own)) follow(own);
      let passed = 0;
      for (const { name, value: own, group, remark } of all) {
        draft.step();
        const isList = own.includes(',') && own.length < MAX_LIST_CHARACTERS && !own.includes(mark);
        const members = isList ? commaParts(own) : [];
        if (members.length > 1 && members.every((m) => computedCss(m.trim()))) {
          draft.into(group);
          if (!picked.has(mark + name))
            members.forEach((m, i) => {
              draft.step();
              draft.add({ name: `${name} ${i + 1}`, ...computedCss(m.trim())! });
            });
          continue;
        }
        const css = computedCss(follow(own));
        if (!css) {
          passed++;
          continue;
        }
        draft.into(group);
        // a remark that the variable was made of is its name, and one in quotes; any other says something of it
        const made = remark && identifierOf(remark, letters);
        const same =
          name === made || (name.startsWith(`${made}-`) && /^\d+$/.test(name.slice(made.length + 1)));
        const original = unquoted(remark) ?? (made && same ? remark : undefined);
        draft.add({
          name: original !== undefined && !options?.asOthers ? original : name,
          ...(remark !== '' && original === undefined ? { note: remark } : {}),
          ...css,
        });
      }
      if (passed > 0)
        draft.warn(
          `${plural(passed, 'variable is not a colour', 'variables are not colours')} and ${passed === 1 ? 'was' : 'were'} left out.`,
        );
    }),

    encode(library, { condition }, options) {
      const { of, asked } = identifiers(options, letters);
      const lines = library.groups.flatMap((group) => [
        ...(isLoose(library, group) ? [] : [`\n// ${oneLine(group.name)}\n`]),
        ...group.swatches.map((swatch) => {
          const name = of(swatch.name);
          const plain = oneLine(swatch.name);
          const called = asked || unquoted(plain) !== undefined ? JSON.stringify(swatch.name) : plain;
          const original = name === swatch.name ? '' : ` // ${called}`;
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

import { type OptionDeclaration, type Options, optionOf } from '../options.ts';
import { uniquely } from './text.ts';

/** `Boot-top red` becomes `boot-top-red`: letters and digits of any script, joined by hyphens. */
export const identifier = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^\p{L}\p{N}\p{M}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 100) || 'swatch';

/** How names can be written where a name is one word, by what stands between its parts. */
const CASES = {
  kebab: (parts: string[]) => parts.join('-'),
  camel: ([first = '', ...rest]: string[]) =>
    first + rest.map((p) => p[0]!.toUpperCase() + p.slice(1)).join(''),
  snake: (parts: string[]) => parts.join('_'),
  capitals: (parts: string[]) => parts.join('_').toUpperCase(),
};
type Case = keyof typeof CASES;

/** What can be chosen for names that are identifiers. */
export const identifierOptions: OptionDeclaration[] = [
  {
    id: 'case',
    label: 'Names as',
    type: 'choice',
    values: [
      ['kebab', 'boot-top-red'],
      ['camel', 'bootTopRed'],
      ['snake', 'boot_top_red'],
      ['capitals', 'BOOT_TOP_RED'],
    ],
    initial: 'kebab',
  },
  { id: 'prefix', label: 'Begin with', type: 'text', initial: '', most: 40, placeholder: 'color-' },
];

/**
 * Makes different identifiers of names, in the case and with the beginning that are asked for.
 * @param ascii whether identifiers of the format have no other letters
 * @param digitFirst whether they may begin with a digit
 */
export function identifiers(
  options: Options | undefined,
  { ascii = false, digitFirst = false },
): { of(name: string): string; asked: boolean } {
  const declared = { options: identifierOptions };
  const style = optionOf(declared, options, 'case') as Case;
  const plain = (text: string) => (ascii ? text.replace(/[^\x20-\x7e]+/g, ' ') : text);
  const prefix = plain(String(optionOf(declared, options, 'prefix'))).replace(/[^\p{L}\p{N}\p{M}_-]+/gu, '');
  const unique = uniquely(style === 'kebab' ? '-' : '_');
  return {
    of: (name) => {
      const word = CASES[style](identifier(plain(name)).split('-'));
      const joins = style === 'camel' && /[\p{L}\p{N}]$/u.test(prefix);
      const own = prefix + (joins ? word[0]!.toUpperCase() + word.slice(1) : word);
      return unique(
        !digitFirst && /^[\p{N}\p{M}]/u.test(own) ? `c${style === 'kebab' ? '-' : '_'}${own}` : own,
      );
    },
    asked: style !== 'kebab' || prefix !== '',
  };
}

/** The name in a remark that is a JSON string; undefined when it is none. */
export function unquoted(remark: string): string | undefined {
  try {
    const name = JSON.parse(remark);
    return typeof name === 'string' ? name : undefined;
  } catch {
    return undefined;
  }
}

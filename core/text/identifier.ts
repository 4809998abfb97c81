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

/** What identifiers of a format can be. */
interface Letters {
  /** Whether they have no letters beyond ASCII. */
  ascii?: boolean;
  /** Whether they may begin with a digit. */
  digitFirst?: boolean;
}
const plainOf = (text: string, ascii: boolean) => (ascii ? text.replace(/[^\x20-\x7e]+/g, ' ') : text);

/** The identifier of a name, when no other has it. @param prefix what it begins with */
export function identifierOf(
  name: string,
  { ascii = false, digitFirst = false }: Letters = {},
  style: Case = 'kebab',
  prefix = '',
): string {
  const kebab = identifier(plainOf(name, ascii));
  const word = style === 'kebab' ? kebab : CASES[style](kebab.split('-'));
  const joins = style === 'camel' && /[\p{L}\p{N}]$/u.test(prefix);
  const own = prefix + (joins ? word[0]!.toUpperCase() + word.slice(1) : word);
  return !digitFirst && /^[\p{N}\p{M}]/u.test(own) ? `c${style === 'kebab' ? '-' : '_'}${own}` : own;
}

/** Makes different identifiers of names, in the case and with the beginning that are asked for. */
export function identifiers(
  options: Options | undefined,
  letters: Letters,
): { of(name: string): string; asked: boolean } {
  const declared = { options: identifierOptions };
  const style = optionOf(declared, options, 'case') as Case;
  const prefix = plainOf(String(optionOf(declared, options, 'prefix')), letters.ascii ?? false).replace(
    /[^\p{L}\p{N}\p{M}_-]+/gu,
    '',
  );
  const unique = uniquely(style === 'kebab' ? '-' : '_');
  return {
    of: (name) => unique(identifierOf(name, letters, style, prefix)),
    asked: style !== 'kebab' || prefix !== '',
  };
}

/** The name in a remark that is a JSON string; undefined when it is none. */
export function unquoted(remark: string): string | undefined {
  if (!remark.startsWith('"') || !remark.endsWith('"')) return undefined;
  try {
    const name = JSON.parse(remark);
    return typeof name === 'string' ? name : undefined;
  } catch {
    return undefined;
  }
}

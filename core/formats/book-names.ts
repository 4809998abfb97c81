import type { BookFacts, Library } from '../swatch/model.ts';
import { allSwatches } from '../swatch/model.ts';

/** What stands before and behind the number in every name of a book, where that holds for all of them. */
export function aroundNumbers(library: Library): { prefix: string; suffix: string } | null {
  const { prefix = '', suffix = '' } = library.book ?? {};
  if (prefix === '' && suffix === '') return null;
  return allSwatches(library).every((s) => s.code && s.name === `${prefix}${s.code}${suffix}`)
    ? { prefix, suffix }
    : null;
}

/** What a file's prefix and suffix say of it as a book. */
export const factsOf = (prefix: string, suffix: string): BookFacts => ({
  ...(prefix ? { prefix } : {}),
  ...(suffix ? { suffix } : {}),
});

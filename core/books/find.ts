/** What a number or name is looked for in, in lower case. */
export interface Named {
  code: string;
  name: string;
}

export const folded = (code: string | undefined, name: string): Named => ({
  code: (code ?? '').toLowerCase(),
  name: name.toLowerCase(),
});

/**
 * The places of what a typed number or name can mean: first what is just that, then what begins so, then what contains it, each
 * in the order of the book.
 *
 * @param most this many of the last two kinds are enough
 */
export function findEntries(entries: readonly Named[], typed: string, most = 200): number[] {
  const text = typed.trim().toLowerCase();
  if (text === '') return [];
  const exact: number[] = [];
  const begins: number[] = [];
  const contains: number[] = [];
  entries.forEach(({ code, name }, place) => {
    if (code === text || name === text) exact.push(place);
    else if (code.startsWith(text) || name.startsWith(text)) begins.push(place);
    else if (code.includes(text) || name.includes(text)) contains.push(place);
  });
  return [...exact, ...begins.slice(0, most), ...contains.slice(0, most)];
}

import { stat } from 'node:fs/promises';
import { processingSteps } from '../core/books/index.ts';
import { conditionOf, SHIPPED } from '../core/color/index.ts';
import { FormatError } from '../core/formats/index.ts';
import type { Library } from '../core/swatch/model.ts';
import { conditionHere } from './engine.ts';
import { open } from './files.ts';

/** A swatch file, or a book by its name. @throws FormatError when it is neither */
export async function libraryNamed(place: string): Promise<Library> {
  return (await stat(place).catch(() => null)) ? (await open(place)).library : bookNamed(place);
}

/** One of the books that come with Papillon; words of its name are enough, where they fit one alone. */
async function bookNamed(name: string): Promise<Library> {
  const { sampleBooks } = await import('../demo/books/index.ts');
  const on = (profile: string) => conditionHere({ condition: { ...conditionOf({}), profile } });
  const books = [
    ...sampleBooks({ coated: await on(SHIPPED.coated), uncoated: await on(SHIPPED.uncoated) }),
    processingSteps(),
  ];
  const words = (text: string) => text.toLocaleLowerCase('en').split(/\s+/).filter(Boolean);
  const exact = books.find((b) => words(b.name).join(' ') === words(name).join(' '));
  const fitting = books.filter((b) => words(name).every((w) => words(b.name).includes(w)));
  const [found] = exact ? [exact] : fitting;
  if (found && (exact || fitting.length === 1)) return found;
  throw new FormatError(
    `${name}: the file does not exist${fitting.length > 1 ? ', and several books have these words in their names' : ' and no book of this name'}. Books: ${(fitting.length > 1 ? fitting : books).map((b) => `“${b.name}”`).join(', ')}.`,
  );
}

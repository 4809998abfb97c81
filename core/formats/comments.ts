import type { OptionDeclaration } from '../options.ts';
import { type Comment, threadsOf } from '../swatch/comment.ts';
import type { Library } from '../swatch/model.ts';

/** Comments are of those who share a library: a file has them only when it is asked to. */
export const commentsOption: OptionDeclaration = {
  id: 'comments',
  label: 'With comments',
  type: 'boolean',
  initial: false,
};

const line = ({ data: { author, at, text, mark } }: Comment): string =>
  `${author}, ${new Date(at).toISOString().slice(0, 10)}: ${mark ? `(${mark})` : text}`;

/** What has been written about each thing, by its id: who, when and what in a line, the answers behind what they answer. */
export const commentLines = (library: Pick<Library, 'items'>): Map<string, string[]> =>
  new Map(
    [...threadsOf(library)].map(([on, threads]) => [
      on,
      threads.flatMap(({ first, answers }) => [first, ...answers].map(line)),
    ]),
  );

import { TALK_KINDS } from './choice.ts';
import { threadsOf } from './comment.ts';
import type { Item, Library } from './model.ts';

/** What comments are on, in words; items by their kinds. */
const KINDS: Record<string, string> = {
  gradient: 'gradient',
  colorway: 'colourway',
  board: 'board',
  reading: 'reading',
};

/** Something of a library that comments are on. */
export interface Commented {
  id: string;
  /** Empty where it has been deleted. */
  kind: string;
  name: string;
}

/** What the comments of a library are on, in its order; what has been deleted since stands last. */
export function commentedIn(library: Library): Commented[] {
  const on = new Set(threadsOf(library).keys());
  const found: Commented[] = [];
  const add = (id: string, kind: string, name: string) => {
    if (on.delete(id)) found.push({ id, kind, name });
  };
  for (const group of library.groups) for (const s of group.swatches) add(s.id, 'swatch', s.name);
  for (const { id, kind, name } of (library.items ?? []).filter((i: Item) => !TALK_KINDS.includes(i.kind)))
    add(id, KINDS[kind] ?? kind, name);
  return [...found, ...[...on].map((id) => ({ id, kind: '', name: '' }))];
}

/** The comments of a library as a table, with its heads first: those of each thread follow each other. */
export function commentTable(library: Library): string[][] {
  const threads = threadsOf(library);
  const rows = commentedIn(library).flatMap(({ id, kind, name }) =>
    threads
      .get(id)!
      .flatMap(({ first, answers, isResolved }, n) =>
        [first, ...answers].map(({ data }) => [
          kind || 'deleted',
          name,
          String(n + 1),
          isResolved ? 'resolved' : 'open',
          data.author,
          new Date(data.at).toISOString(),
          data.mark ? `(${data.mark})` : data.text,
        ]),
      ),
  );
  return [['On', 'Name', 'Thread', 'State', 'By', 'At', 'Text'], ...rows];
}

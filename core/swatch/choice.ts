import { MAX_COMMENT_CHARACTERS, MAX_NAME_CHARACTERS } from '../sizes.ts';
import type { Applied, Draft } from './change.ts';
import { COMMENT } from './comment.ts';
import { itemOps } from './item-ops.ts';
import type { Item, Library } from './model.ts';
import type { LibraryRows } from './rows.ts';

export const CHOICE = 'choice';
export const PICK = 'pick';
export const MAX_OPTIONS = 6;
export const MAX_QUESTION_CHARACTERS = 300;

/** What people say to each other about a library: nothing of it is handed over. */
export const TALK_KINDS: readonly string[] = [COMMENT, CHOICE, PICK];

/** Who said something, and when. */
interface Said {
  by: string;
  author: string;
  /** ms since 1970. */
  at: number;
}

/** A question of which of some swatches, colourways or boards it is to be; its name is the question. */
export type Choice = Item & { kind: typeof CHOICE; refs: string[]; data: Said & { closed?: boolean } };

/** What one has picked, and why. The latest of each person counts. */
export type Picked = Item & {
  kind: typeof PICK;
  refs: [string];
  data: Said & { option: string; text: string };
};

const isSaid = (d: Partial<Said>): boolean =>
  typeof d.by === 'string' &&
  typeof d.author === 'string' &&
  d.author.length <= MAX_NAME_CHARACTERS &&
  Number.isFinite(d.at);

/** What may come from another program or version is looked into before it is shown. */
export const isChoice = (item: Item): item is Choice =>
  item.kind === CHOICE &&
  isSaid((item.data ?? {}) as Partial<Said>) &&
  Array.isArray(item.refs) &&
  item.refs.length >= 2 &&
  item.refs.length <= MAX_OPTIONS &&
  item.name.length <= MAX_QUESTION_CHARACTERS;

export function isPick(item: Item): item is Picked {
  if (item.kind !== PICK) return false;
  const d = (item.data ?? {}) as Partial<Picked['data']>;
  return (
    isSaid(d) &&
    item.refs?.length === 1 &&
    typeof d.option === 'string' &&
    typeof d.text === 'string' &&
    d.text.length <= MAX_COMMENT_CHARACTERS
  );
}

/** A choice with the latest pick of each person, the earliest first. */
export interface Asked {
  choice: Choice;
  picks: Picked[];
}

/** The choices of a library, the latest first. */
export function choicesIn({ items = [] }: { items?: Item[] | undefined }): Asked[] {
  const picks = items.filter(isPick).sort((a, b) => a.data.at - b.data.at || (a.id < b.id ? -1 : 1));
  return items
    .filter(isChoice)
    .sort((a, b) => b.data.at - a.data.at || (a.id < b.id ? -1 : 1))
    .map((choice) => {
      const latest = new Map<string, Picked>();
      for (const pick of picks)
        if (pick.refs[0] === choice.id && choice.refs.includes(pick.data.option))
          latest.set(pick.data.by, pick);
      return { choice, picks: [...latest.values()].sort((a, b) => a.data.at - b.data.at) };
    });
}

type Places = { itemPlaces: LibraryRows['itemPlaces'] };

export const askChoice = (
  rows: Places,
  id: string,
  question: string,
  options: readonly string[],
  data: Said,
): Draft => ({
  label: `ask “${question}”`,
  ops: itemOps(rows, [{ id, kind: CHOICE, name: question, refs: [...options], data }]),
});

/** Picks one of the options of a choice. @param name what the option is called, for the history */
export const pickOption = (
  rows: Places,
  id: string,
  choice: string,
  name: string,
  data: Picked['data'],
): Draft => ({
  label: `pick “${name}”`,
  ops: itemOps(rows, [{ id, kind: PICK, name: '', refs: [choice], data }]),
});

/** Ends a choice, or opens it again. */
export const closeChoice = ({ id, name, data }: Choice, closed: boolean): Draft => ({
  label: `${closed ? 'close' : 'reopen'} the choice “${name}”`,
  ops: [{ op: 'set', of: 'item', id, fields: { data: { ...data, closed } } }],
});

export const removeChoice = ({ choice, picks }: Asked): Draft => ({
  label: `delete the choice “${choice.name}”`,
  ops: [choice, ...picks].map(({ id }) => ({ op: 'drop', of: 'item', id })),
});

/** What the options of a choice are called; those that were deleted have no name. */
export function optionNames(library: Library, { refs }: { refs: readonly string[] }): Map<string, string> {
  const wanted = new Set(refs);
  const found = new Map<string, string>();
  for (const g of library.groups) for (const s of g.swatches) if (wanted.has(s.id)) found.set(s.id, s.name);
  for (const i of library.items ?? []) if (wanted.has(i.id)) found.set(i.id, i.name);
  return found;
}

/** Whether what was done touched what people say to each other alone: nothing that is handed over is another by it. */
export function isTalk({ ops, inverse }: Pick<Applied, 'ops' | 'inverse'>): boolean {
  // what is dropped is put back by the inverse, so that one of both says what each row was
  const talks = new Set(
    [...ops, ...inverse].flatMap((o) =>
      o.op === 'put' && o.of === 'item' && TALK_KINDS.includes(o.fields.kind as string) ? [o.id] : [],
    ),
  );
  return ops.length > 0 && ops.every((o) => o.of === 'item' && talks.has(o.id));
}

import { answered, type CodeColor, type CodeLine, type Question, type Reading } from './codes.ts';
import type { Condition } from './model.ts';
import { suggestNames } from './names.ts';
import { toHex } from './spaces.ts';

/** A line of codes as far as it is read, and the answers for it alone, by the place of the code in it. */
export interface ReadText {
  read: CodeLine | null;
  own: Record<number, string>;
}

export interface NamedColor extends CodeColor {
  name: string;
  /** Nobody typed the name. */
  suggested: boolean;
}

/** A line with what it gives. */
export interface CodeEntry<L extends ReadText = ReadText> {
  line: L;
  colors: NamedColor[];
  /** By the place of the code: the answers that hold for it. */
  answers: Record<number, string>;
  /** How many codes still ask. */
  open: number;
  /** The earlier line that has all its colours already. */
  same: number | null;
}

const keyOf = ({ color, alpha = 1 }: CodeColor) =>
  [color.space, ...color.components.map((v) => v.toFixed(6)), alpha.toFixed(4)].join();

/**
 * What lines of codes give together: every colour in order, what is still open, and what could not be read.
 * @param answers hold for all codes that leave the same thing open
 * @param suggest colours without a name get one; else they are called by their code
 * @param once colours that are there already are left out
 */
export function codeEntries<L extends ReadText>(
  lines: readonly L[],
  { answers, suggest, once }: { answers: Partial<Record<Question, string>>; suggest: boolean; once: boolean },
  condition: Condition,
) {
  const first = new Map<string, number>();
  const questions = new Map<Question, { codes: number; readings: Reading[] }>();
  const entries: CodeEntry<L>[] = [];
  const taken: NamedColor[] = [];
  let [repeats, unread, wrong] = [0, 0, 0];
  lines.forEach((line, l) => {
    const own: Record<number, string> = {};
    const colors: NamedColor[] = [];
    const codes = line.read?.codes ?? [];
    let open = 0;
    let earlier: number | null = null;
    let repeated = 0;
    codes.forEach((code, i) => {
      const answer = line.own[i] ?? (code.question && answers[code.question]);
      const found = answered(code, answer);
      if (answer && found.length > 0) own[i] = answer;
      if (code.problem) wrong++;
      else if (code.question && found.length === 0) {
        open++;
        const all = questions.get(code.question);
        questions.set(code.question, {
          codes: (all?.codes ?? 0) + 1,
          // a question is put once for all codes only with what all of them can answer
          readings: all
            ? all.readings.filter((r) => code.readings.some((x) => x.id === r.id))
            : code.readings,
        });
      }
      found.forEach((color, n) => {
        const name = n === 0 ? code.name : '';
        const one = { ...color, name, suggested: !name };
        colors.push(one);
        const before = first.get(keyOf(color));
        if (before === undefined) first.set(keyOf(color), l + 1);
        else {
          repeats++;
          repeated++;
          earlier ??= before;
        }
        if (before === undefined || !once) taken.push(one);
      });
    });
    if (line.read && codes.length === 0 && line.read.parts.some((p) => p.is === 'unread')) unread++;
    entries.push({ line, colors, answers: own, open, same: repeated === colors.length ? earlier : null });
  });
  const nameless = entries.flatMap((e) => e.colors).filter((c) => c.suggested);
  const names = suggest
    ? suggestNames(
        nameless.map((c) => c.color),
        condition,
        taken.flatMap((c) => c.name || []),
      )
    : nameless.map((c) => toHex(c.color, condition).toUpperCase());
  nameless.forEach((color, i) => {
    color.name = names[i]!;
    color.suggested = suggest;
  });
  return {
    entries,
    taken,
    questions: [...questions].map(([question, rest]) => ({ question, ...rest })),
    repeats,
    unread,
    wrong,
  };
}

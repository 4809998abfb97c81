import type { CodeLine, Question } from '#core/color/index';

/** A line as it was typed or pasted, and what was read in it; null while it waits for its turn. */
export interface Line {
  id: string;
  text: string;
  read: CodeLine | null;
  /** Answers for this line alone, by the place of the code in it. */
  own: Record<number, string>;
}

export interface CodesState {
  lines: Line[];
  /** Answers that hold for all codes that leave the same thing open. */
  answers: Partial<Record<Question, string>>;
  suggest: boolean;
  /** Colours that are there already are left out. */
  once: boolean;
}

/** What is kept of it in this browser. */
export type Kept = Omit<CodesState, 'lines'> & { lines: Omit<Line, 'read'>[] };

import type { ReadText } from '#core/color/code-list';
import type { Question } from '#core/color/codes';

/** A line as it was typed or pasted, and what was read in it; null while it waits for its turn. */
export interface Line extends ReadText {
  id: string;
  text: string;
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

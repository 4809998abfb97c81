import type { Condition } from '../../core/color/index.ts';
import type { Library } from '../../core/swatch/index.ts';
import { papers } from './inks.ts';
import { kestrelmere } from './kestrelmere.ts';
import { curatedSets } from './sets.ts';

/** The sample books: the Kestrelmere Inks on both papers, with sets of our own. */
export function sampleBooks(conditions: { coated: Condition; uncoated: Condition }): Library[] {
  return papers.map((paper) => {
    const condition = conditions[paper.name];
    const book = kestrelmere(paper, condition);
    return { ...book, items: curatedSets(book, condition) };
  });
}

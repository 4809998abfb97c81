import { nanoid } from 'nanoid';
import { type BoardObject, USUAL_WEIGHT } from '#core/swatch/index';

export const newId = () => nanoid(12);

/** An object of a board that shows something of the library. */
export const objectOf = (of: BoardObject['of'], refs: string[], name: string): BoardObject => ({
  ...{ id: newId(), of, refs, name, weight: USUAL_WEIGHT },
});

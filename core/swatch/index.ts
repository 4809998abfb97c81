export * from '../shape.ts';
export * from './board.ts';
export * from './change.ts';
export * from './choice.ts';
export * from './colorway.ts';
export * from './comment.ts';
export * from './comment-list.ts';
export * from './edits.ts';
export * from './fields.ts';
export * from './gradient.ts';
export * from './ink.ts';
export * from './items.ts';
export * from './merge.ts';
export * from './model.ts';
export * from './order.ts';
export * from './order-keys.ts';
export * from './page.ts';
export {
  addReadings,
  FACTS,
  type FactId,
  factIds,
  type MeasuredInk,
  READING,
  type Reading,
  readingsOf,
  referTo,
  removeReading,
  setReading,
} from './reading.ts';
export * from './rows.ts';
export * from './salvage.ts';
export * from './schema.ts';
export * from './steps.ts';
export * from './surfaces.ts';
export * from './sync.ts';
export * from './together.ts';

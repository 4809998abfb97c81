export * from '../shape.ts';
export * from './change.ts';
export * from './colorway.ts';
export * from './edits.ts';
export * from './fields.ts';
export * from './gradient.ts';
export * from './ink.ts';
export * from './items.ts';
export * from './merge.ts';
export * from './model.ts';
export * from './order.ts';
export * from './order-keys.ts';
export {
  addReadings,
  FACTS,
  type FactId,
  type Facts,
  factIds,
  isReading,
  MAX_STEPS,
  type MeasuredInk,
  READING,
  type Reading,
  type ReadingData,
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

export * from './figures.ts';
export { readMeasurements } from './file.ts';
export * from './model.ts';
export { conditionText, inksOf } from './ramps.ts';

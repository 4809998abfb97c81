export * from './figures.ts';
export { readMeasurements } from './file.ts';
export * from './model.ts';
export { inksOf, type Reading } from './ramps.ts';

export * from './figures.ts';
export { NoSpectraError, readMeasurements } from './file.ts';
export * from './model.ts';
export { inksOf, type Reading } from './ramps.ts';

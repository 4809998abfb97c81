export * from './compare.ts';
export { levelOfX4, missingForX4, writeCxf } from './cxf.ts';
export * from './figures.ts';
export { NoSpectraError, readMeasurements } from './file.ts';
export * from './mixture.ts';
export * from './model.ts';
export { inksOf, type Ramps } from './ramps.ts';
export * from './recipe.ts';
export * from './write.ts';

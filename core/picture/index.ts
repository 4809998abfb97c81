export * from './exact.ts';
export * from './histogram.ts';
export * from './order.ts';
export * from './prune.ts';
export * from './quality.ts';
export * from './reduce.ts';
export * from './remap.ts';
export * from './sample.ts';

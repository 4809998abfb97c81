export * from './find.ts';
export * from './leaves.ts';
export * from './processing-steps.ts';
export * from './take.ts';
export * from './tints.ts';

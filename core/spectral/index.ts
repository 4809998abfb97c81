export * from './density.ts';
export * from './lab.ts';
export * from './mixing.ts';
export * from './xyz.ts';

export * from './lab.ts';
export * from './mixing.ts';
export * from './xyz.ts';

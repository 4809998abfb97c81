export * from './lab.ts';
export * from './mixing.ts';

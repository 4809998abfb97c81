export * from './contrast.ts';
export * from './edits.ts';
export * from './lights.ts';
export * from './tunable.ts';
export * from './tune.ts';

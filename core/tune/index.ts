export * from './contrast.ts';
export * from './edits.ts';
export * from './inks.ts';
export * from './lights.ts';
export * from './tunable.ts';
export * from './tune.ts';
export * from './variations.ts';

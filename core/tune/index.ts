export * from './edits.ts';
export * from './lights.ts';
export * from './tune.ts';

export * from './lights.ts';
export * from './tune.ts';

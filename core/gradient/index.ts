export * from './along.ts';
export * from './css.ts';
export * from './paint.ts';

export * from './css.ts';
export * from './paint.ts';

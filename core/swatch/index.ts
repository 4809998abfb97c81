export * from './edits.ts';
export * from './merge.ts';
export * from './model.ts';
export * from './order.ts';
export * from './schema.ts';

export * from './changes.ts';
export * from './format.ts';
export * from './registry.ts';

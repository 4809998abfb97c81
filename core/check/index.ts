export * from './check.ts';
export { sides } from './contrast.ts';
export * from './registry.ts';
export * from './run.ts';

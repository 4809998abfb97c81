export * from './assign.ts';
export * from './match.ts';
export * from './pairing.ts';
export * from './swap.ts';

export { deltaE00 } from './difference.ts';
export type { Color, Lab, Rgb, Space } from './model.ts';
export { SPACES } from './model.ts';
export * from './notation.ts';
export * from './spaces.ts';

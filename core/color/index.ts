export * from './codes.ts';
export { deltaE00 } from './difference.ts';
export { labToXyz50, xyz50ToLab } from './lab.ts';
export type { Color, Lab, Rgb, Space } from './model.ts';
export { SPACES } from './model.ts';
export * from './names.ts';
export * from './notation.ts';
export * from './spaces.ts';
export * from './spectrum.ts';

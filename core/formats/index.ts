export * from './archive.ts';
export * from './changes.ts';
export * from './destinations.ts';
export * from './format.ts';
export * from './intake.ts';
export * from './kit.ts';
export * from './png/png.ts';
export * from './registry.ts';

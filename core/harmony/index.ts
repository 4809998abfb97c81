export * from './asked.ts';
export * from './circles.ts';
export * from './family.ts';
export * from './finder.ts';
export * from './gamuts.ts';
export * from './ribbon.ts';
export * from './rules.ts';
export * from './scale.ts';

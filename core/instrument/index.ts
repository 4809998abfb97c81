export * from './guide.ts';
export * from './instrument.ts';
export * from './serial.ts';
export * from './sheets.ts';
export * from './simulated.ts';

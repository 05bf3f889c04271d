export * from './alarm.ts';
export * from './bench.ts';
export * from './common.ts';
export * from './monitor.ts';
export * from './problem.ts';
export * from './reading.ts';
export * from './unit.ts';

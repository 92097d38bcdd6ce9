export * from './domain-error.ts';
export * from './meter-scale.ts';
export * from './volume.ts';
export * from './volume-units.ts';
export * from './net.ts';
export * from './reading.ts';
export * from './words.ts';
export * from './scale-from-standard.ts';

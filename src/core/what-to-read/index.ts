export * from './ask.ts';
export * from './value.ts';
export * from './round.ts';
export * from './from-log.ts';

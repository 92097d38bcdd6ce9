export * from './change.ts';
export * from './outcome.ts';
export * from './assign.ts';
export * from './difference.ts';
export * from './power.ts';
export * from './student.ts';
export * from './usual.ts';
export * from './verdict.ts';

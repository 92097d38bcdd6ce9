export * from './assign.ts';
export * from './difference.ts';
export * from './power.ts';
export * from './student.ts';
export * from './verdict.ts';

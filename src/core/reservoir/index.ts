export * from './expected-old-reservoir.ts';
export * from './reservoir-now.ts';
export * from './flush.ts';

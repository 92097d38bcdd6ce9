export * from './gaussian.ts';
export * from './trend.ts';

export * from './gaussian.ts';
export * from './trend.ts';
export * from './random.ts';
export * from './multinormal.ts';
export * from './ensemble.ts';

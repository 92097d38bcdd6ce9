export * from './gaussian.ts';

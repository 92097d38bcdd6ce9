export { normal, seededRandom, seedOf, type Random } from '../statistics/index.ts';
export * from './sim-solution.ts';
export * from './sim-pen.ts';
export * from './sim-batch.ts';
export * from './sim-pot.ts';
export * from './replay-batch.ts';
export * from './sim-clay.ts';
export * from './practice.ts';
export * from './sim-soak.ts';

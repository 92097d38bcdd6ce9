export * from './random.ts';
export * from './sim-solution.ts';
export * from './sim-pen.ts';
export * from './sim-batch.ts';
export * from './sim-pot.ts';
export * from './replay-batch.ts';
export * from './sim-clay.ts';
export * from './practice.ts';

export * from './greedy.ts';
export * from './live.ts';
export * from './problem.ts';
export * from './rules.ts';
export * from './search.ts';
export * from './water-stock.ts';
export * from './lots.ts';

export * from './stores.ts';
export * from './history.ts';
export {
  fitClay,
  spreadOf,
  spreadsOf,
  chanceOf,
  USUAL_ERROR,
  type ClayFit,
  type ReadingError,
  type Spread,
} from './fit.ts';
export * from './prior.ts';
export * from './own-bags.ts';
export * from './plan.ts';
export * from './ways.ts';
export * from './leach-standing.ts';
export * from './forecast.ts';
export * from './pot-leach.ts';
export * from './poured-off.ts';

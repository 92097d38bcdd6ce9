export * from './pools.ts';
export * from './history.ts';
export { fitClay, spreadOf, USUAL_ERROR, type ClayFit, type ClayPrior, type ReadingError, type Spread } from './fit.ts';
export * from './prior.ts';
export * from './plan.ts';

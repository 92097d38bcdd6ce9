export * from './facts.ts';
export * from './rule.ts';
export * from './judge.ts';
export { withStrengths } from './measures.ts';
export * from './standing.ts';
export { GATHERING, PH_DRIFTING, PH_LOW } from './thresholds.ts';
export * from './pen-watch.ts';
export * from './guided-checks.ts';
export * from './unsteady-check.ts';

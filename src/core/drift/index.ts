export * from './titration-curve.ts';
export * from './pot-path.ts';
export * from './pot-belief.ts';
export * from './pot-draws.ts';
export * from './pour-advice.ts';
export * from './lost-feed.ts';
export * from './soak-test.ts';
export * from './borrow.ts';

export * from './aim.ts';
export * from './dilution.ts';
export * from './tool.ts';
export * from './belief.ts';
export * from './batch-belief.ts';
export * from './portion-coach.ts';
export * from './thinned-product.ts';
export * from './bench-session.ts';

export * from './response.ts';
export * from './expected-ph.ts';
export * from './ph-coach.ts';

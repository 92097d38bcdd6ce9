export * from './response.ts';
export * from './ph-coach.ts';

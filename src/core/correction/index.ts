export * from './response.ts';
export * from './expected-ph.ts';
export * from './ph-coach.ts';
export * from './acid-words.ts';
export * from './response-sd.ts';

export * from './reservoir-visits.ts';
export * from './flush.ts';
export * from './flush-for-pot.ts';
export * from './climate.ts';
export * from './top-up.ts';
export * from './standing-now.ts';
export * from './fits.ts';

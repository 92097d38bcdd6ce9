export * from './regimen.ts';
export * from './due.ts';
export * from './round-mixes.ts';
export * from './local-date.ts';

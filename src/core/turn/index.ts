export * from './compare.ts';
export * from './figure.ts';
export * from './lasting.ts';
export * from './matched.ts';
export * from './regimen-difference.ts';
export * from './unlike.ts';

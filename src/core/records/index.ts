export * from './day-form.ts';
export * from './figure.ts';
export * from './heading.ts';
export * from './record.ts';

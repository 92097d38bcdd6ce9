export * from './water-stock.ts';

export { RoundPage } from './round-page.tsx';
export { roundQuery } from './round-query.ts';

export { RoundPage } from './round-page.tsx';
export { roundQuery } from './round-query.ts';
export { PhotoButton, SomethingQuick } from './something-quick.tsx';

export { RoundPage } from './round-page.tsx';
export { roundQuery } from './round-query.ts';
export { PhotoButton } from './photo-button.tsx';

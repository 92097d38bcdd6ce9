export { RoundPage } from './round-page.tsx';
export { MixCard } from './mix-card.tsx';
export { roundQuery } from './round-query.ts';
export { PhotoButton } from './photo-button.tsx';

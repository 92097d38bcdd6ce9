export { PotSection } from './pot-section.tsx';
export { ShelfPicture, type ShelfPlace, type ShelfPot } from './shelf-picture.tsx';
export { potWords } from './pot-words.ts';

export { PotSection } from './pot-section.tsx';
export { ShelfPicture, ShelfPotFace, shelfPotWords, type ShelfPlace, type ShelfPot } from './shelf-picture.tsx';
export { potWords } from './pot-words.ts';

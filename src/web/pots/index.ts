export { PotsPage } from './pots-page.tsx';
export { PotPage } from './pot-page.tsx';

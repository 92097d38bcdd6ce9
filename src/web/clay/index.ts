export { ClayPage } from './clay-page.tsx';
export { PotUpPage } from './pot-up-page.tsx';

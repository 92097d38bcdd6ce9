export { RoundPage } from './round-page.tsx';

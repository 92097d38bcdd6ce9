export { SeasonPage } from './season-page.tsx';

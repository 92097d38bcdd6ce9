export { StartPage } from './start-page.tsx';

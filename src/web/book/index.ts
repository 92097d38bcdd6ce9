export { BookPage } from './book-page.tsx';

export { SeasonPage } from './season-page.tsx';
export { LookBackPage } from './look-back-page.tsx';
export { YearPage } from './year-page.tsx';
export { SitterPage } from './sitter-page.tsx';
export { PrintWeeksPage } from './print-page.tsx';

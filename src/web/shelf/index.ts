export { shelfQuery, ShelfPage } from './shelf-page.tsx';
export { Fields, ThingForm } from './thing-form.tsx';
export { ScaleFields } from './fields.tsx';
export { FIELD_NAMES, FIRST, toValues, type Texts } from './texts.ts';

export { ShelfPage } from './shelf-page.tsx';
export { MixPage } from './mix-page.tsx';
export { ComparePage } from './compare-page.tsx';
export { shelfQuery } from './shelf-query.ts';
export { Fields, ThingForm } from './thing-form.tsx';
export { ScaleFields } from './fields.tsx';
export { FIELD_NAMES, FIRST, toValues, type Texts } from './texts.ts';

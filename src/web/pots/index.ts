export { LabelsPage } from './labels-page.tsx';
export { ListPage, PastedList } from './list-page.tsx';
export { FIRST_REGIMEN, PlaceFields, RegimenFields, toRegimenValues } from './place-form.tsx';
export { PlacesPage } from './places-page.tsx';
export { PotPage } from './pot-page.tsx';
export { PotForm } from './pot-form.tsx';
export { potsQuery, PotsPage } from './pots-page.tsx';
export { EMPTY_POT, nextCode, toPotTexts, toPotValues, type PotTexts } from './pot-texts.ts';

export * from './composition.ts';
export * from './solve.ts';
export * from './saturation.ts';
export * from './elements.ts';
export * from './masses.ts';
export {
  DECLARED_ACIDS,
  DECLARED_ALKALIS,
  LABEL_ITEMS,
  type Label,
  type LabelIssue,
  type LabelItem,
} from './label-items.ts';
export * from './label.ts';
export * from './waters.ts';
export * from './titrate.ts';
export * from './clouding.ts';
export * from './expected-batch.ts';
export { constantsAt, TEMPERATURE_LIMITS } from './constants.ts';
export { davies } from './speciate.ts';
export type { Air } from './speciate.ts';
export * from './product-kind.ts';
export * from './suitability.ts';
export * from './water-verdict.ts';
export * from './costs.ts';
export * from './aims.ts';
export * from './usual-water.ts';

import { COORDINATES } from './shapes.ts';

/** A belief about a bag before its first reading: normal over the coordinates of structure and amounts. */
export type ClayPrior = { readonly mean: readonly number[]; readonly covariance: readonly (readonly number[])[] };

/** Clay before anything is known of a bag: every coordinate of its structure and its amounts within the ranges of the physics. */
export const CLAY_AT_LARGE: ClayPrior = Object.freeze({
  mean: COORDINATES.map(() => 0),
  covariance: COORDINATES.map((_, a) => COORDINATES.map((_, b) => (a === b ? 1 : 0))),
});

import { requirePositive } from '../quantity/index.ts';

/** Two points of a picture, x and y of each as shares of its width and its height. */
export type Span = readonly [number, number, number, number];
/** A finger meets a point to within so much of the picture's longer edge. House rule. */
const TAP_SHARE = 0.004;

/**
 * A length taken from a photo by something of known length in it, both in one plane across the line of sight.
 * @param aspect width of the picture over its height
 * @returns cm, and 1 SD of it from how well four points are met: nothing of a leaf that leans towards the camera
 * @throws DomainError where the known length is nought, or its two ends are one
 * @example lengthInPhoto({ knownCm: 10, scale: [0, 0, 0.5, 0], ends: [0, 0, 0, 1], aspect: 1 }).cm // 20
 */
export function lengthInPhoto({
  knownCm,
  scale,
  ends,
  aspect,
}: {
  knownCm: number;
  scale: Span;
  ends: Span;
  aspect: number;
}): { readonly cm: number; readonly sdCm: number } {
  requirePositive(knownCm, 'the known length');
  requirePositive(aspect, 'the picture’s shape');
  const of = ([ax, ay, bx, by]: Span) => Math.hypot((bx - ax) * aspect, by - ay);
  const [known, measured] = [of(scale), of(ends)];
  requirePositive(known, 'the known length in the picture');
  const tap = Math.SQRT2 * TAP_SHARE * Math.max(1, aspect);
  const cm = (knownCm * measured) / known;
  return { cm, sdCm: cm === 0 ? (knownCm * tap) / known : cm * Math.hypot(tap / known, tap / measured) };
}

import type { Aim } from './aim.ts';
import { expectedNet, type BatchBelief } from './batch-belief.ts';
import { MOST_DROPS, stepMlOf, type Tool } from './tool.ts';

/** More drops (halves of a spoon) that land in the band, by what is known of the bottle. */
export type WholeDrops = { readonly from: number; readonly to: number };

/**
 * Where doses are few whole drops or spoons: which numbers of them are expected to read in the band. By the middle of what is believed, so that it
 * is a landmark and no promise: the coach's dose is chosen by its chances.
 * @param overEcUsCm what the pen read when the first of that product went in, µS/cm @param tool a syringe has no steps worth counting
 * @returns undefined where no whole number lands inside, or too many to count
 * @example wholeDrops(batch, 0, aim, 9, dropper) // { from: 13, to: 20 }: 12 a little low
 */
export function wholeDrops(
  batch: BatchBelief,
  product: number,
  aim: Aim,
  overEcUsCm: number,
  tool: Tool,
): WholeDrops | undefined {
  if (tool.kind === 'syringe') return undefined;
  const stepMl = stepMlOf(tool);
  const inside = (steps: number) => {
    const net = expectedNet(batch, steps * stepMl, 0, product).readingMean - overEcUsCm;
    return net >= aim.lowEcUsCm && net <= aim.highEcUsCm;
  };
  const counts = Array.from({ length: MOST_DROPS }, (_, i) => i + 1).filter(inside);
  const [from, to] = [counts[0], counts.at(-1)];
  return from === undefined || to === undefined || to === MOST_DROPS ? undefined : { from, to };
}

import type { ClayState } from '../../contract/clay.ts';
import { soakStanding, TELLS_OF_FLAT, type SoakStanding, type Spread } from '../../core/clay/index.ts';
import { HALF, type FittedBatch } from './clay-log.ts';

const HOUR_MS = 3_600_000;

/** What a batch is fit for now. Strengths at the half scale. */
export type BatchStanding = {
  readonly state: ClayState;
  readonly ready: boolean;
  readonly why: string;
  readonly flat: Spread | undefined;
  readonly soak: SoakStanding | undefined;
};

/**
 * How a batch stands: the gate is the expected flat reading, and one reading late enough in the soak must bear it out.
 * @param leftL not potted up yet @param shown turns the half scale's ppm into the figure on the pen at hand
 */
export function standingOf(
  fitted: FittedBatch,
  now: Date,
  leftL: number,
  shown: (ppm: number) => number,
): BatchStanding {
  const { batch, soak, fit } = fitted;
  const gate = batch.gateEcUsCm * HALF;
  const p = (ppm: number) => Math.round(shown(ppm));
  if (!soak) return { ...unsoaked(fitted, leftL), flat: undefined, soak: undefined };
  const at = new Date(Math.min(now.getTime(), soak.drainedAt ? Date.parse(soak.drainedAt) : Infinity));
  const standing = soakStanding(fit, soak.history, Math.max(0, (at.getTime() - Date.parse(soak.startedAt)) / HOUR_MS));
  const { flat, readAlong } = standing;
  const low = flat.mean <= gate;
  const proven = readAlong !== undefined && readAlong >= TELLS_OF_FLAT;
  const ready = low && proven;
  const spent = soak.drainedAt !== null && leftL <= EMPTY_L;
  const flatWords = `this water goes flat at about ${p(flat.mean)} (${p(flat.low)} to ${p(flat.high)}) over its base`;
  const why = ready
    ? `Ready: ${flatWords}, and the gate is ${p(gate)}.`
    : low
      ? `By the forecast ${flatWords}, under the gate of ${p(gate)}; a reading later in this soak has to bear it out.`
      : `Not ready: ${flatWords}, and the gate is ${p(gate)}.`;
  const state: ClayState = spent ? 'usedUp' : ready ? 'ready' : soak.drainedAt === null ? 'soaking' : 'drained';
  return { state, ready, why, flat, soak: standing };
}

/** What is left in the bottom of a bag is no clay to plant in. */
export const EMPTY_L = 0.05;

function unsoaked({ batch }: FittedBatch, leftL: number): Pick<BatchStanding, 'state' | 'ready' | 'why'> {
  if (batch.prep === 'leached')
    return {
      state: leftL <= EMPTY_L ? 'usedUp' : 'leached',
      ready: true,
      why: 'Leached before it was kept here, so it counts as ready; a soak that goes flat would prove it.',
    };
  if (batch.prep === 'unleached')
    return {
      state: leftL <= EMPTY_L ? 'usedUp' : 'unleached',
      ready: false,
      why: 'Never leached: it overloads plants for months.',
    };
  return batch.rinsedOn
    ? { state: 'rinsed', ready: false, why: 'Only rinsed: its first water will read 170 to over 200.' }
    : { state: 'bag', ready: false, why: 'As it came in the bag: rinse the dust off first.' };
}

import type { ClayState } from '../../contract/clay.ts';
import { leachStanding, TELLS_OF_FLAT, type LeachStanding, type Spread } from '../../core/clay/index.ts';
import { HALF, type FittedBatch } from './clay-log.ts';

const HOUR_MS = 3_600_000;

/** What a batch is fit for now. Strengths at the half scale. */
export type BatchStanding = {
  readonly state: ClayState;
  readonly ready: boolean;
  readonly why: string;
  readonly flat: Spread | undefined;
  readonly leach: LeachStanding | undefined;
};

/**
 * How a batch stands: the gate is the expected flat reading, and one reading late enough in the bath must bear it out.
 * @param leftL not potted up yet @param shown turns the half scale's ppm into the figure on the pen at hand
 */
export function standingOf(
  fitted: FittedBatch,
  now: Date,
  leftL: number,
  shown: (ppm: number) => number,
): BatchStanding {
  const { batch, leach, fit } = fitted;
  const gate = batch.gateEcUsCm * HALF;
  const p = (ppm: number) => Math.round(shown(ppm));
  if (!leach) return { ...unleached(fitted, leftL), flat: undefined, leach: undefined };
  const at = new Date(Math.min(now.getTime(), leach.drainedAt ? Date.parse(leach.drainedAt) : Infinity));
  const standing = leachStanding(
    fit,
    leach.history,
    Math.max(0, (at.getTime() - Date.parse(leach.startedAt)) / HOUR_MS),
  );
  const { flat, readAlong } = standing;
  const low = flat.mean <= gate;
  const proven = readAlong !== undefined && readAlong >= TELLS_OF_FLAT;
  const ready = low && proven;
  const spent = leach.drainedAt !== null && leftL <= EMPTY_L;
  const flatWords = `this water goes flat at about ${p(flat.mean)} (${p(flat.low)} to ${p(flat.high)}) over its base`;
  const why = ready
    ? `Ready: ${flatWords}, and the gate is ${p(gate)}.`
    : low
      ? `By the forecast ${flatWords}, under the gate of ${p(gate)}; a reading later in this soak has to bear it out.`
      : `Not ready: ${flatWords}, and the gate is ${p(gate)}.`;
  const state: ClayState = spent ? 'usedUp' : ready ? 'ready' : leach.drainedAt === null ? 'soaking' : 'drained';
  return { state, ready, why, flat, leach: standing };
}

/** What is left in the bottom of a bag is no clay to plant in. */
export const EMPTY_L = 0.05;

function unleached({ batch }: FittedBatch, leftL: number): Pick<BatchStanding, 'state' | 'ready' | 'why'> {
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

import type { ClayState } from '../../contract/clay.ts';
import { chanceReady, leachStanding, type LeachStanding, type Spread } from '../../core/clay/index.ts';
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
 * How a batch stands: ready is a chance, of staying under the gate in the standard soak and of standing still now, borne out by a reading late
 * enough in the bath.
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
  const hours = Math.max(0, (at.getTime() - Date.parse(leach.startedAt)) / HOUR_MS);
  const standing = leachStanding(fit, leach.history, hours);
  const { flat, standard, readAlong } = standing;
  const proven = readAlong !== undefined && readAlong >= TELLS_OF_FLAT;
  const chance = chanceReady(fit, leach.history, hours, gate, proven);
  const spent = leach.drainedAt !== null && leftL <= EMPTY_L;
  const { ready } = chance;
  const twenty = Math.min(19, Math.floor(20 * chance.low));
  const comesTo = `in four weeks of still water it would come to about ${p(standard.mean)} (${p(standard.low)} to ${p(standard.high)}) over the base`;
  const why = ready
    ? `Ready: of 20 bags that read like this one 19 or more would stay under ${p(gate)}; ${comesTo}.`
    : chance.lowEnough
      ? `Low enough, nineteen times in twenty: no more changes. ${proven ? 'Another day may still add a tenth: let it stand.' : 'A reading later in this soak has to bear it out.'}`
      : `Not ready: ${comesTo}; of 20 bags that read like this one ${twenty} would stay under ${p(gate)}.`;
  const state: ClayState = spent ? 'usedUp' : ready ? 'ready' : leach.drainedAt === null ? 'soaking' : 'drained';
  return { state, ready, why, flat, leach: standing };
}

/** A reading this far along speaks of the water it is of; earlier ones pass falsely. House rule. */
const TELLS_OF_FLAT = 0.6;

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

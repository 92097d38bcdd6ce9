import { DomainError } from '../quantity/index.ts';
import { afterHours, changeWater, firstWater, type ClayParameters, type LeachState } from './stores.ts';

/** What was done to a batch, in order. `atHours` from the first water; readings are net of the water's base, on one pen's scale. */
export type LeachAct =
  | { readonly kind: 'reading'; readonly atHours: number; readonly netPpm: number }
  | {
      readonly kind: 'change';
      readonly atHours: number;
      readonly freshL: number;
      readonly pouredOffL?: number | undefined;
    }
  /** A pot flushed and fed: the water that the clay holds back is the feed's now. */
  | { readonly kind: 'fed'; readonly atHours: number; readonly netPpm: number };
export type LeachHistory = {
  readonly clayL: number;
  readonly firstL: number;
  readonly acts: readonly LeachAct[];
  /** Clay in use is wet with feed of this strength, as much as it holds back of `firstL`; a bag is dry and rinsed. */
  readonly fedNetPpm?: number;
};

/**
 * Plays a batch through its acts.
 * @returns the state after the last act, at `untilHours` if that is later, and what the model reads at each reading
 * @throws DomainError when acts run backwards in time
 */
export function playLeach(
  clay: ClayParameters,
  history: LeachHistory,
  untilHours?: number,
): { leach: LeachState; atHours: number; expected: number[] } {
  let leach = beginning(clay, history);
  let at = 0;
  let from = 0;
  const expected: number[] = [];
  for (const act of history.acts) {
    if (act.atHours < at)
      throw new DomainError(
        'out-of-range',
        'A reading stands before the one it follows',
        act.atHours,
        'Put its time right.',
      );
    leach = afterHours(clay, history.clayL, leach, act.atHours - at, at - from);
    at = act.atHours;
    if (act.kind === 'change') from = at;
    if (act.kind === 'reading') expected.push(leach.ppm);
    else if (act.kind === 'change') leach = changeWater(clay, leach, act.freshL, act.pouredOffL).leach;
    else leach = { ...leach, ppm: act.netPpm };
  }
  if (untilHours !== undefined && untilHours > at) {
    leach = afterHours(clay, history.clayL, leach, untilHours - at, at - from);
    at = untilHours;
  }
  return { leach, atHours: at, expected };
}

function beginning(clay: ClayParameters, { clayL, firstL, fedNetPpm }: LeachHistory): LeachState {
  const first = firstWater(clay, clayL, firstL);
  if (fedNetPpm === undefined) return first;
  const heldL = clay.retained * firstL;
  return { ...first, waterL: heldL + firstL, ppm: (heldL * fedNetPpm) / (heldL + firstL) };
}

import { DomainError } from '../quantity/index.ts';
import { afterHours, changeWater, firstWater, type ClayParameters, type SoakState } from './pools.ts';

/** What was done to a batch, in order. `atHours` from the first water; readings are net of the water's base, on one pen's scale. */
export type SoakAct =
  | { readonly kind: 'reading'; readonly atHours: number; readonly netPpm: number }
  | {
      readonly kind: 'change';
      readonly atHours: number;
      readonly freshL: number;
      readonly pouredOffL?: number | undefined;
    }
  /** A pot flushed and fed: the water that the clay holds back is the feed's now. */
  | { readonly kind: 'fed'; readonly atHours: number; readonly netPpm: number };
export type SoakHistory = {
  readonly clayL: number;
  readonly firstL: number;
  readonly acts: readonly SoakAct[];
  /** Clay in use is wet with feed of this strength, as much as it holds back of `firstL`; a bag is dry and rinsed. */
  readonly fedNetPpm?: number;
};

/**
 * Plays a batch through its acts.
 * @returns the state after the last act, at `untilHours` if that is later, and what the model reads at each reading
 * @throws DomainError when acts run backwards in time
 */
export function playSoak(
  clay: ClayParameters,
  history: SoakHistory,
  untilHours?: number,
): { soak: SoakState; atHours: number; expected: number[] } {
  let soak = beginning(clay, history);
  let at = 0;
  const expected: number[] = [];
  for (const act of history.acts) {
    if (act.atHours < at)
      throw new DomainError(
        'out-of-range',
        'A reading stands before the one it follows',
        act.atHours,
        'Put its time right.',
      );
    soak = afterHours(clay, history.clayL, soak, act.atHours - at);
    at = act.atHours;
    if (act.kind === 'reading') expected.push(soak.ppm);
    else if (act.kind === 'change') soak = changeWater(clay, soak, act.freshL, act.pouredOffL).soak;
    else soak = { ...soak, ppm: act.netPpm };
  }
  if (untilHours !== undefined && untilHours > at) {
    soak = afterHours(clay, history.clayL, soak, untilHours - at);
    at = untilHours;
  }
  return { soak, atHours: at, expected };
}

function beginning(clay: ClayParameters, { clayL, firstL, fedNetPpm }: SoakHistory): SoakState {
  const first = firstWater(clay, clayL, firstL);
  if (fedNetPpm === undefined) return first;
  const heldL = clay.retained * firstL;
  return { ...first, waterL: heldL + firstL, ppm: (heldL * fedNetPpm) / (heldL + firstL) };
}

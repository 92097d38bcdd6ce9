import { DRY_SHARE } from '../../core/drift/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import type { PotState } from '../pots/pot-states.ts';
import { isKnown } from './next-pour.ts';

/** Days from today until a pot is down to its last; 0 where it is already, undefined where nobody knows or it is past what is looked ahead. */
export function daysUntilDry(s: PotState, today: string): number | undefined {
  if (!isKnown(s)) return undefined;
  const { freeMl } = s.known.course;
  const from = Math.max(0, daysBetween(s.known.filledOn, today));
  if (from >= freeMl.length) return undefined;
  // What was poured on since, or found when it was read, is there or is not on every day to come.
  const more = (s.expected.leftMl ?? freeMl[from]!) - freeMl[from]!;
  for (let day = from; day < freeMl.length; day++) if (freeMl[day]! + more <= DRY_SHARE * s.known.water.reservoirMl) return day - from;
  return undefined;
}

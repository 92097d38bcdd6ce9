import { DRY_SHARE } from '../../core/drift/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import type { PotState } from '../pots/pot-states.ts';
import { isKnown } from './next-pour.ts';

/** Days from today until a pot is down to its last; 0 where it is already, undefined where nobody knows or it is past what is looked ahead. */
export function daysUntilDry(s: PotState, today: string): number | undefined {
  if (!isKnown(s)) return undefined;
  const { freeMl } = s.known.course;
  const from = Math.max(0, daysBetween(s.known.filledOn, today));
  for (let day = from; day < freeMl.length; day++) if (freeMl[day]! <= DRY_SHARE * s.known.water.reservoirMl) return day - from;
  return undefined;
}

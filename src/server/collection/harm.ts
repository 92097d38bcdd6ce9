import { harmOfWaiting } from '../../core/regimen/index.ts';
import { daysUntilDry, type PotState } from './pot-state.ts';

/** What waiting until tomorrow does to a pot. @param soak a supplement is due before its fill */
export function harmTo(s: PotState, soak: boolean, today: string): number {
  return harmOfWaiting({
    daysLeft: daysUntilDry(s, today),
    saltTimes: s.drawing.ratio,
    daysLate: s.due.daysLate,
    soak,
    tender: s.pot.sensitivity === 'tender',
  });
}

import {
  daysBetween,
  plusDays,
  SOAK_LEAST_DAYS,
  soakKey,
  soaksDueOn,
  soakToMake,
  type SoakWhat,
} from '../../core/regimen/index.ts';
import type { PotState } from '../collection/index.ts';

/** A soak due once between two days of the plan, both included. */
export type SoakWindow = {
  readonly key: string;
  readonly what: SoakWhat;
  readonly way: 'soak' | 'spray';
  readonly from: number;
  readonly until: number;
  readonly apartDays: number;
};

/** The soaks a pot is due within so many days, month by month, each as if the one before had been given as soon as it might. */
export function soakWindows(s: PotState, today: string, days: number): SoakWindow[] {
  const found: SoakWindow[] = [];
  const lastSoaks = { ...s.history.lastSoaks };
  const basket = s.pot.medium === 'basket';
  const way = basket ? 'spray' : 'soak';
  for (let t = 0; t < days;) {
    const on = plusDays(today, t);
    const monthEnds = daysBetween(today, endOfMonth(on));
    const due = soaksDueOn(s.regimen.params, s.plant, s.site, { ...s.history, lastSoaks }, on);
    const soak = soakToMake(due);
    if (!soak || (basket && !soak.sprayBaskets)) {
      t++;
      continue;
    }
    found.push({
      key: soakKey(soak, way),
      what: soak.what,
      way,
      from: t,
      until: monthEnds,
      apartDays: SOAK_LEAST_DAYS,
    });
    for (const one of due) lastSoaks[one.soak.what] = on;
    // One a month: the next month's is looked for from its first day on.
    t = monthEnds + 1;
  }
  return found;
}

function endOfMonth(day: string): string {
  const first = `${day.slice(0, 7)}-01`;
  const next = `${plusDays(first, LONGER_THAN_A_MONTH).slice(0, 7)}-01`;
  return plusDays(next, -1);
}
const LONGER_THAN_A_MONTH = 31;

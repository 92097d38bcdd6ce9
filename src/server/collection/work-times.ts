import { mixMinutes, potMinutes, type LoggedAct } from '../../core/plan/index.ts';
import { MIX_MINUTES, plusDays, POT_MINUTES } from '../../core/regimen/index.ts';
import type { WorkTime } from '../database/entities.ts';
import type { Collection } from './collection.ts';
import { memo } from './memo.ts';
import type { Rows } from './rows.ts';

/* How long things take: as the grower said, else as the log's own times tell, else as is thought. */

export type TimeOfWork = {
  readonly minutes: number;
  readonly from: 'typed' | 'learned' | 'thought';
  /** Of how many it is learned; 0 where it is not. */
  readonly of: number;
  /** What holds where nothing is typed. */
  readonly otherwise: number;
};
export type TimesOfWork = Readonly<Record<WorkTime['id'], TimeOfWork>>;

/** As much of the log as tells how long things take now. */
const TIMES_DAYS = 60;
const thought = (minutes: number) => ({ minutes, from: 'thought' as const, of: 0, otherwise: minutes });
/** A soaked pot takes its hands twice over; a change of still water on clay. House rules. */
export const TIMES_THOUGHT: TimesOfWork = {
  mix: thought(MIX_MINUTES),
  pot: thought(POT_MINUTES),
  soakedPot: thought(9),
  leach: thought(20),
};

export const timesOfWork = memo((collection: Collection, rows: Rows, today: string): TimesOfWork => {
  const { workTimes } = collection;
  const typed = new Map(workTimes.map(({ id, minutes }) => [id, minutes!]));
  const of = (id: WorkTime['id'], learned: ReturnType<typeof potMinutes>): TimeOfWork => {
    const otherwise = learned?.minutes ?? TIMES_THOUGHT[id].minutes;
    const known = { of: learned?.of ?? 0, otherwise };
    const own = typed.get(id);
    if (own !== undefined) return { minutes: own, from: 'typed', ...known };
    return { minutes: otherwise, from: learned ? 'learned' : 'thought', ...known };
  };
  const since = plusDays(today, -TIMES_DAYS);
  return {
    mix: of('mix', mixMinutes(mixTimes(rows, since))),
    pot: of('pot', potMinutes(potTimes(rows, since))),
    soakedPot: of('soakedPot', null),
    leach: of('leach', null),
  };
});

/** What was done on each day, by the minute: a filling ends a pot, all else at pot or bench is other work. */
function potTimes(rows: Rows, since: string): LoggedAct[][] {
  const days = new Map<string, LoggedAct[]>();
  for (const { on, minute, kind } of rows<{ on: string; minute: number; kind: string }>(
    `SELECT localDate AS "on", julianday(at) * 1440 AS minute, kind FROM care_event
     WHERE at >= ? AND voidedBy IS NULL AND corrects IS NULL AND kind NOT IN ('recordsChanged', 'undone', 'photoKept', 'linesBrought')
       AND NOT EXISTS (SELECT 1 FROM event_touch t WHERE t.eventId = care_event.id AND t.subject LIKE 'brought:%') ORDER BY at, seq`,
    since,
  )) {
    const day = days.get(on) ?? [];
    day.push({ atMin: minute, pot: kind === 'potFilled' });
    days.set(on, day);
  }
  return [...days.values()];
}

/** From the first water to the pouring, minutes. */
const mixTimes = (rows: Rows, since: string): number[] =>
  rows<{ minutes: number }>(
    `SELECT (julianday(pouredAt) - julianday(startedAt)) * 1440 AS minutes FROM batch WHERE startedOn >= ? AND pouredAt IS NOT NULL ORDER BY startedAt`,
    since,
  ).map(({ minutes }) => minutes);

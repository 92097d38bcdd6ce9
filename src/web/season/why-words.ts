import type { SeasonView } from '../../contract/season.ts';
import type { Breaks, OtherDay, PlanAct, Why } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { litres, weekdayDayMonth } from '../shell/format.ts';
import { isPinned } from './edits.ts';

const some = (n: number, one: string, more = `${one}s`) => `${n} ${n === 1 ? one : more}`;

/** Why days cannot be worked on. */
function offWords(view: SeasonView, day: number): string {
  return isAway(view, day) ? 'you are away' : 'it is no working day';
}

/** Nobody is there on a day of the plan. */
export function isAway({ on, away }: SeasonView, day: number): boolean {
  const date = plusDays(on, day);
  return away.some(({ fromDate, untilDate }) => fromDate <= date && date <= untilDate);
}

/** What breaks where an act stands on a day, in the middle of a sentence. */
export function breaksWords(view: SeasonView, { day, breaks }: OtherDay, pots: number): string {
  const dayOf = (t: number) => weekdayDayMonth(plusDays(view.on, t));
  switch (breaks.kind) {
    case 'rule':
      return ruleWords(view, day, breaks.rule);
    case 'tank':
      return breaks.day === day
        ? `the tank cannot carry ${some(pots, 'pot')} that day: ${litres(breaks.wantsL)} wanted of ${litres(breaks.hasL)}`
        : `it would leave ${litres(breaks.wantsL - breaks.hasL)} too few for ${dayOf(breaks.day)}`;
    case 'minutes':
      return `${dayOf(breaks.day)} would run ${Math.round(breaks.over)} minutes over`;
    case 'nothing':
      return 'nothing would break';
    default:
      return costWords(breaks);
  }
}

function ruleWords(view: SeasonView, day: number, rule: Extract<Breaks, { kind: 'rule' }>['rule']): string {
  switch (rule) {
    case 'dayOff':
      return offWords(view, day);
    case 'notThatDay':
      return 'you said not on that day';
    case 'tooSoon':
      return 'too soon beside another watering of theirs';
    case 'outOfSeason':
      return 'the soak’s month is not open then';
    case 'notAtAVisit':
      return 'they are not watered that day';
    case 'pin':
      return 'you pinned another day';
  }
}

function costWords(breaks: Breaks): string {
  switch (breaks.kind) {
    case 'dry':
      return `pots would stand dry, ${some(breaks.potDays, 'pot-day')} more`;
    case 'soaks':
      return `${some(breaks.pots, 'pot')} would miss a soak`;
    case 'late':
      return `pots would be late, ${some(breaks.potDays, 'pot-day')} more`;
    case 'leach':
      return `the clay’s water would be changed ${some(breaks.days, 'day')} late`;
    case 'mixes':
      return `it takes ${some(breaks.more, 'mix', 'mixes')} more`;
    case 'trips':
      return `it takes ${some(breaks.more, 'day')} with work more`;
    case 'water':
      return breaks.litres >= 0.05
        ? `it takes ${litres(breaks.litres)} more still water`
        : 'it takes more still water in the long run';
    default:
      return '';
  }
}

export type Told = { readonly what: string; readonly why: string; readonly bound?: string; readonly next?: string };

/** How far past its day an act is looked at for the next best. */
const NEXT_DAYS = 6;

/** Why an act stands on its day: where it was moved from its own, what breaks there. */
export function whyAct(view: SeasonView, why: Why, act: PlanAct, pots: number): Told {
  const dayOf = (t: number) => weekdayDayMonth(plusDays(view.on, t));
  if (isPinned(view.problem, act)) return { what: 'yours', why: 'You put it on this day.' };
  const own = why.naturalDay(act);
  if (own === act.day)
    return { what: 'own', why: act.kind === 'soak' ? 'At the first watering in its season.' : 'On its own day.' };
  const breaks = breaksWords(view, why.onDay(act, own), pots);
  const by = some(Math.abs(act.day - own), 'day');
  const last = why.lastDay(act);
  const next = why.runnerUp(act, own - NEXT_DAYS, last + NEXT_DAYS);
  return {
    what: own < act.day ? 'later' : 'sooner',
    why: `${by} ${own < act.day ? 'later' : 'sooner'} than its own day, ${dayOf(own)}: there ${breaks}.`,
    ...(last > act.day ? { bound: `${act.kind === 'soak' ? 'The soak is' : 'It is'} due by ${dayOf(last)}.` } : {}),
    ...(next && next.day !== own ? { next: `Next best: ${dayOf(next.day)}, ${breaksWords(view, next, pots)}.` } : {}),
  };
}

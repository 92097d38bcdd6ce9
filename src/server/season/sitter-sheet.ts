import type { SitterSheet } from '../../contract/season-pages.ts';
import { sitterPlan, type SitterPot } from '../../core/plan/index.ts';
import { daysBetween, plusDays, POT_MINUTES } from '../../core/regimen/index.ts';
import { GUESSED_SHARE_USED } from '../../core/reservoir/index.ts';
import { AppError } from '../app-error.ts';
import { isFollowed, potStates, stillWaters, type Collection, type PotState } from '../collection/index.ts';

/** A visit takes this long beside its pots: to come, and to fill the jug. House rule. */
const VISIT_MINUTES = 3;
/** Looking ahead further than this says nothing: what a pot drinks a day is taken from so many days. */
const DRINK_DAYS = 7;

/** What a sitter is asked for some days away. @throws AppError `not-found` */
export function sitterSheetOf(collection: Collection, awayId: string, today: string): SitterSheet {
  const away = collection.away.find(({ id }) => id === awayId);
  if (!away) throw new AppError('not-found', 'Those days away are not noted any more. Look at the Season again.');
  // Away already: what is to come is counted from today.
  const from = away.fromDate < today ? today : away.fromDate;
  const states = potStates(collection, today);
  const pots = states.map((s) => ({ ...potOn(s, from, today), s }));
  const plan = sitterPlan(pots, daysBetween(from, away.untilDate) + 1);
  const of = new Map(states.map((s) => [s.pot.id, s]));
  const named = ({ id, ml }: { id: string; ml: number }) => {
    const { pot } = of.get(id)!;
    return { id, code: pot.code, name: pot.name || pot.plant, ml };
  };
  const places = new Map<string, SitterSheet['places'][number]>();
  for (const { place, pot, drawing } of states) {
    const known = places.get(place.id) ?? { name: place.name, note: place.note, pots: [] };
    places.set(place.id, known);
    known.pots.push({ id: pot.id, code: pot.code, drawing });
  }
  const [still] = stillWaters(collection);
  return {
    collection: collection.settings.collection,
    fromDate: away.fromDate,
    untilDate: away.untilDate,
    water: still?.name ?? 'Plain water',
    before: plan.before.map(named),
    visits: plan.visits.map(({ day, pots: poured }) => ({
      on: plusDays(from, day),
      minutes: VISIT_MINUTES + Math.ceil((poured.length * POT_MINUTES) / 2),
      litres: poured.reduce((sum, { ml }) => sum + ml, 0) / 1000,
      pots: poured.map(named),
    })),
    places: [...places.values()],
    lamps: states.some(({ place }) => place.light === 'lamps'),
    back: plan.back.map(({ id, share }) => ({ id, code: of.get(id)!.pot.code, share })),
    guessed: pots.flatMap(({ guess, s }) => (guess ? [s.pot.code] : [])),
  };
}

/** A pot on the first day away: as it stands by its course, or filled on the last day before on which it is planned or due. */
function potOn(s: PotState, from: string, today: string): SitterPot & { readonly guess: boolean } {
  const holdMl = Math.max(s.pot.fillMl, s.pot.reservoirMl);
  const { leftNow, perDayMl, guess } = drinks(s, today);
  const planned = (s.entry.plan?.visits ?? []).map(({ on }) => on).filter((on) => on >= today);
  const days = planned.length > 0 ? planned : [s.due.dueOn < today ? today : s.due.dueOn];
  const filledOn = days.filter((on) => on < from).at(-1);
  const stands = daysBetween(filledOn ?? today, from);
  const leftMl = Math.max(0, (filledOn === undefined ? leftNow : s.pot.fillMl) - perDayMl * stands);
  return { id: s.pot.id, holdMl, perDayMl, leftMl, guess };
}

/** What is left of a pot today and what it drinks a day, mL; by what pots at large drink where nobody knows. */
function drinks(s: PotState, today: string): { leftNow: number; perDayMl: number; guess: boolean } {
  const usual = (GUESSED_SHARE_USED * s.pot.fillMl) / s.watering.everyDays;
  if (!isFollowed(s)) {
    // Never filled, so far as anybody noted: nothing stands in it.
    const leftNow = s.lastFill ? Math.max(0, s.pot.fillMl - usual * daysBetween(s.lastFill.on, today)) : 0;
    return { leftNow, perDayMl: usual, guess: true };
  }
  const { course, on } = s.standing;
  const ahead = course.freeMl;
  const at = Math.min(ahead.length - 1, Math.max(0, daysBetween(on, today)));
  const days = Math.min(DRINK_DAYS, ahead.length - 1);
  const perDayMl = days > 0 ? Math.max(0, (ahead[0]! - ahead[days]!) / days) : usual;
  return { leftNow: ahead[at]!, perDayMl, guess: s.known.belief.seen.drinks === 0 };
}

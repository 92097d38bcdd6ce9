import { EntitySchema } from 'typeorm';
import { PLAN_AIM_KINDS, type PlanAim } from '../../../core/plan/index.ts';
import { check, oneOf, pk, realNull, text, textNull } from './columns.ts';

/* The plan that stands, and the days nobody is there. Changed only through the log. */

/** What the plan was made for; one row, {@link SEASON_ID}. */
export interface SeasonRow {
  id: string;
  aim: PlanAim;
  madeAt: string;
  /** Minutes there are on a day; null where nobody counts them. */
  minutesADay: number | null;
  /** Days on which each clay batch's water is changed, by its id (JSON). */
  clay: string;
}
export const SEASON_ID = 'plan';

/** A pot's waterings by the plan; its id is the pot's. */
export interface PotPlanRow {
  id: string;
  madeAt: string;
  /** {@link PlannedVisit}s (JSON). */
  visits: string;
  /** Days the grower chose for it, and days on which it is not to be watered (JSON). */
  pins: string;
  nots: string;
}

/** Nobody is there, from one day to another, both included. */
export interface AwayRow {
  id: string;
  fromDate: string;
  untilDate: string;
  droppedOn: string | null;
}

export const SeasonEntity = new EntitySchema<SeasonRow>({
  name: 'season',
  tableName: 'season',
  columns: { id: pk, aim: text, madeAt: text, minutesADay: realNull, clay: text },
  checks: [
    check('season_aim', oneOf('aim', PLAN_AIM_KINDS)),
    check('season_minutes', `"minutesADay" IS NULL OR "minutesADay" > 0`),
    check('season_clay', `json_valid("clay")`),
  ],
});
export const PotPlanEntity = new EntitySchema<PotPlanRow>({
  name: 'pot_plan',
  tableName: 'pot_plan',
  columns: { id: pk, madeAt: text, visits: text, pins: text, nots: text },
  checks: [check('pot_plan_json', `json_valid("visits") AND json_valid("pins") AND json_valid("nots")`)],
});
export const AwayEntity = new EntitySchema<AwayRow>({
  name: 'away',
  tableName: 'away',
  columns: { id: pk, fromDate: text, untilDate: text, droppedOn: textNull },
  checks: [check('away_dates', `"untilDate" >= "fromDate"`)],
});

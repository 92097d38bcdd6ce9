import { EntitySchema } from 'typeorm';
import { PLAN_AIM_KINDS, type PlanAim, type PlanProblem } from '../../../core/plan/index.ts';
import { check, int, oneOf, pk, realNull, text, textNull } from './columns.ts';

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
  /** What each day was foretold to take as it began, {@link ForetoldDay}s (JSON): the days gone by as they stood then, the others as they stand. */
  foretold: string;
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

/** Still water made or brought by a day's morning otherwise than usual. */
export interface MadeDay {
  id: string;
  waterId: string;
  onDate: string;
  /** Null: as usual after all. */
  litres: number | null;
}

/** How long a thing takes by its grower; its id says what. Null: as it is learned, or thought. */
export interface WorkTime {
  id: keyof PlanProblem['minutes'];
  minutes: number | null;
}

/** What wears in making still water: a cartridge, a membrane. */
export interface WaterPart {
  id: string;
  name: string;
  everyDays: number;
  /** Days on which it was put in new, in order (JSON). */
  changed: string;
  droppedOn: string | null;
}

export const SeasonEntity = new EntitySchema<SeasonRow>({
  name: 'season',
  tableName: 'season',
  columns: {
    id: pk,
    aim: text,
    madeAt: text,
    minutesADay: realNull,
    clay: text,
    foretold: { type: 'text', default: '[]' },
  },
  checks: [
    check('season_aim', oneOf('aim', PLAN_AIM_KINDS)),
    check('season_minutes', `"minutesADay" IS NULL OR "minutesADay" > 0`),
    check('season_clay', `json_valid("clay")`),
    check('season_foretold', `json_valid("foretold")`),
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
export const MadeDayEntity = new EntitySchema<MadeDay>({
  name: 'made_day',
  tableName: 'made_day',
  columns: { id: pk, waterId: text, onDate: text, litres: realNull },
  checks: [check('made_day_litres', `"litres" IS NULL OR "litres" >= 0`)],
});
export const WorkTimeEntity = new EntitySchema<WorkTime>({
  name: 'work_time',
  tableName: 'work_time',
  columns: { id: pk, minutes: realNull },
  checks: [
    check('work_time_id', oneOf('id', ['mix', 'pot', 'soakedPot', 'leach'])),
    check('work_time_minutes', `"minutes" IS NULL OR "minutes" > 0`),
  ],
});
export const WaterPartEntity = new EntitySchema<WaterPart>({
  name: 'water_part',
  tableName: 'water_part',
  columns: { id: pk, name: text, everyDays: int, changed: text, droppedOn: textNull },
  checks: [check('water_part_days', `"everyDays" > 0`), check('water_part_changed', `json_valid("changed")`)],
});

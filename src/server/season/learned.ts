import { z } from 'zod';
import { foretoldDay, type ForetoldDay, type SeasonView } from '../../contract/season.ts';
import { litresLearned, type DrawnDay } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import {
  drawnByDay,
  stillWaters,
  TIMES_THOUGHT,
  timesOfWork,
  type Collection,
  type Rows,
} from '../collection/index.ts';
import type { SeasonRow } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { SEASON_ID } from '../database/entities/season.ts';

/* What the log's own times and litres teach the plan. */

export type Learned = SeasonView['learned'];

/** As many days tell what is drawn for every litre foretold. */
const LITRES_DAYS = 28;
export const NOTHING_LEARNED: Learned = { minutes: TIMES_THOUGHT, litres: null };

export const minutesOf = ({ mix, pot, soakedPot, leach }: Learned['minutes']): SeasonView['problem']['minutes'] => ({
  mix: mix.minutes,
  pot: pot.minutes,
  // With its soak a pot takes no less than without.
  soakedPot: Math.max(soakedPot.minutes, pot.minutes),
  leach: leach.minutes,
});

/** What is known today of minutes and litres. */
export const learnedOf = (rows: Rows, collection: Collection, today: string): Learned => ({
  minutes: timesOfWork(collection, rows, today),
  litres: litresLearned(drawnDays(rows, collection, today)),
});

/** The last weeks' days on which a plan stood, each with what was drawn. Today is not over. */
function drawnDays(rows: Rows, collection: Collection, today: string): DrawnDay[] {
  const foretold = foretoldBefore(rows, today).filter(({ on }) => on >= plusDays(today, -LITRES_DAYS));
  const [first] = foretold;
  if (!first) return [];
  const drawn = drawnOn(rows, collection, first.on);
  return foretold.map(({ on, plainL }) => ({ foretoldL: plainL, drawnL: drawn(on) }));
}

/** What was drawn of all still water on a day, L. */
export function drawnOn(rows: Rows, collection: Collection, from: string): (on: string) => number {
  const waters = stillWaters(collection).map(({ id }) => drawnByDay(rows, id, from));
  return (on) => waters.reduce((sum, days) => sum + (days.get(on) ?? 0), 0);
}

/** The days gone by as they were foretold when they began, in order; those of a plan that was let go too. */
export function foretoldBefore(rows: Rows, today: string): ForetoldDay[] {
  const [season] = rows<Pick<SeasonRow, 'foretold'>>('SELECT foretold FROM season WHERE id = ?', SEASON_ID);
  return season ? foretoldDays(season).filter(({ on }) => on < today) : [];
}

/** A list that cannot be understood is an empty one: nothing is learned of it. */
export const foretoldDays = ({ foretold }: Pick<SeasonRow, 'foretold'>): ForetoldDay[] =>
  readJson(z.array(foretoldDay), foretold) ?? [];

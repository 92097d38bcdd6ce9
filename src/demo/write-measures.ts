import type { GrowthFigures } from '../contract/growth.ts';
import { plusDays } from '../core/regimen/index.ts';
import { seededRandom } from '../core/simulation/index.ts';
import { appendCareEvent } from '../server/database/care-log.ts';
import { MEASURED } from './scenario.ts';
import { uuidFrom, type LivePot, type World } from './world.ts';

const DAYS_PER_WEEK = 7;
const SEED = 2217;

/** A day for measuring every fourth Sunday: leaves counted, the longest held to a ruler, open flowers counted. */
export async function writeMeasures({ manager, today }: World, pots: readonly LivePot[], weeks: number): Promise<void> {
  // A source of its own: what else the demo holds stays as it was.
  const random = seededRandom(SEED);
  const days = MEASURED.daysAgo.filter((ago) => ago < weeks * DAYS_PER_WEEK);
  for (const { code, leaves, leafCm, cmAMonth, flowers } of MEASURED.pots) {
    const pot = pots.find(({ spec }) => spec.code === code);
    if (!pot) continue;
    for (const [i, ago] of days.entries()) {
      const on = plusDays(today, -ago);
      const months = (MEASURED.daysAgo[0]! - ago) / 30;
      const counted = flowers?.[MEASURED.daysAgo.indexOf(ago)];
      const figures: GrowthFigures = {
        leaves: leaves + Math.floor(months / 2),
        leafCm: Number((leafCm + cmAMonth * months + 0.3 * (random() - 0.5)).toFixed(1)),
        ...(counted === undefined ? {} : { flowers: counted }),
      };
      await appendCareEvent(manager, {
        id: uuidFrom(random),
        kind: 'potMeasured',
        at: new Date(
          `${on}T15:${String(10 + i + 2 * MEASURED.pots.findIndex((p) => p.code === code)).padStart(2, '0')}:00Z`,
        ),
        localDate: on,
        potId: pot.id,
        payload: { figures, from: null },
      });
    }
  }
}

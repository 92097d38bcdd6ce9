import type { GivenMonth, PotFacts, SoakFact } from '../../core/judgement/index.ts';
import { inSeason, lastSoakOf, plusDays, soakDueFrom } from '../../core/regimen/index.ts';
import {
  daysUntilDry,
  flushNow,
  flushWaters,
  isPlainOnly,
  lookFacts,
  memo,
  POURED_DAYS,
  visitFacts,
  type Collection,
  type PotState,
  type WaterAtHand,
} from '../collection/index.ts';
import { givenTo } from './given.ts';

/** A salt check speaks of the clay for half a year. */
const CHECK_HOLDS_DAYS = 180;
/** How far back what was given is summed up. */
export const GIVEN_DAYS = POURED_DAYS;

/** What judgement knows of a pot: of its log, its season, its forecasts, what it is given. */
export function factsOf(collection: Collection, s: PotState, today: string): PotFacts {
  const unleached = collection.unleached.includes((s.pot.clay ?? '').toLowerCase());
  return toFacts(s, flushWaters(collection.waters), givenTo(s.entry, collection, today, GIVEN_DAYS), unleached, today);
}

const toFacts = memo(
  (
    s: PotState,
    waters: readonly WaterAtHand[],
    given: readonly GivenMonth[],
    unleached: boolean,
    today: string,
  ): PotFacts => {
    const flush = flushNow(s, waters);
    const { repottedOn } = s.pot;
    const dry = daysUntilDry(s, today);
    const { topRead } = s.entry;
    const check =
      topRead && topRead.on >= plusDays(today, -CHECK_HOLDS_DAYS)
        ? { on: topRead.on, topEcUsCm: topRead.ecUsCm }
        : undefined;
    return {
      today,
      stage: s.pot.stage,
      medium: s.pot.medium,
      tender: s.pot.sensitivity === 'tender',
      orchid: s.pot.grows === 'orchid',
      site: s.site,
      reservoirMl: s.pot.reservoirMl,
      fillMl: s.pot.fillMl,
      aimEcUsCm: s.aimEcUsCm,
      plainOnly: isPlainOnly(s),
      pourPh: { low: s.watering.pourPhLow, high: s.watering.pourPhHigh },
      everyDays: s.watering.everyDays,
      dueOn: s.due.dueOn,
      visits: visitFacts(s),
      looks: lookFacts(s),
      // A pot that is due anyway is no news.
      ...(dry === undefined || s.due.daysLate >= 0 ? {} : { daysUntilDry: dry }),
      ...(flush.afterFillEcUsCm === undefined
        ? {}
        : {
            flush: {
              ml: flush.totalMl,
              afterEcUsCm: flush.afterFillEcUsCm,
              ...(flush.lately ? { latelyMl: flush.lately.ml, latelyAfterEcUsCm: flush.lately.afterFillEcUsCm } : {}),
              notEnough: flush.kind === 'notEnough',
            },
          }),
      ...(unleached ? { unleached: true } : {}),
      ...(check && (repottedOn === null || check.on > repottedOn) ? { saltCheck: check } : {}),
      soaks: soaksOf(s, today),
      given,
      ...(repottedOn === null ? {} : { repottedOn }),
    };
  },
);

function soaksOf(s: PotState, today: string): SoakFact[] {
  return s.regimen.params.soaks.map((soak) => {
    const lastOn = lastSoakOf(s.history.lastSoaks, soak.what);
    const nextFrom = soakDueFrom(soak, s.site, lastOn, s.history.since > today ? s.history.since : today);
    return {
      what: soak.what,
      open: inSeason(soak, s.site, today),
      ...(lastOn === undefined ? {} : { lastOn }),
      ...(nextFrom === undefined ? {} : { nextFrom }),
    };
  });
}

import type { EntityManager } from 'typeorm';
import type { GivenMonth, PotFacts, SoakFact } from '../../core/judgement/index.ts';
import { inSeason, lastSoakOf, plusDays, soakDueFrom } from '../../core/regimen/index.ts';
import { daysUntilDry } from '../drift/dry-by.ts';
import { flushNow, flushWaters, type WaterAtHand } from '../drift/flush-now.ts';
import type { PotState } from '../pots/pot-states.ts';
import { isPlainOnly, lookFacts, visitFacts } from '../pots/visit-facts.ts';
import type { Fill } from '../pots/visits.ts';
import type { Meters } from '../shelf/meter-states.ts';
import { givenTo } from './given.ts';

/** A salt check speaks of the clay for half a year. */
const CHECK_HOLDS_DAYS = 180;
/** How far back what was given is summed up. */
export const GIVEN_DAYS = 240;

/** What judgement knows of pots: of their log, their season, their forecasts, what they are given. */
export async function factsOf(manager: EntityManager, meters: Meters, states: readonly PotState[], today: string): Promise<Map<string, PotFacts>> {
  const waters = await flushWaters(manager, meters);
  const ids = states.map((s) => s.pot.id);
  const given = await givenKept(manager, meters, states, today);
  const unleached = await unleachedClays(manager);
  const checks = await saltChecks(manager, meters, ids, today);
  return new Map(states.map((s) => [s.pot.id, toFacts(s, { waters, given: given.get(s.pot.id) ?? [], unleached, check: checks.get(s.pot.id), today })]));
}

/** Changes with any price, label or water, so that nothing is kept past them. */
async function priced(manager: EntityManager): Promise<string> {
  const [row] = await manager.query<{ stamp: string }[]>(
    `SELECT (SELECT group_concat(id || coalesce(costPerL, '') || coalesce(known, '')) FROM water) || '|' || (SELECT group_concat(coalesce(price, '') || '/' || coalesce(sizeMl, '')) FROM bottle)
       || '|' || (SELECT group_concat(label || coalesce(analysis, '')) FROM product) AS stamp`,
  );
  return row?.stamp ?? '';
}

type GivenKept = { readonly today: string; readonly stamp: string; readonly months: readonly GivenMonth[] };
/** By a pot's visits, which are another object as soon as anything of it is logged. */
const kept = new WeakMap<readonly Fill[], GivenKept>();

/** What each pot was given, reckoned anew only where something was logged since: for 40 pots it is thousands of pourings. */
async function givenKept(manager: EntityManager, meters: Meters, states: readonly PotState[], today: string): Promise<Map<string, readonly GivenMonth[]>> {
  const stamp = await priced(manager);
  const holds = (s: PotState) => kept.get(s.fills)?.today === today && kept.get(s.fills)?.stamp === stamp;
  const missing = states.filter((s) => !holds(s));
  const made = await givenTo(
    manager,
    meters,
    missing.map((s) => s.pot.id),
    today,
    GIVEN_DAYS,
  );
  for (const s of missing) kept.set(s.fills, { today, stamp, months: made.get(s.pot.id) ?? [] });
  return new Map(states.map((s) => [s.pot.id, kept.get(s.fills)!.months]));
}

type Beside = {
  readonly waters: readonly WaterAtHand[];
  readonly given: readonly GivenMonth[];
  readonly unleached: ReadonlySet<string>;
  readonly check: PotFacts['saltCheck'];
  readonly today: string;
};

function toFacts(s: PotState, { waters, given, unleached, check, today }: Beside): PotFacts {
  const flush = flushNow(s, waters);
  const { repottedOn } = s.pot;
  const dry = daysUntilDry(s, today);
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
    ...(unleached.has((s.pot.clay ?? '').toLowerCase()) ? { unleached: true } : {}),
    ...(check && (repottedOn === null || check.on > repottedOn) ? { saltCheck: check } : {}),
    soaks: soaksOf(s, today),
    given,
    ...(repottedOn === null ? {} : { repottedOn }),
  };
}

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

/** Names of clay that was planted as it came. */
async function unleachedClays(manager: EntityManager): Promise<Set<string>> {
  const rows = await manager.query<{ name: string }[]>(`SELECT lower(name) AS name FROM clay_batch WHERE prep = 'unleached'`);
  return new Set(rows.map((row) => row.name));
}

/** The newest reading at the top of each pot's filled column, within half a year. */
async function saltChecks(
  manager: EntityManager,
  meters: Meters,
  potIds: readonly string[],
  today: string,
): Promise<Map<string, NonNullable<PotFacts['saltCheck']>>> {
  const rows = await manager.query<{ potId: string; on: string; ppm: number | null; ppmMeterId: string | null }[]>(
    `SELECT r.potId, r.localDate AS "on", json_extract(r.payload, '$.reading.value') AS ppm, json_extract(r.payload, '$.ppmMeterId') AS ppmMeterId
     FROM care_event r WHERE r.kind = 'potHoldRead' AND r.voidedBy IS NULL AND json_extract(r.payload, '$.where') = 'top' ORDER BY r.at`,
  );
  const wanted = new Set(potIds);
  const found = new Map<string, NonNullable<PotFacts['saltCheck']>>();
  for (const { potId, on, ppm, ppmMeterId } of rows)
    if (ppm !== null && wanted.has(potId) && on >= plusDays(today, -CHECK_HOLDS_DAYS))
      found.set(potId, { on, topEcUsCm: ppm / (meters.get(ppmMeterId ?? '')?.scale ?? 0.5) });
  return found;
}

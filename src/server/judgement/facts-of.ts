import type { EntityManager } from 'typeorm';
import { CUE_NAMES, gradeIn } from '../../contract/seen.ts';
import type { GivenMonth, LookFact, PotFacts, SoakFact, VisitFact } from '../../core/judgement/index.ts';
import { daysBetween, inSeason, lastSoakOf, plusDays, soakDueFrom } from '../../core/regimen/index.ts';
import { daysUntilDry } from '../drift/dry-by.ts';
import { flushNow, flushWaters, type WaterAtHand } from '../drift/flush-now.ts';
import type { PotState } from '../pots/pot-states.ts';
import type { Fill } from '../pots/visits.ts';
import type { Meters } from '../shelf/meter-states.ts';
import { givenTo } from './given.ts';

const VISITS = 8;
/** A salt check speaks of the clay for half a year. */
const CHECK_HOLDS_DAYS = 180;
const LOOKS = 6;
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

type GivenKept = { readonly today: string; readonly months: readonly GivenMonth[] };
/** By a pot's visits, which are another object as soon as anything of it is logged. */
const kept = new WeakMap<readonly Fill[], GivenKept>();

/** What each pot was given, reckoned anew only where something was logged since: for 40 pots it is thousands of pourings. */
async function givenKept(manager: EntityManager, meters: Meters, states: readonly PotState[], today: string): Promise<Map<string, readonly GivenMonth[]>> {
  const missing = states.filter((s) => kept.get(s.fills)?.today !== today);
  const made = await givenTo(
    manager,
    meters,
    missing.map((s) => s.pot.id),
    today,
    GIVEN_DAYS,
  );
  for (const s of missing) kept.set(s.fills, { today, months: made.get(s.pot.id) ?? [] });
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
  const plainOnly = s.regimen.params.school === 'plain' || s.regimen.params.feeds.every((feed) => feed.what === 'plain');
  const flush = flushNow(s, waters);
  const { repottedOn } = s.pot;
  // What was read in other clay says nothing of this one.
  const fills = s.fills.filter((fill) => repottedOn === null || fill.on > repottedOn);
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
    plainOnly,
    pourPh: { low: s.watering.pourPhLow, high: s.watering.pourPhHigh },
    everyDays: s.watering.everyDays,
    dueOn: s.due.dueOn,
    visits: visitsOf(
      fills,
      s.topUps.map((t) => t.at),
    ),
    looks: s.looks
      .slice(-LOOKS)
      .map(({ eventId, on, look }): LookFact => ({ eventId, on, cues: Object.fromEntries(CUE_NAMES.map((cue) => [cue, gradeIn(look, cue)])) })),
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

function visitsOf(fills: readonly Fill[], topUps: readonly string[]): VisitFact[] {
  return fills
    .slice(1)
    .map((fill, i): VisitFact => {
      const before = fills[i]!;
      // With something poured on in between, what came out is not what the pot made of its filling.
      const own = !topUps.some((at) => at > before.at && at < fill.at);
      return {
        eventId: fill.eventId,
        on: fill.on,
        days: daysBetween(before.on, fill.on),
        pouredEcUsCm: before.afterAcidEcUsCm ?? before.pouredEcUsCm,
        pouredPh: before.pouredPh,
        cameOutEcUsCm: own ? fill.cameOutEcUsCm : undefined,
        cameOutPh: own ? fill.cameOutPh : undefined,
        leftMl: own ? (fill.payload.oldReservoir.leftMl ?? undefined) : undefined,
        flushMl: fill.payload.flushMl,
        ecTainted: fill.tainted.includes('cameOutPpm') || before.tainted.includes('pouredPpm'),
        phTainted: fill.tainted.includes('cameOutPh'),
      };
    })
    .slice(-VISITS);
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

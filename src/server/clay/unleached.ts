import type { EntityManager } from 'typeorm';
import type { UnleachedPot } from '../../contract/clay.ts';
import type { Sensitivity } from '../../contract/kinds.ts';
import {
  CHECK_MINUTES,
  feedInCheck,
  flushAgainstHold,
  forecastHolds,
  holdVerdict,
  MOST_HOLDS,
  type Spread,
} from '../../core/clay/index.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { flushMl } from '../../core/regimen/index.ts';
import type { PlannedAct } from '../database/entities.ts';
import { HALF, type FittedBatch } from './clay-log.ts';
import { brimOf, fitPot, readAt, type Hold, potQuestion, heldSoFar } from './holds.ts';
import { collectionOf, memo, potStates, type PotState, rowsFor } from '../collection/index.ts';
import { fitAhead } from './fits.ts';

/** At the half scale, over the base, and over what the feed brings: a check at or under it passes. House rule, by what the plant stands. */
const GATE: Record<Sensitivity, number> = { tender: 30, usual: 40, hardy: 60 };
const HOLD_MINUTES = 60;
const FLUSH_MINUTES = 3;
/** Old reservoir so many times what was poured speaks of salts in the clay. House rule. */
const SALTING = 1.6;
const HOUR_MS = 3_600_000;

/**
 * Pots that stand in clay that was never leached (by their batch, by how they were potted) or whose check read high; most worrying first:
 * what was measured before what is only feared.
 */
export function readUnleached(
  manager: EntityManager,
  batches: readonly FittedBatch[],
  holds: ReadonlyMap<string, readonly Hold[]>,
  today: string,
  scale: number,
): UnleachedPot[] {
  const raw = new Set(
    batches
      .filter(({ batch, leach }) => batch.prep === 'unleached' && !leach)
      .map(({ batch }) => batch.name.toLowerCase()),
  );
  const early = rowsFor(manager)<{ potId: string; on: string }>(
    `SELECT json_extract(payload, '$.potId') AS potId, max(localDate) AS "on" FROM care_event WHERE kind = 'potPotted' AND voidedBy IS NULL AND json_extract(payload, '$.notReady') = 1 GROUP BY json_extract(payload, '$.potId')`,
  );
  const earlyOn = new Map(early.map((row) => [row.potId, row.on]));
  const plans = rowsFor(manager)<PlannedAct>(
    `SELECT * FROM planned_act WHERE origin = 'clay' AND subjectKind = 'pot' AND doneOn IS NULL AND droppedOn IS NULL ORDER BY onDate, words`,
  );
  const pots: (UnleachedPot & { worry: number })[] = [];
  for (const state of potStates(collectionOf(manager), today)) {
    const { pot } = state;
    if (pot.medium === 'water' || pot.medium === 'bark') continue;
    const suspect =
      raw.has((pot.clay ?? '').toLowerCase()) ||
      (earlyOn.has(pot.id) && earlyOn.get(pot.id)! >= (pot.repottedOn ?? ''));
    const mine = sinceRepotted(holds.get(pot.id) ?? NONE, pot.repottedOn);
    if (!suspect && mine.length === 0) continue;
    const view = toPot(state, mine, plannedFor(plans, pot.id), scale, today);
    if (suspect || view.verdict.kind === 'hold' || view.verdict.kind === 'repot') pots.push(view);
  }
  return pots.sort((a, b) => b.worry - a.worry || (a.code < b.code ? -1 : 1)).map(({ worry: _worry, ...view }) => view);
}

const NONE: readonly Hold[] = [];
/** Holds of a pot as it stands now. */
const sinceRepotted = memo((holds: readonly Hold[], repottedOn: string | null): readonly Hold[] =>
  holds.filter((hold) => repottedOn === null || hold.on >= repottedOn),
);
const NO_PLANS: readonly PlannedAct[] = [];
/** Holds and salt checks that are planned for a pot. */
function plannedFor(plans: readonly PlannedAct[], potId: string): readonly PlannedAct[] {
  const own = plans.filter((p) => p.subjectId === potId && /^(Hold|Salt)/.test(p.words));
  return own.length === 0 ? NO_PLANS : own;
}

/** Fits the clay of every pot that was checked, off the main thread. */
export async function fitPotsAhead(
  manager: EntityManager,
  holds: ReadonlyMap<string, readonly Hold[]>,
  today: string,
): Promise<void> {
  await fitAhead(
    potStates(collectionOf(manager), today).flatMap((state) => {
      const mine = sinceRepotted(holds.get(state.pot.id) ?? NONE, state.pot.repottedOn);
      if (mine.length === 0) return [];
      return [potQuestion(heldSoFar(state.pot, mine, fedNet(state.lastFill, baseOfLast(mine))))];
    }),
  );
}
const baseOfLast = (holds: readonly Hold[]) => holds.at(-1)?.started.baseEcUsCm ?? 0;

function heldOf(holds: readonly Hold[], scale: number): UnleachedPot['held'] {
  const net = (hold: Hold, where: 'top' | 'hole') => {
    const read = readAt(hold, where);
    return read ? ppmFromEc(Math.max(0, read.ecUsCm - (hold.started.baseEcUsCm ?? 0)), scale) : null;
  };
  return holds
    .filter((hold) => hold.drainedAt !== null || hold.reads.length > 0)
    .map((hold) => ({
      on: hold.on,
      purpose: hold.started.purpose,
      topPpm: net(hold, 'top'),
      holePpm: net(hold, 'hole'),
    }));
}

/** The last old reservoir that was read, against what had been poured. */
function ratioOf({ intervals }: PotState): number | undefined {
  const read = intervals.findLast((i) => i.cameOutEcUsCm !== undefined && i.pouredEcUsCm !== undefined);
  return read && read.cameOutEcUsCm! / read.pouredEcUsCm!;
}

function evidenceOf(clay: string | null, ratio: number | undefined): string {
  const read =
    ratio === undefined
      ? 'Its old reservoir was not read yet.'
      : `The old reservoir read ${ratio.toFixed(1)} times what was poured${ratio >= SALTING ? ': salts gather' : ''}.`;
  return [clay ? `Stands in ${clay}, never leached.` : '', read].filter(Boolean).join(' ');
}

/** To noon of today; 0 where no hold began. */
const hoursSince = (startedAt: string | undefined, today: string) =>
  startedAt === undefined ? 0 : Math.max(0, (Date.parse(`${today}T12:00:00Z`) - Date.parse(startedAt)) / HOUR_MS);

/** Net strength of its feed, µS/cm; undefined where nobody read it. */
function fedNet(lastFill: PotState['lastFill'], baseEcUsCm: number): number | undefined {
  const fed = lastFill?.afterAcidEcUsCm ?? lastFill?.pouredEcUsCm;
  return fed === undefined ? undefined : Math.max(0, fed - baseEcUsCm);
}

const toPot = memo(
  (
    state: PotState,
    holds: readonly Hold[],
    plans: readonly PlannedAct[],
    scale: number,
    today: string,
  ): UnleachedPot & { worry: number } => {
    const { pot, lastFill } = state;
    const fed = fedNet(lastFill, baseOfLast(holds));
    const waterL = brimOf(pot);
    const fitted = fitPot(pot, holds, fed);
    const onPen = (half: number) => ppmFromEc(half / HALF, scale);
    const spread = (s: Spread) => ({ mean: onPen(s.mean), low: onPen(s.low), high: onPen(s.high) });
    const plan = { waterL, minutes: HOLD_MINUTES, checkMinutes: CHECK_MINUTES, fedNetPpm: (fed ?? 0) * HALF };
    const atHours = hoursSince(fitted.startedAt, today);
    const bars = fitted.read ? forecastHolds(fitted.fit, fitted.history, atHours, plan, MOST_HOLDS) : undefined;
    const feed = feedInCheck(fitted.fit, plan.fedNetPpm);
    const pass = GATE[pot.sensitivity] + feed;
    const flushL = flushMl(state.watering, pot.reservoirMl) / 1000 || (3 * pot.reservoirMl) / 1000;
    const shares =
      bars && flushAgainstHold(fitted.fit, fitted.history, atHours, { litres: flushL, minutes: FLUSH_MINUTES }, plan);
    const held = heldOf(holds, scale);
    const checked = held.findLast((h) => h.topPpm !== null);
    const ratio = ratioOf(state);
    return {
      potId: pot.id,
      code: pot.code,
      name: pot.name || pot.plant,
      place: state.place.name,
      clay: pot.clay,
      drawing: state.drawing,
      sensitivity: pot.sensitivity,
      waterL,
      dueOn: state.due.dueOn,
      checked: checked ? { on: checked.on, topPpm: checked.topPpm, holePpm: checked.holePpm } : null,
      held,
      bars: bars?.map(spread) ?? null,
      passPpm: onPen(pass),
      feedPpm: onPen(feed),
      verdict: bars ? holdVerdict(bars, pass, waterL) : { kind: 'check' },
      evidence: evidenceOf(pot.clay, ratio),
      flushAgainstHold: shares ? { flushL, flush: shares.flush.fromInside, hold: shares.hold.fromInside } : null,
      planned: plans.map(({ id, words, onDate }) => ({ id, words, onDate })),
      worry: fitted.read ? 1000 + (checked?.topPpm ?? 0) : (ratio ?? 1),
    };
  },
);

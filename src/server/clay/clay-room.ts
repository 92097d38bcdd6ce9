import type { EntityManager } from 'typeorm';
import type { ClayBatchView, ClayLogLine, ClayRoom, HoldView } from '../../contract/clay.ts';
import { ppmFromEc, readingMiddle, volumeWords, type VolumeUnits } from '../../core/quantity/index.ts';
import { localDateOf, localTimeOf } from '../../core/regimen/index.ts';
import type { ClayBatch, Pot, Water } from '../database/entities.ts';
import {
  cardOf,
  ecOfRead,
  fitBatches,
  readClayEvents,
  type ClayEvent,
  type FittedBatch,
  type Leach,
  fitBatchesAhead,
} from './clay-log.ts';
import { standingOf } from './clay-standing.ts';
import { readUsed, type Used } from './clay-used.ts';
import { expectedTop, readAt, readHolds, type Hold } from './holds.ts';
import { readUnleached, fitPotsAhead } from './unleached.ts';
import {
  atCommit,
  basesOf,
  growersScale,
  isTainted,
  type Meters,
  metersOf,
  penAtHand,
  stockOf,
  rowsFor,
} from '../collection/index.ts';
import { about } from './clay-common.ts';

type Settings = { zone: string; units: VolumeUnits };
const HOUR_MS = 3_600_000;

/** What the file says of clay. */
const clayRead = atCommit((manager) => {
  const meters = metersOf(manager);
  return {
    meters,
    scale: growersScale(meters),
    bases: basesOf(manager, meters),
    batches: rowsFor(manager)<ClayBatch>('SELECT * FROM clay_batch ORDER BY retiredOn IS NOT NULL, position DESC'),
    waters: rowsFor(manager)<Water>('SELECT * FROM water WHERE retiredOn IS NULL ORDER BY position'),
    events: readClayEvents(manager),
    used: readUsed(manager),
    holds: readHolds(manager, meters),
    named: rowsFor(manager)<
      ClayRoom['named'][number]
    >(`SELECT clay AS name, count(*) AS pots FROM pot WHERE retiredOn IS NULL AND clay IS NOT NULL AND clay <> ''
         AND lower(clay) NOT IN (SELECT lower(name) FROM clay_batch) GROUP BY lower(clay) ORDER BY clay`),
  };
});
/** And what its readings say of each batch. */
const clayFitted = atCommit((manager) => {
  const { batches, events, meters } = clayRead(manager);
  return fitBatches(batches, events, meters);
});

/** What takes long of the Clay room, in the pool: afterwards the room is only put together. */
export async function fitClayAhead(manager: EntityManager, today: string): Promise<void> {
  const { batches, events, meters, holds } = clayRead(manager);
  await fitBatchesAhead(batches, events, meters);
  await fitPotsAhead(manager, holds, today);
}

/** The Clay room: every batch with its log and what the model needs of it, holds that run, pots whose clay was never leached. */
export function readClayRoom(manager: EntityManager, now: Date, settings: Settings): ClayRoom {
  const today = localDateOf(now, settings.zone);
  const { meters, scale, bases, waters, events, used, holds, named } = clayRead(manager);
  const fitted = clayFitted(manager);
  const roomWaters: ClayRoom['waters'] = [];
  for (const w of waters) {
    const ec = bases.get(w.id);
    const stock = stockOf(manager, w, today);
    roomWaters.push({
      id: w.id,
      name: w.name,
      kind: w.kind,
      basePpm: ec === undefined ? null : ppmFromEc(ec, scale),
      stillNowL: stock?.litres ?? null,
      perDayL: w.perDayL,
    });
  }
  return {
    now: now.toISOString(),
    today,
    scale,
    batches: fitted.map((f) =>
      toBatch(f, events.get(f.batch.id) ?? [], used.get(f.batch.id), meters, scale, now, settings),
    ),
    waters: roomWaters,
    ppmMeter: penAtHand(meters, 'ppm'),
    phMeter: penAtHand(meters, 'pH'),
    holds: runningHolds(manager, holds, scale),
    unleached: readUnleached(manager, fitted, holds, today, scale),
    named,
    poured: pouredTo(events),
    byPlan: byPlan(manager, today),
  };
}

/** When the season's plan changes each batch's water next. */
function byPlan(manager: EntityManager, today: string): NonNullable<ClayRoom['byPlan']> {
  const [season] = rowsFor(manager)<{ clay: string }>(`SELECT clay FROM season WHERE madeAt <> ''`);
  const days = Object.entries(JSON.parse(season?.clay ?? '{}') as Record<string, string[]>);
  return Object.fromEntries(
    days.flatMap(([id, on]) => {
      const next = on.find((day) => day >= today);
      return next === undefined ? [] : [[id, next]];
    }),
  );
}

function pouredTo(events: ReadonlyMap<string, readonly ClayEvent[]>): string[] {
  const places = [...events.values()]
    .flat()
    .filter((e) => e.kind === 'clayFilled' || e.kind === 'clayDrained')
    .sort((a, b) => (a.at < b.at ? 1 : -1))
    .map((e) => e.payload.to)
    .filter((to) => to !== '');
  return [...new Set(places)].slice(0, 6);
}

function valuesOf(
  {
    name,
    grainLowMm,
    grainHighMm,
    volumeL,
    origin,
    price,
    openedOn,
    prep,
    gateEcUsCm,
    coverL,
    way,
    note,
    lookEveryHours,
  }: ClayBatch,
  scale: number,
): ClayBatchView['values'] {
  return {
    name,
    grainLowMm,
    grainHighMm,
    volumeL,
    origin,
    price,
    openedOn,
    prep,
    gatePpm: Math.round(ppmFromEc(gateEcUsCm, scale)),
    coverL,
    lookEveryHours: lookEveryHours === 12 ? 12 : 24,
    way,
    note,
  };
}

const leachViewOf = (
  { startedAt, drainedAt, waterId, waterL, lastFilledAt, changes, baseEcUsCm, history }: Leach,
  scale: number,
): ClayBatchView['leach'] => ({
  startedAt,
  drainedAt,
  waterId,
  waterL,
  lastFilledAt,
  changes,
  basePpm: ppmFromEc(baseEcUsCm ?? 0, scale),
  history: { clayL: history.clayL, firstL: history.firstL, acts: [...history.acts] },
});

function toBatch(
  fitted: FittedBatch,
  events: readonly ClayEvent[],
  used: Used | undefined,
  meters: Meters,
  scale: number,
  now: Date,
  settings: Settings,
): ClayBatchView {
  const { batch, leach, prior, ownBags, told } = fitted;
  const onPen = (half: number) => ppmFromEc(half * 2, scale);
  const usedL = used?.litres ?? 0;
  const leftL = Math.max(0, batch.volumeL - usedL);
  const standing = standingOf(fitted, now, leftL, onPen);
  const log = toLog(events, leach?.startedAt, meters, scale, settings);
  const lastRead = log.find(
    (line) => line.kind === 'read' && line.ppm !== null && leach !== undefined && line.at >= leach.lastFilledAt,
  );
  return {
    id: batch.id,
    values: valuesOf(batch, scale),
    rinsedOn: batch.rinsedOn,
    boiledOn: batch.boiledOn,
    retiredOn: batch.retiredOn,
    state: standing.state,
    ready: standing.ready,
    why: standing.why,
    usedL,
    leftL,
    pots: (used?.pots ?? []).map(({ id, code, name: potName }) => ({ id, code, name: potName })),
    leach: leach ? leachViewOf(leach, scale) : null,
    prior: { mean: [...prior.mean], covariance: prior.covariance.map((row) => [...row]) },
    ownBags,
    told: told.map(({ name, readings, changes }) => ({ name, readings, changes })),
    card: cardOf(fitted) ?? null,
    flatPpm: standing.flat
      ? { mean: onPen(standing.flat.mean), low: onPen(standing.flat.low), high: onPen(standing.flat.high) }
      : null,
    lastReadPpm: lastRead?.ppm ?? null,
    lastPh: log.find((line) => line.ph !== null && leach !== undefined && line.at >= leach.lastFilledAt)?.ph ?? null,
    driedOn: events.findLast((e) => e.kind === 'clayDried')?.localDate ?? null,
    log,
  };
}

const LINE_OF = {
  clayFilled: 'filled',
  clayRead: 'read',
  clayDrained: 'drained',
  clayDried: 'dried',
  potPotted: 'potted',
  recordsChanged: 'changed',
} as const;

/** Newest first. */
function toLog(
  events: readonly ClayEvent[],
  startedAt: string | undefined,
  meters: Meters,
  scale: number,
  { zone, units }: Settings,
): ClayLogLine[] {
  const lastStep = events.findLast((e) => e.kind === 'clayFilled' || e.kind === 'clayRead' || e.kind === 'clayDrained');
  let baths = 0;
  return events
    .map((event): ClayLogLine => {
      const kind = LINE_OF[event.kind];
      if (event.kind === 'clayFilled') baths++;
      const ec = event.kind === 'clayRead' ? ecOfRead(event, meters) : undefined;
      const step = kind === 'filled' || kind === 'drained';
      return {
        eventId: event.id,
        kind,
        at: event.at,
        on: event.localDate,
        time: localTimeOf(new Date(event.at), zone),
        atHours:
          startedAt === undefined || event.at < startedAt
            ? null
            : (Date.parse(event.at) - Date.parse(startedAt)) / HOUR_MS,
        words: wordsOf(event, baths, units),
        ppm: ec === undefined ? null : ppmFromEc(ec, scale),
        ph: event.kind === 'clayRead' ? (readingMiddle(event.payload.ph) ?? null) : null,
        tainted: event.kind === 'clayRead' && isTainted(meters.get(event.payload.ppmMeterId ?? ''), event.at),
        undoable: !step || event.id === lastStep?.id,
        correctable: step || kind === 'read',
      };
    })
    .reverse();
}

function wordsOf(event: ClayEvent, baths: number, units: VolumeUnits): string {
  const vol = (l: number) => volumeWords(l * 1000, units);
  const to = (where: string) => (where ? `, to ${where}` : '');
  switch (event.kind) {
    case 'clayFilled':
      return baths === 1
        ? `First water, ${vol(event.payload.freshL)}`
        : `Change ${baths - 1}: ${about(event.payload)}${vol(event.payload.pouredOffL)} off${to(event.payload.to)}; ${vol(event.payload.freshL)} fresh`;
    case 'clayRead':
      return event.payload.temperatureC === null ? 'Read' : `Read at ${event.payload.temperatureC} °C`;
    case 'clayDrained':
      return `Drained, ${about(event.payload)}${vol(event.payload.pouredOffL)}${to(event.payload.to)}`;
    case 'recordsChanged':
    case 'clayDried':
    case 'potPotted':
      return event.payload.words;
  }
}

function runningHolds(manager: EntityManager, holds: ReadonlyMap<string, readonly Hold[]>, scale: number): HoldView[] {
  const views: HoldView[] = [];
  for (const [potId, all] of holds) {
    const hold = all.find((h) => h.drainedAt === null);
    if (!hold) continue;
    const [pot] = rowsFor(manager)<Pot & { waterName: string }>(
      'SELECT p.*, w.name AS waterName FROM pot p LEFT JOIN water w ON w.id = ? WHERE p.id = ?',
      hold.started.waterId,
      potId,
    );
    if (!pot) continue;
    const ppm = (where: 'top' | 'hole') => {
      const read = readAt(hold, where);
      return read ? ppmFromEc(read.ecUsCm, scale) : null;
    };
    const expected = expectedTop(pot, all, hold, hold.started.minutes);
    const onPen = (half: number) => ppmFromEc(half * 2 + (hold.started.baseEcUsCm ?? 0), scale);
    views.push({
      id: hold.id,
      potId,
      code: pot.code,
      name: pot.name || pot.plant,
      purpose: hold.started.purpose,
      startedAt: hold.at,
      endsAt: new Date(Date.parse(hold.at) + hold.started.minutes * 60_000).toISOString(),
      waterL: hold.started.waterL,
      water: pot.waterName,
      topPpm: ppm('top'),
      holePpm: ppm('hole'),
      reads: hold.reads.map((r) => ({
        where: r.where,
        minutes: (Date.parse(r.at) - Date.parse(hold.at)) / 60_000,
        ppm: ppmFromEc(r.ecUsCm, scale),
      })),
      expectedTopPpm: expected
        ? { mean: onPen(expected.mean), low: onPen(expected.low), high: onPen(expected.high) }
        : null,
    });
  }
  return views;
}

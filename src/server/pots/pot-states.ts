import type { EntityManager } from 'typeorm';
import type { CarePayload } from '../../contract/care.ts';
import type { PotDrawing } from '../../contract/common.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import { daysBetween, dueState, type Due, type Regimen } from '../../core/regimen/index.ts';
import { expectOldReservoir, reservoirNow, type ExpectedOldReservoir, type PouredAndCameOut } from '../../core/reservoir/index.ts';
import type { CareEvent, Meter, Place, Pot } from '../database/entities.ts';
import { lastBases } from '../shelf/shelf-reader.ts';
import { readSettings } from '../shell/settings.ts';

/** A visit that filled the pot, with what its mix read. EC in µS/cm. */
export type Fill = {
  eventId: string;
  seq: number;
  at: string;
  on: string;
  payload: CarePayload<'potFilled'>;
  pouredEcUsCm: number | undefined;
  pouredPh: number | undefined;
  cameOutEcUsCm: number | undefined;
  cameOutPh: number | undefined;
  /** The payload it corrects. */
  was: CarePayload<'potFilled'> | undefined;
};
export type Skip = {
  eventId: string;
  seq: number;
  at: string;
  on: string;
  payload: CarePayload<'potSkipped'>;
  was: CarePayload<'potSkipped'> | undefined;
};

/** A pot and everything derived from its log as of today. */
export type PotState = {
  pot: Pot;
  place: Place;
  regimen: { id: string; name: string; params: Regimen; since: string; reason: string };
  /** Newest last. */
  fills: Fill[];
  skips: Skip[];
  due: Due;
  lastFill: Fill | undefined;
  /** A skip after the last fill. */
  openSkip: Skip | undefined;
  intervals: PouredAndCameOut[];
  expected: ExpectedOldReservoir;
  drawing: PotDrawing;
};

type EventRow = CareEvent & { pouredEcUsCm: number | null; pouredPh: number | null; wasPayload: string | null };

/** Visits read back per pot for the lists; a pot's own page reads them all. */
const VISITS_FOR_LISTS = 8;

/**
 * Reads pots in shelf order with their derived state.
 * @param today the grower's calendar day
 * @param only one pot, with its whole history
 */
export async function readPotStates(manager: EntityManager, meters: ReadonlyMap<string, Meter>, today: string, only?: string): Promise<PotState[]> {
  const { workingDays } = await readSettings(manager);
  const [places, pots, regimens, rows, bases] = await Promise.all([
    manager.query<Place[]>('SELECT * FROM place ORDER BY position'),
    manager.query<Pot[]>(`SELECT * FROM pot WHERE ${only ? 'id = ?' : 'retiredOn IS NULL'} ORDER BY position`, only ? [only] : []),
    manager.query<{ potId: string; id: string; name: string; kind: string; params: string; fromDate: string; reason: string }[]>(
      `SELECT pr.potId, r.id, r.name, r.kind, r.params, pr.fromDate, pr.reason, max(pr.fromDate) FROM pot_regimen pr JOIN regimen r ON r.id = pr.regimenId
       WHERE pr.fromDate <= ? GROUP BY pr.potId`,
      [today],
    ),
    manager.query<EventRow[]>(
      // Each pot's newest by the index on pot and time; numbering all visits over the whole log took five times as long.
      `SELECT e.*, b.pouredEcUsCm, b.pouredPh, c.payload AS wasPayload FROM pot p JOIN care_event e ON e.seq IN (
         SELECT seq FROM care_event WHERE potId = p.id AND kind IN ('potFilled', 'potSkipped') AND voidedBy IS NULL
         ORDER BY at DESC, coalesce(standsAt, seq) DESC LIMIT ${only ? 100000 : VISITS_FOR_LISTS})
       LEFT JOIN batch b ON b.id = e.batchId LEFT JOIN care_event c ON c.id = e.corrects
       WHERE ${only ? 'p.id = ?' : 'p.retiredOn IS NULL'} ORDER BY e.at, coalesce(e.standsAt, e.seq)`,
      only ? [only] : [],
    ),
    lastBases(manager, meters),
  ]);
  const placeById = new Map(places.map((p) => [p.id, p]));
  const regimenByPot = new Map(regimens.map((r) => [r.potId, r]));
  const usualBase = Math.min(...bases.values(), 40);
  const visits = new Map<string, EventRow[]>();
  for (const row of rows) if (row.potId) visits.set(row.potId, [...(visits.get(row.potId) ?? []), row]);

  const states: PotState[] = [];
  for (const pot of pots) {
    const place = placeById.get(pot.placeId);
    const r = regimenByPot.get(pot.id);
    if (!place || !r) continue;
    const params = { kind: r.kind, ...(JSON.parse(r.params) as object) } as Regimen;
    const mine = visits.get(pot.id) ?? [];
    const fills = mine.filter((row) => row.kind === 'potFilled').map((row) => toFill(row, meters));
    const skips = mine.filter((row) => row.kind === 'potSkipped').map(toSkip);
    states.push(derive(pot, place, { id: r.id, name: r.name, params, since: r.fromDate, reason: r.reason }, fills, skips, today, usualBase, workingDays));
  }
  return states.sort((a, b) => a.place.position - b.place.position || a.pot.position - b.pot.position);
}

function derive(
  pot: Pot,
  place: Place,
  regimen: PotState['regimen'],
  fills: Fill[],
  skips: Skip[],
  today: string,
  baseEcUsCm: number,
  workingDays: readonly number[],
): PotState {
  const lastFill = fills[fills.length - 1];
  const lastSkip = skips[skips.length - 1];
  const openSkip = lastSkip && (!lastFill || lastSkip.seq > lastFill.seq) ? lastSkip : undefined;
  const intervals = fills.slice(1).map((fill, i): PouredAndCameOut => {
    const before = fills[i]!;
    return {
      pouredEcUsCm: before.pouredEcUsCm,
      pouredPh: before.pouredPh,
      pouredMl: before.payload.pouredMl,
      cameOutEcUsCm: fill.cameOutEcUsCm,
      cameOutPh: fill.cameOutPh,
      leftMl: fill.payload.oldReservoir.leftMl ?? undefined,
      days: daysBetween(before.on, fill.on),
    };
  });
  const poured = lastFill && { ecUsCm: lastFill.pouredEcUsCm, ph: lastFill.pouredPh, volumeMl: lastFill.payload.pouredMl };
  const days = lastFill ? daysBetween(lastFill.on, today) : 0;
  const due = dueState(regimen.params, { lastFilledOn: lastFill?.on, lookAgainOn: openSkip?.payload.lookAgainOn }, today, workingDays);
  const now = reservoirNow(intervals, poured, days, regimen.params.everyDays, pot.reservoirMl, regimen.params.netEcUsCm + baseEcUsCm);
  return {
    pot,
    place,
    regimen,
    fills,
    skips,
    due,
    lastFill,
    openSkip,
    intervals,
    expected: poured ? expectOldReservoir(intervals, poured, days) : {},
    drawing: { ...now, phLow: 5.5, phHigh: 6.5, salts: crustSeen(fills), stage: pot.stage, form: pot.medium },
  };
}

/** How many looks in a row, up to three, found a crust. */
function crustSeen(fills: readonly Fill[]): number {
  const looks = fills
    .filter((fill) => fill.payload.seen !== null)
    .slice(-3)
    .reverse();
  const clean = looks.findIndex((fill) => !fill.payload.seen?.includes('crust'));
  return clean === -1 ? looks.length : clean;
}

function toFill(row: EventRow, meters: ReadonlyMap<string, Meter>): Fill {
  const payload = JSON.parse(row.payload) as CarePayload<'potFilled'>;
  const ppm = readingMiddle(payload.oldReservoir.ppm);
  const scale = (payload.ppmMeterId && meters.get(payload.ppmMeterId)?.scale) || 0.5;
  return {
    eventId: row.id,
    seq: row.standsAt ?? row.seq,
    at: row.at,
    on: row.localDate,
    payload,
    was: row.wasPayload === null ? undefined : (JSON.parse(row.wasPayload) as CarePayload<'potFilled'>),
    pouredEcUsCm: row.pouredEcUsCm ?? undefined,
    pouredPh: row.pouredPh ?? undefined,
    cameOutEcUsCm: ppm === undefined ? undefined : ppm / scale,
    cameOutPh: readingMiddle(payload.oldReservoir.ph),
  };
}

function toSkip(row: EventRow): Skip {
  const was = row.wasPayload === null ? undefined : (JSON.parse(row.wasPayload) as CarePayload<'potSkipped'>);
  return { eventId: row.id, seq: row.standsAt ?? row.seq, at: row.at, on: row.localDate, payload: JSON.parse(row.payload) as CarePayload<'potSkipped'>, was };
}

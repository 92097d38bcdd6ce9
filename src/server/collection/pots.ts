import type { CarePayload } from '../../contract/care.ts';
import { type AskedSoak, type SoakWhat, SOAK_WHATS, standsFor } from '../../core/regimen/index.ts';
import type { Place, Pot, PotPlanRow, PotRegimen } from '../database/entities.ts';
import type { BatchEntry } from './batches.ts';
import type { PlannedVisit } from '../../core/plan/index.ts';
import { grouped } from './grouped.ts';
import { listed, type Rows } from './rows.ts';
import { foldSoakTests, type SoakLogged } from './soak-tests.ts';
import { toldIn } from './told-mix.ts';
import type { Named } from './named.ts';
import { foldVisits, NO_VISITS, type Visits } from './visits.ts';
import { scaleOf } from './meters.ts';

/** Something poured on a pot, as far back as what a pot was given is summed up. */
export type Pouring = {
  readonly on: string;
  readonly kind: 'potFilled' | 'supplementStarted' | 'potToppedUp';
  readonly batch: BatchEntry | undefined;
  readonly waterId: string | null;
  readonly ml: number;
  /** What was left of the filling before it, where it was measured. */
  readonly leftMl: number | null;
  readonly flushWith: readonly { readonly waterId: string; readonly ml: number }[];
};

/** A pot with its place and everything of its log that a room wants. */
export type PotEntry = {
  readonly pot: Pot;
  readonly place: Place;
  readonly latitude: number;
  /** The last visits of each sort. */
  readonly visits: Visits;
  readonly soakTests: readonly SoakLogged[];
  /** The newest reading at the top of its filled column. */
  readonly topRead: { readonly on: string; readonly ecUsCm: number } | undefined;
  /** Instants at which its clay was noted dry. */
  readonly dried: readonly string[];
  readonly pourings: readonly Pouring[];
  /** What it follows, from which day on. */
  readonly follows: readonly PotRegimen[];
  /** Soaks asked for that were not given yet. */
  readonly asked: readonly AskedSoak[];
  /** What the plan that stands holds for it. */
  readonly plan: PotPlan | undefined;
  /** Lines of its log that cannot be understood and are left out: what is reckoned of it may be off. */
  readonly oddLines: number;
};

/** A pot's waterings by the plan that stands, the days its grower chose for it, and days on which it is not to be. */
export type PotPlan = {
  readonly madeAt: string;
  readonly visits: readonly PlannedVisit[];
  readonly pins: readonly { readonly on: string; readonly soak: SoakWhat | null }[];
  readonly nots: readonly string[];
};

/** Where the list of plans marks one that is a soak of a pot: its kind stands in `originId`. */
export const ASKED_BY = 'season';

/** Which soaks do for one that was asked for. */
const DOES_FOR = SOAK_WHATS.map((asked) => {
  const given = SOAK_WHATS.filter((what) => standsFor(what, asked)).map((what) => `'${what}'`);
  return `(p.originId = '${asked}' AND json_extract(e.payload, '$.what') IN (${given.join(', ')}))`;
}).join(' OR ');
/** SQL: a soak that was asked for (`p`, of planned_act) has been given since. */
export const ASKED_IS_GIVEN = `EXISTS (SELECT 1 FROM care_event e WHERE e.potId = p.subjectId AND e.kind = 'supplementStarted' AND e.voidedBy IS NULL
  AND e.localDate >= p.onDate AND (${DOES_FOR}))`;

export type PotsFolded = Named & {
  readonly places: ReadonlyMap<string, Place>;
  readonly latitude: number;
  readonly oddLines: ReadonlyMap<string, number>;
};

/** Pots with what their log says. @param pouredSince day from which on what was poured is wanted */
export function foldPots(
  rows: Rows,
  named: PotsFolded,
  potIds: readonly string[],
  pouredSince: string,
): Map<string, PotEntry> {
  const ids = listed(potIds);
  const visits = foldVisits(rows, named, potIds);
  const soakTests = foldSoakTests(rows, named, potIds);
  const pourings = foldPourings(rows, named, potIds, pouredSince);
  const follows = grouped(
    rows<PotRegimen>(
      'SELECT r.* FROM json_each(?) j JOIN pot_regimen r ON r.potId = j.value ORDER BY r.potId, r.fromDate',
      ids,
    ),
    (r) => r.potId,
  );
  const asked = grouped(
    rows<{ potId: string; what: SoakWhat; from: string }>(
      `SELECT p.subjectId AS potId, p.originId AS what, p.onDate AS "from" FROM planned_act p
       WHERE p.origin = '${ASKED_BY}' AND p.subjectKind = 'pot' AND p.originId IS NOT NULL AND p.doneOn IS NULL AND p.droppedOn IS NULL
         AND p.subjectId IN (SELECT value FROM json_each(?)) AND NOT ${ASKED_IS_GIVEN} ORDER BY p.rowid`,
      ids,
    ),
    (a) => a.potId,
  );
  const dried = grouped(
    rows<{ potId: string; at: string }>(
      `SELECT potId, at FROM care_event WHERE kind = 'clayDried' AND voidedBy IS NULL AND potId IN (SELECT value FROM json_each(?)) ORDER BY at, seq`,
      ids,
    ),
    (d) => d.potId,
  );
  const tops = new Map(
    rows<{ potId: string; on: string; payload: string }>(
      `SELECT potId, localDate AS "on", payload FROM care_event WHERE kind = 'potHoldRead' AND voidedBy IS NULL AND json_extract(payload, '$.where') = 'top'
         AND potId IN (SELECT value FROM json_each(?)) AND json_extract(payload, '$.reading.value') IS NOT NULL ORDER BY at, seq`,
      ids,
    ).map(({ potId, on, payload }) => {
      const { reading, ppmMeterId } = JSON.parse(payload) as CarePayload<'potHoldRead'>;
      const scale = scaleOf(named.meters.get(ppmMeterId ?? ''));
      return [potId, { on, ecUsCm: (reading as { value: number }).value / scale }];
    }),
  );
  const plans = new Map(
    rows<PotPlanRow>('SELECT p.* FROM json_each(?) j JOIN pot_plan p ON p.id = j.value', ids).map((row) => [
      row.id,
      row,
    ]),
  );
  const found = new Map<string, PotEntry>();
  for (const pot of rows<Pot>('SELECT p.* FROM json_each(?) j JOIN pot p ON p.id = j.value', ids)) {
    const place = named.places.get(pot.placeId);
    if (!place) continue;
    found.set(pot.id, {
      pot,
      place,
      latitude: named.latitude,
      visits: visits.get(pot.id) ?? NO_VISITS,
      soakTests: soakTests.get(pot.id) ?? [],
      topRead: tops.get(pot.id),
      dried: (dried.get(pot.id) ?? []).map((d) => d.at),
      pourings: pourings.get(pot.id) ?? [],
      follows: follows.get(pot.id) ?? [],
      asked: (asked.get(pot.id) ?? []).map(({ what, from }) => ({ what, from })),
      plan: planOf(plans.get(pot.id)),
      oddLines: named.oddLines.get(pot.id) ?? 0,
    });
  }
  return found;
}

/** A plan that says nothing is none. */
function planOf(row: PotPlanRow | undefined): PotPlan | undefined {
  if (!row) return undefined;
  const visits = JSON.parse(row.visits) as PlannedVisit[];
  const [pins, nots] = [JSON.parse(row.pins) as PotPlan['pins'], JSON.parse(row.nots) as string[]];
  return visits.length + pins.length + nots.length === 0 ? undefined : { madeAt: row.madeAt, visits, pins, nots };
}

/** By the index on pot and time: the plus keeps the one on kinds out of it, which knows every filling of every pot. */
function foldPourings(rows: Rows, named: Named, potIds: readonly string[], since: string): Map<string, Pouring[]> {
  const lines = rows<{
    potId: string;
    on: string;
    kind: Pouring['kind'];
    batchId: string | null;
    waterId: string | null;
    ml: number;
    leftMl: number | null;
    flushWith: string | null;
    id: string;
    at: string;
    told: string | null;
    ppmMeterId: string | null;
    phMeterId: string | null;
  }>(
    `SELECT e.id, e.at, e.potId, e.localDate AS "on", e.kind, e.batchId, json_extract(e.payload, '$.told') AS told,
       json_extract(e.payload, '$.ppmMeterId') AS ppmMeterId, json_extract(e.payload, '$.phMeterId') AS phMeterId, json_extract(e.payload, '$.waterId') AS waterId,
       coalesce(json_extract(e.payload, '$.pouredMl'), json_extract(e.payload, '$.ml')) AS ml, json_extract(e.payload, '$.oldReservoir.leftMl') AS leftMl,
       json_extract(e.payload, '$.flushWith') AS flushWith
     FROM json_each(?) p JOIN care_event e ON e.potId = p.value AND e.at >= ? AND +e.kind IN ('potFilled', 'supplementStarted', 'potToppedUp') AND e.voidedBy IS NULL
     ORDER BY e.at, coalesce(e.standsAt, e.seq)`,
    listed(potIds),
    since,
  );
  return grouped(
    lines.map(({ id, at, batchId, flushWith, told, ppmMeterId, phMeterId, ...line }) => ({
      ...line,
      batch:
        batchId === null
          ? toldIn(told, { id, at, on: line.on }, { pouredMl: line.ml, ppmMeterId, phMeterId }, named)
          : named.batches.get(batchId),
      flushWith: flushWith === null || flushWith === '[]' ? NOTHING : (JSON.parse(flushWith) as Pouring['flushWith']),
    })),
    (line) => line.potId,
  );
}
const NOTHING: Pouring['flushWith'] = [];

import type { DataSource, EntityManager } from 'typeorm';
import type { CarePayload } from '../../contract/care.ts';
import { asMade, fitSoak, restCarbon, standingAtPh, type SoakResult, type SoakTest } from '../../core/drift/index.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import { PORES_PER_RESERVOIR } from '../../core/reservoir/index.ts';
import { phOffset } from '../bench/predicted.ts';
import { readCareEvent } from '../database/care-log.ts';
import type { CareEvent } from '../database/entities.ts';
import { isTainted, type Meters } from '../shelf/meter-states.ts';
import { mixesOf, waterCurves } from './mixes.ts';

/** One reading of a soak test, as logged; pH put right by what its pen is known to be off. */
export type SoakReadingLogged = {
  readonly eventId: string;
  readonly minutes: number;
  readonly opened: boolean;
  readonly ph: number | undefined;
  readonly shownPh: number | undefined;
  /** 1 SD of a range: a drop kit's. */
  readonly phSd: number | undefined;
  readonly ecUsCm: number | undefined;
  readonly tainted: boolean;
};
export type SoakLogged = {
  readonly id: string;
  readonly potId: string;
  readonly batchId: string | null;
  readonly at: string;
  readonly on: string;
  readonly started: CarePayload<'soakStarted'>;
  readonly ended: { readonly at: string; readonly leakedMl: number | null } | undefined;
  readonly reads: readonly SoakReadingLogged[];
};
/** A test with what it says. */
export type SoakFound = {
  readonly soak: SoakLogged;
  readonly test: SoakTest | undefined;
  readonly result: SoakResult;
  /** The clay dried out since: its quick part came back. */
  readonly driedSince: boolean;
};

type SoakKind = 'soakStarted' | 'soakRead' | 'soakEnded';

/** Soak tests by pot, oldest first. @param potIds all pots where left out */
export async function readSoaks(manager: EntityManager, meters: Meters, potIds: readonly string[]): Promise<Map<string, SoakLogged[]>> {
  const rows = await manager.query<CareEvent[]>(
    `SELECT e.* FROM care_event e WHERE e.kind IN ('soakStarted', 'soakRead', 'soakEnded') AND e.voidedBy IS NULL AND e.potId IN (SELECT value FROM json_each(?))
     ORDER BY e.at, coalesce(e.standsAt, e.seq)`,
    [JSON.stringify(potIds)],
  );
  const soaks = new Map<string, { -readonly [K in keyof SoakLogged]: SoakLogged[K] } & { reads: SoakReadingLogged[] }>();
  for (const row of rows) {
    const event = readCareEvent<SoakKind>(row);
    if (event.kind === 'soakStarted') {
      const { id, potId, batchId, at, localDate: on, payload: started } = event;
      soaks.set(id, { id, potId: potId!, batchId, at, on, started, ended: undefined, reads: [] });
    } else {
      const soak = soaks.get(event.payload.soakId);
      if (!soak) continue;
      if (event.kind === 'soakEnded') soak.ended = { at: event.at, leakedMl: event.payload.leakedMl };
      else soak.reads.push(toReading(event, meters));
    }
  }
  const byPot = new Map<string, SoakLogged[]>();
  for (const soak of soaks.values()) byPot.set(soak.potId, [...(byPot.get(soak.potId) ?? []), soak]);
  return byPot;
}

function toReading(event: Extract<ReturnType<typeof readCareEvent<SoakKind>>, { kind: 'soakRead' }>, meters: Meters): SoakReadingLogged {
  const { payload: p } = event;
  const meter = p.phMeterId === null ? undefined : meters.get(p.phMeterId);
  const offset = phOffset(meter, event.at);
  const shownPh = readingMiddle(p.ph);
  const shown = readingMiddle(p.ppm);
  const scale = (p.ppmMeterId === null ? undefined : meters.get(p.ppmMeterId)?.scale) ?? 0.5;
  return {
    eventId: event.id,
    minutes: p.afterMinutes,
    opened: p.opened,
    shownPh,
    // Anywhere in the range alike: its width over the root of twelve.
    phSd: p.ph.kind === 'range' ? (p.ph.high - p.ph.low) / Math.sqrt(12) : undefined,
    ph: shownPh === undefined ? undefined : shownPh - offset,
    ecUsCm: shown === undefined ? undefined : shown / scale,
    tainted: isTainted(meter, event.at) && offset === 0,
  };
}

/** Carbon of a water that stood open for a day is at rest with the air; of fresh water nobody knows it well (1 SD, log). House rule. */
const CARBON_SD = { aged: 0.2, fresh: 0.8, feed: 0.35 };

/** Every soak test of some pots, worked out. A soak's readings by a pen off by nobody knows how much say nothing. */
export async function soaksOf(manager: EntityManager, meters: Meters, potIds: readonly string[]): Promise<Map<string, SoakFound[]>> {
  const byPot = await readSoaks(manager, meters, potIds);
  if (byPot.size === 0) return new Map();
  const all = [...byPot.values()].flat();
  const before = await manager.query<{ soakId: string; batchId: string | null; pouredMl: number }[]>(
    `SELECT j.value AS soakId, f.batchId, json_extract(f.payload, '$.pouredMl') AS pouredMl FROM json_each(?) j JOIN care_event s ON s.id = j.value
     JOIN care_event f ON f.id = (SELECT id FROM care_event WHERE potId = s.potId AND kind = 'potFilled' AND voidedBy IS NULL AND at < s.at ORDER BY at DESC LIMIT 1)`,
    [JSON.stringify(all.map((s) => s.id))],
  );
  const dried = await manager.query<{ potId: string; at: string }[]>(
    `SELECT potId, at FROM care_event WHERE kind = 'clayDried' AND voidedBy IS NULL AND potId IS NOT NULL`,
  );
  const fed = new Map(before.map((row) => [row.soakId, row]));
  const mixes = await mixesOf(
    manager,
    meters,
    [...all.map((s) => s.batchId), ...before.map((b) => b.batchId)].filter((id): id is string => id !== null),
  );
  const waters = await waterCurves(manager, meters);
  const found = new Map<string, SoakFound[]>();
  for (const [potId, soaks] of byPot) {
    found.set(
      potId,
      soaks.map((soak) => {
        const test = testOf(soak, fed.get(soak.id));
        const driedSince = dried.some((d) => d.potId === potId && d.at > soak.at);
        return { soak, test, driedSince, result: test ? fitted(manager.connection, soak, test) : NOT_KNOWN };
      }),
    );
  }
  return found;

  function testOf(soak: SoakLogged, last: { batchId: string | null; pouredMl: number } | undefined): SoakTest | undefined {
    const { started } = soak;
    const fill = started.soakKind === 'feed' ? (soak.batchId ? mixes.get(soak.batchId) : undefined) : undefined;
    const plain = started.waterId === null ? undefined : waters.get(started.waterId)?.curve;
    const opened = soak.reads.some((r) => r.opened && !r.tainted && r.ph !== undefined);
    const sound = soak.reads.filter((r) => !r.tainted && r.ph !== undefined && (!opened || r.opened || r.minutes === 0));
    const first = sound.find((r) => r.minutes === 0 && !r.opened);
    const curve = fill?.curve ?? plain;
    if (!curve) return undefined;
    // Water that stood open has the carbon of the air at its own pH.
    const carbonMmolL = started.aged && first?.ph !== undefined ? restCarbon(curve, first.ph) : curve.carbonMmolL;
    const standing = standingAtPh(curve, fill?.standing ?? { ...asMade(curve), carbonMmolL }, first?.ph);
    const carried = last?.batchId ? mixes.get(last.batchId) : undefined;
    return {
      kind: opened ? 'opened' : started.soakKind,
      fill: { curve, standing, ml: started.fillMl },
      carried: carried && { curve: carried.curve, standing: carried.standing, ml: PORES_PER_RESERVOIR * last!.pouredMl },
      covered: started.covered,
      carbonSd: started.soakKind === 'feed' ? CARBON_SD.feed : started.aged ? CARBON_SD.aged : CARBON_SD.fresh,
      readings: sound.map((r) => ({ minutes: r.opened ? HOUR : r.minutes, ph: r.ph!, phSd: r.phSd, ecUsCm: r.ecUsCm })),
      leaked: soak.ended?.leakedMl ? Math.min(0.9, soak.ended.leakedMl / started.fillMl) : 0,
    };
  }
}

/** Fits, kept: each draws some thousand courses, and an ended test stays what it was. */
const fits = new WeakMap<DataSource, Map<string, SoakResult>>();

function fitted(source: DataSource, soak: SoakLogged, test: SoakTest): SoakResult {
  const kept = fits.get(source) ?? new Map<string, SoakResult>();
  fits.set(source, kept);
  const key = JSON.stringify([soak.id, test.kind, test.readings, test.leaked, test.fill.standing, test.fill.curve.ecUsCm, test.carried?.standing]);
  const result = kept.get(key) ?? fitSoak(test);
  kept.set(key, result);
  return result;
}

/** What was collected is as long in the pot as an hour's soak, however long it then stood open. */
const HOUR = 60;
const NOT_KNOWN: SoakResult = { ok: false, why: 'tooFew', message: 'What it was filled with is not known, so nothing can be told of it.' };

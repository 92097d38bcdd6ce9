import type { EntityManager } from 'typeorm';
import type { UnsteadyView } from '../../contract/advice.ts';
import { unsteadyCheck, type MixFacts } from '../../core/judgement/index.ts';
import { isGood } from '../../core/quantity/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import { readPotStates, type PotState } from '../pots/pot-states.ts';
import { visitFacts } from '../pots/visit-facts.ts';
import { readMeterLog, type Meters } from '../shelf/meter-states.ts';
import { readMeters } from '../shelf/shelf-reader.ts';

/** Mixes looked back on. */
const MIXES = 5;

/** The check of a pot that reads up and down; undefined where there is no such pot. */
export async function readUnsteady(manager: EntityManager, potId: string, today: string): Promise<UnsteadyView | undefined> {
  const meters = await readMeters(manager);
  const [state] = await readPotStates(manager, meters, today, potId);
  if (!state) return undefined;
  const { pot } = state;
  const steps = unsteadyCheck({ visits: visitFacts(state), reservoirMl: pot.reservoirMl }, await mixFacts(manager, meters, state, today));
  return { today, code: pot.code, name: pot.name || pot.plant, steps };
}

async function mixFacts(manager: EntityManager, meters: Meters, { fills }: PotState, today: string): Promise<MixFacts> {
  const recent = fills.slice(-MIXES);
  const batches = [...new Set(recent.flatMap((f) => f.payload.batchId ?? []))];
  const [mixes] = await manager.query<{ withoutBase: number; readAfterAcid: number }[]>(
    `SELECT coalesce(sum(base IS NULL), 0) AS withoutBase, coalesce(sum(strength > acid), 0) AS readAfterAcid FROM (
       SELECT b.value AS id,
         (SELECT min(e.seq) FROM care_event e WHERE e.batchId = b.value AND e.kind = 'batchBase' AND e.voidedBy IS NULL) AS base,
         (SELECT max(e.seq) FROM care_event e WHERE e.batchId = b.value AND e.kind IN ('batchReading', 'batchPortion') AND e.voidedBy IS NULL
            AND json_extract(e.payload, '$.reading.kind') = 'value') AS strength,
         (SELECT min(e.seq) FROM care_event e WHERE e.batchId = b.value AND e.kind = 'batchCorrection' AND e.voidedBy IS NULL) AS acid
       FROM json_each(?) b)`,
    [JSON.stringify(batches)],
  );
  const pens = [...new Set(recent.flatMap((f) => (f.cameOutEcUsCm === undefined ? [] : (f.payload.ppmMeterId ?? []))))];
  const pen = meters.get(pens.at(-1) ?? '');
  const checks = (await readMeterLog(manager)).get(pen?.id ?? '')?.checks ?? [];
  const good =
    pen && checks.filter((check) => check.adjusted || isGood(check, { quantity: pen.quantity, scale: pen.scale, resolution: pen.resolution })).at(-1);
  return {
    mixes: batches.length,
    withoutBase: mixes?.withoutBase ?? 0,
    readAfterAcid: mixes?.readAfterAcid ?? 0,
    pens: pens.length,
    ...(good ? { penGoodDays: Math.max(0, daysBetween(good.at.slice(0, 10), today)) } : {}),
  };
}

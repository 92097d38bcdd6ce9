import type { EntityManager } from 'typeorm';
import {
  changeLeach,
  drawBag,
  firstLeach,
  seededRandom,
  seedOf,
  leachHours,
  type SimLeach,
  type SimSolution,
} from '../../core/simulation/index.ts';
import { readCareEvent } from '../database/care-log.ts';
import type { CareEvent, ClayBatch, Pot } from '../database/entities.ts';
import { readTruth } from './simulated-truth.ts';

/*
 * What is truly in the clay: porous spheres that give their salt to the water round them. Only simulated pens read it; a bag that the demo
 * did not make is drawn from its own number.
 */

const HOUR_MS = 3_600_000;
/** Conductivity of clay's salts that is alkalinity, and what a meq/L of it conducts: near 40 % of 100 µS/cm. */
const ALKALINE_MEQ_PER_EC = 0.4 / 100;

/** The water that stands on a batch at an instant, from its first water on; undefined where it stands in none. */
export async function trueClay(manager: EntityManager, clayId: string, at: Date): Promise<SimSolution | undefined> {
  const [batch] = await manager.query<ClayBatch[]>('SELECT * FROM clay_batch WHERE id = ?', [clayId]);
  if (!batch) return undefined;
  const bag = (await readTruth(manager, 'clay', clayId)) ?? drawBag(seededRandom(seedOf(clayId)), batch.volumeL);
  const rows = await manager.query<CareEvent[]>(
    `SELECT e.* FROM event_touch t JOIN care_event e ON e.id = t.eventId WHERE t.subject = ? AND e.voidedBy IS NULL AND e.kind IN ('clayFilled', 'clayDrained')
     ORDER BY e.at, e.seq`,
    [`clay_batch:${clayId}`],
  );
  let leach: SimLeach | undefined;
  let from = 0;
  let off = 0;
  let waterId = '';
  for (const row of rows) {
    const event = readCareEvent<'clayFilled' | 'clayDrained'>(row);
    const time = Date.parse(row.at);
    if (leach) leach = leachHours(bag, leach, (time - from) / HOUR_MS);
    from = time;
    if (event.kind === 'clayDrained') {
      off += event.payload.pouredOffL;
      continue;
    }
    leach = leach
      ? changeLeach(bag, leach, event.payload.freshL, off + event.payload.pouredOffL)
      : firstLeach(bag, event.payload.freshL);
    off = 0;
    waterId = event.payload.waterId;
  }
  if (!leach) return undefined;
  return withSalt(manager, waterId, leachHours(bag, leach, Math.max(0, (at.getTime() - from) / HOUR_MS)).ppm);
}

/** Of leached clay in use, fed weakly for long. */
const LEACHED_PORES = 90;
const FEED = 90;
/** The column reads stronger at its top than at its hole: salts wick up. */
const LAYERS = { top: 1.12, hole: 0.86 };

/** What a pen dipped into a held pot truly reads, at the top of the column or at its hole; undefined where that hold does not run. */
export async function trueHold(
  manager: EntityManager,
  holdId: string,
  where: 'top' | 'hole',
  at: Date,
): Promise<SimSolution | undefined> {
  const [own] = await manager.query<CareEvent[]>(
    `SELECT * FROM care_event WHERE id = ? AND kind = 'potHoldStarted' AND voidedBy IS NULL`,
    [holdId],
  );
  if (!own?.potId) return undefined;
  const [pot] = await manager.query<Pot[]>('SELECT * FROM pot WHERE id = ?', [own.potId]);
  if (!pot) return undefined;
  const truth = (await readTruth(manager, 'potClay', own.potId)) ?? {
    bag: { ...drawBag(seededRandom(seedOf(own.potId)), pot.clayL ?? (pot.reservoirMl * 5) / 1000), dust: 0 },
    porePpm: LEACHED_PORES,
  };
  const rows = await manager.query<CareEvent[]>(
    `SELECT * FROM care_event WHERE potId = ? AND voidedBy IS NULL AND kind IN ('potHoldStarted', 'potHoldDrained') AND at <= ? ORDER BY at, seq`,
    [own.potId, at.toISOString()],
  );
  const { bag } = truth;
  let leach: SimLeach = {
    shells: bag.grains.map(() => new Array<number>(10).fill(truth.porePpm)),
    ppm: FEED,
    waterL: 0.1,
  };
  let from = 0;
  for (const row of rows) {
    const event = readCareEvent<'potHoldStarted' | 'potHoldDrained'>(row);
    const time = Date.parse(row.at);
    if (from > 0) leach = leachHours(bag, leach, (time - from) / HOUR_MS);
    from = time;
    if (event.kind === 'potHoldDrained') leach = changeLeach(bag, leach, 0.001);
    // Fed in between, unless it follows straight on.
    else
      leach = changeLeach(
        bag,
        event.payload.fedEcUsCm === null ? leach : { ...leach, ppm: FEED, waterL: bag.retained * event.payload.waterL },
        event.payload.waterL,
      );
    if (event.id === holdId && event.kind === 'potHoldStarted') break;
  }
  const { ppm } = leachHours(bag, leach, Math.max(0, (at.getTime() - from) / HOUR_MS));
  return withSalt(manager, readCareEvent<'potHoldStarted'>(own).payload.waterId, ppm * LAYERS[where]);
}

/** The water with the clay's salt in it. @param netPpm at the half scale, over the water's base */
async function withSalt(manager: EntityManager, waterId: string, netPpm: number): Promise<SimSolution> {
  const water = (await readTruth(manager, 'water', waterId)) ?? {
    idealEcUsCm: 0,
    alkalinityMeqL: 0.05,
    carbonMmolL: 0.06,
    phosphateMmolL: 0,
  };
  const ec = netPpm * 2;
  const alkalinity = ec * ALKALINE_MEQ_PER_EC;
  // Enough over that the simulated law, which reads strong water a little low, still shows it.
  return {
    idealEcUsCm: water.idealEcUsCm + ec * 1.02,
    alkalinityMeqL: water.alkalinityMeqL + alkalinity,
    carbonMmolL: water.carbonMmolL + alkalinity * 0.99,
    phosphateMmolL: water.phosphateMmolL,
  };
}

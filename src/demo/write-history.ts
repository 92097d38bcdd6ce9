import type { CareKind, CarePayload } from '../contract/care.ts';
import { lookFromSeen, type Seen } from '../contract/seen.ts';
import { NOT_MEASURED, type Reading } from '../core/quantity/index.ts';
import {
  daysBetween,
  flushMl,
  litresWithSpare,
  mixKey,
  plusDays,
  wateringOf,
  type LocalDate,
  type Watering,
} from '../core/regimen/index.ts';
import {
  fillSim,
  flushSim,
  passDays,
  replaySimBatch,
  simEc,
  simPh,
  type SimBatchAct,
  type SimSolution,
  type SimProduct,
} from '../core/simulation/index.ts';
import {
  addPortion,
  decidePortion,
  feedAim,
  learnedBelief,
  openBottle,
  startBatch,
  takeReading,
  thinBatch,
  type BatchBelief,
} from '../core/strength/index.ts';
import { appendCareEvent } from '../server/database/care-log.ts';
import type { Batch, BatchPart } from '../server/database/entities.ts';
import { writeTruth } from '../server/devices/simulated-truth.ts';
import { penReading } from './pen-reading.ts';
import { flushedShare, natureOn } from './pot-nature.ts';
import {
  BOTTLE_CHANGED_DAYS_AGO,
  FEED_BOTTLES,
  FEED_CHANGED_DAYS_AGO,
  NITRIC,
  PEN_SCALE,
  PENS,
  phPen,
  stillWater,
  WATERS,
} from './truth.ts';
import type { LivePot, World } from './world.ts';
import { writeSoaks } from './write-drift.ts';
import { type Known } from '../server/collection/index.ts';

const DAYS_PER_WEEK = 7;

/** Plays the weeks through, day by day: mixes made with the coach, pots read, flushed and filled. */
export async function writeHistory(world: World, pots: readonly LivePot[], weeks: number): Promise<void> {
  for (let day = -weeks * DAYS_PER_WEEK; day < 0; day++) {
    const due = pots.filter((pot) => pot.visits.includes(day));
    if (due.length === 0) continue;
    if (world.bottle === 0 && day >= -BOTTLE_CHANGED_DAYS_AGO) {
      world.bottle = 1;
      world.belief = openBottle(world.belief);
      world.batches = 0;
    }
    const date = plusDays(world.today, day);
    let minute = 0;
    const clock = () => new Date(Date.parse(`${date}T08:40:00Z`) + (minute += 3) * 60_000);
    for (const key of new Set(due.map((pot) => mixKey(waterings(pot))))) {
      const group = due.filter((pot) => mixKey(waterings(pot)) === key);
      const mix = await writeBatch(world, group, date, clock);
      for (const pot of group) await writeVisit(world, pot, day, date, mix, clock);
    }
  }
  for (const pot of pots) {
    const asOf = pot.lastDay === undefined ? plusDays(world.today, -1) : plusDays(world.today, pot.lastDay);
    await writeTruth(world.manager, 'pot', pot.id, {
      nature: natureOn(pot, 0),
      state: pot.state,
      asOf: `${asOf}T18:00:00.000Z`,
      flushWaterId: world.ids.water['rain']!,
    });
  }
}

export async function log<K extends CareKind>(
  world: World,
  kind: K,
  at: Date,
  date: LocalDate,
  payload: CarePayload<K>,
  more: { potId?: string; batchId?: string; dueKey?: string; id?: string } = {},
): Promise<string> {
  const id = more.id ?? world.uuid();
  await appendCareEvent(world.manager, {
    id,
    kind,
    at,
    localDate: date,
    payload,
    potId: more.potId ?? null,
    batchId: more.batchId ?? null,
    dueKey: more.dueKey ?? null,
  });
  return id;
}

type Bucket = {
  world: World;
  date: LocalDate;
  clock: () => Date;
  product: SimProduct;
  /** What is in it so far. */
  acts: SimBatchAct[];
  readPpm: () => number;
  readPh: () => number;
  at: { batchId: string };
};
const PEN = { resolutionEcUsCm: 2, relativeSd: 0.02 };

function batchRow(
  { ids }: World,
  id: string,
  regimen: ReturnType<typeof waterings>,
  volumeL: number,
  startedAt: Date,
  date: LocalDate,
): Batch {
  return {
    id,
    name: `Feed, ${Math.round(regimen.netEcUsCm * PEN_SCALE)} over base`,
    status: 'poured',
    mixKey: mixKey(regimen),
    startedAt: startedAt.toISOString(),
    startedOn: date,
    waterId: ids.water['still']!,
    vesselId: volumeL > 10 ? ids.vessel['can']! : volumeL > 5 ? ids.vessel['bucket']! : ids.vessel['jug5']!,
    use: 'feed',
    recipeId: null,
    ppmMeterId: ids.ppm,
    phMeterId: ids.ph,
    toolIds: JSON.stringify(ids.tools.slice(0, 4)),
    volumeL,
    netEcUsCm: regimen.netEcUsCm,
    phLow: regimen.pourPhLow,
    phHigh: regimen.pourPhHigh,
    holdMinutes: null,
    byRecipe: false,
    forPots: '[]',
    pouredVolumeL: volumeL,
    pouredEcUsCm: null,
    pouredPh: null,
    afterAcidEcUsCm: null,
    pouredAt: null,
    emptied: true,
  };
}

function partRow(batchId: string, bottleId: string, aim: ReturnType<typeof feedAim>): BatchPart {
  return {
    id: `${batchId}:0`,
    batchId,
    position: 0,
    bottleId,
    source: bottleId,
    asked: JSON.stringify({ kind: 'ec', ecUsCm: aim.netEcUsCm }),
    ...aim,
    unitsPerL: null,
    method: 'plain',
    mlPerUnit: 1,
    stock: null,
    reason: 'into thin calcium',
    risk: 'none',
    riskWords: null,
    knownAfter: null,
  };
}

/** Portion by portion to the aim, by the coach, and thinned where it went past. */
async function addPortions(
  bucket: Bucket,
  base: number,
  volumeL: number,
  aim: ReturnType<typeof feedAim>,
): Promise<{ belief: BatchBelief; last: number }> {
  const { world, date, clock, product, acts, readPpm, at } = bucket;
  let belief = startBatch(world.belief, volumeL, base / PEN_SCALE, PEN);
  let last = base;
  for (let portions = 0; portions < 6; portions++) {
    const decision = decidePortion({
      batch: belief,
      aim,
      pen: PEN,
      tools: world.tools,
      portionsUsed: portions,
      lastReadingEcUsCm: last / PEN_SCALE,
      capacityL: 12,
    });
    if (decision.kind === 'add') {
      const portionId = world.uuid();
      acts.push({ id: portionId, kind: 'dose', product, doseMl: decision.dose.doseMl });
      last = readPpm();
      const { toolId, steps, doseMl, relativeSd } = decision.dose;
      await log(
        world,
        'batchPortion',
        clock(),
        date,
        {
          part: 0,
          dose: { toolId, steps, doseMl, relativeSd },
          reading: value(last),
          confirmedOdd: true,
          byRecipe: false,
        },
        { ...at, id: portionId },
      );
      belief = takeReading(addPortion(belief, doseMl, relativeSd), last / PEN_SCALE, PEN, true).batch;
    } else if (decision.kind === 'thin' && decision.plan.kind === 'add') {
      const thinId = world.uuid();
      const addL = Math.round(decision.plan.addL * 100) / 100;
      if (!(addL > 0)) break;
      acts.push({ id: thinId, kind: 'thin', pourOffL: 0, addL });
      last = readPpm();
      await log(
        world,
        'batchThinned',
        clock(),
        date,
        { pourOffL: 0, addL, reading: value(last), to: '', keepAs: null },
        { ...at, id: thinId },
      );
      belief = takeReading(thinBatch(belief, addL), last / PEN_SCALE, PEN, true).batch;
    } else break;
  }
  return { belief, last };
}

/** Drop by drop into the window; returns the last pH. */
async function correctPh(
  { world, date, clock, acts, readPh, at }: Bucket,
  pourPhHigh: number,
  volumeL: number,
): Promise<number> {
  const { ids } = world;
  let ph = readPh();
  await log(world, 'batchPh', clock(), date, { reading: value(ph), confirmedOdd: false }, at);
  // In a small jug one drop does a lot, so a volunteer gives it one and leaves it.
  for (
    let correction = 0;
    correction < (volumeL < 0.8 ? 1 : 3) && volumeL >= 0.5 && ph > pourPhHigh - 0.2;
    correction++
  ) {
    const drops = Math.max(1, Math.round(volumeL * (ph - 5.9) * (correction === 0 ? 0.9 : 0.6)));
    const correctionId = world.uuid();
    acts.push({ id: correctionId, kind: 'dose', product: NITRIC, doseMl: drops / 18 });
    ph = readPh();
    const dose = { toolId: ids.glass, steps: drops, doseMl: drops / 18, relativeSd: 0.05 };
    await log(
      world,
      'batchCorrection',
      clock(),
      date,
      { productId: ids.nitric, dose, ratio: 1, reading: value(ph), confirmedOdd: false },
      { ...at, id: correctionId },
    );
  }
  return ph;
}

/** A volunteer makes a mix at the bench with the coach, reading simulated pens; returns what is truly in the bucket. */
async function writeBatch(
  world: World,
  group: readonly LivePot[],
  date: LocalDate,
  clock: () => Date,
): Promise<{ id: string; solution: SimSolution }> {
  const { manager, random, ids } = world;
  const regimen = waterings(group[0]!);
  const aim = feedAim(regimen.netEcUsCm);
  const volumeL = litresWithSpare(group.reduce((sum, pot) => sum + pot.spec.reservoirMl - 10, 0));
  const id = world.uuid();
  const startedAt = clock();
  const daysAgo = daysBetween(date, world.today);
  const water = stillWater(daysAgo);
  const product = FEED_BOTTLES[world.bottle]!;
  const acts: SimBatchAct[] = [];
  const truth = () => replaySimBatch(id, water, volumeL, acts);
  const readPpm = () => penReading(simEc(truth().solution) * PEN_SCALE, PENS.ppm, random);
  const readPh = () => penReading(simPh(truth().solution), phPen(daysAgo), random);
  const bucket: Bucket = { world, date, clock, product, acts, readPpm, readPh, at: { batchId: id } };
  const base = readPpm();
  const batch = batchRow(world, id, regimen, volumeL, startedAt, date);
  await manager.getRepository<Batch>('batch').insert(batch);
  const bottleId = daysAgo > FEED_CHANGED_DAYS_AGO ? ids.formerFeed : ids.bottles[world.bottle]!;
  const part = partRow(id, bottleId, aim);
  await manager.getRepository<BatchPart>('batch_part').insert(part);
  await log(world, 'batchStarted', startedAt, date, { volumeL }, bucket.at);
  await log(
    world,
    'batchBase',
    clock(),
    date,
    { reading: value(base), thoughtEcUsCm: null, thoughtSd: null, confirmedOdd: false },
    bucket.at,
  );
  const { belief, last } = await addPortions(bucket, base, volumeL, aim);
  world.belief = learnedBelief(belief);
  world.batches++;
  const ph = await correctPh(bucket, regimen.pourPhHigh, volumeL);
  const poured = clock();
  await log(
    world,
    'batchPoured',
    poured,
    date,
    { volumeL: belief.volumeL, readsEcUsCm: last / PEN_SCALE, ph },
    bucket.at,
  );
  const known: Known = { belief: world.belief, source: bottleId, batches: world.batches };
  await manager.getRepository<Batch>('batch').update(id, {
    pouredVolumeL: belief.volumeL,
    pouredEcUsCm: last / PEN_SCALE,
    pouredPh: ph,
    pouredAt: poured.toISOString(),
  });
  await manager.getRepository<BatchPart>('batch_part').update(part.id, { knownAfter: JSON.stringify(known) });
  return { id, solution: truth().solution };
}

async function writeVisit(
  world: World,
  pot: LivePot,
  day: number,
  date: LocalDate,
  mix: { id: string; solution: SimSolution },
  clock: () => Date,
): Promise<void> {
  const nature = natureOn(pot, day);
  const first = pot.lastDay === undefined;
  if (pot.lastDay !== undefined) pot.state = passDays(pot.state, nature, day - pot.lastDay, pot.random);
  const measured = pot.random();
  const readsPpm = !first && measured < 0.72;
  const readsPh = !first && measured < 0.6;
  const oldReservoir: CarePayload<'potFilled'>['oldReservoir'] = {
    ppm: readsPpm
      ? value(penReading(simEc(pot.state.reservoir) * PEN_SCALE, PENS.ppm, pot.random))
      : { kind: 'notMeasured' },
    ph: readsPh
      ? value(penReading(simPh(pot.state.reservoir), phPen(daysBetween(date, world.today)), pot.random))
      : { kind: 'notMeasured' },
    leftMl: !first && measured < 0.35 ? Math.round(pot.state.volumeMl / 5) * 5 : null,
  };
  const seen = pot.random() < 0.65 ? look(pot, day) : null;
  const flush = Math.round((flushMl(waterings(pot), pot.spec.reservoirMl) * flushedShare(pot, day)) / 20) * 20;
  const pouredMl = pot.spec.reservoirMl - 10;
  const flushed = flushSim(pot.state, nature, WATERS.rain, flush, pot.random);
  // Now and then somebody holds the pen under the hole.
  const runOffPpm =
    !first && measured < 0.22
      ? value(penReading(simEc(flushed.pores) * PEN_SCALE, PENS.ppm, pot.random))
      : NOT_MEASURED;
  if (!first) await writeSoaks(world, pot, day, date, { ...flushed, pores: pot.state.pores }, mix, clock);
  pot.state = fillSim(flushed, nature, mix.solution, pouredMl);
  await log(
    world,
    'potFilled',
    clock(),
    date,
    {
      dueOn: pot.lastDue,
      batchId: mix.id,
      pouredMl,
      flushMl: flush,
      flushWith: flush > 0 ? [{ waterId: world.ids.water['rain']!, ml: flush }] : [],
      runOffPpm,
      oldReservoir,
      ppmMeterId: world.ids.ppm,
      phMeterId: world.ids.ph,
      seen: null,
      look: seen && lookFromSeen(seen),
      waterId: null,
      waterEcUsCm: null,
      turn: 0,
    },
    { potId: pot.id, batchId: mix.id, dueKey: `${pot.id}:${pot.lastDue}` },
  );
  pot.lastDay = day;
  pot.lastDue = plusDays(date, waterings(pot).everyDays);
}

/** What a pot is given; the year is played on one feed each. */
const waterings = ({ regimen, spec }: LivePot): Watering =>
  wateringOf(regimen, { stage: spec.stage, sensitivity: 'usual', crop: false, heightCm: null }, 0);

function look(pot: LivePot, day: number): Seen[] {
  const seen: Seen[] = [];
  const crusty = pot.spec.story === 'trouble' || (pot.spec.story === 'salting' && day > -35);
  if (crusty || pot.random() < 0.02) seen.push('crust');
  if ((pot.spec.story === 'salting' && day > -25) || (pot.spec.story === 'trouble' && pot.random() < 0.4))
    seen.push('tips');
  if (pot.spec.stage !== 'rest' && pot.random() < 0.15) seen.push('new roots');
  if (pot.random() < 0.01) seen.push('pests');
  return seen;
}

function value(v: number): Reading {
  return { kind: 'value', value: v };
}

import type { EntityManager } from 'typeorm';
import type { CareKind, CarePayload } from '../contract/care.ts';
import type { Seen } from '../contract/seen.ts';
import type { Reading } from '../core/quantity/index.ts';
import { flushMl, FLUSH_RULE_OF_THUMB, litresWithSpare, mixKey, plusDays, type LocalDate, type Regimen } from '../core/regimen/index.ts';
import {
  fillSim,
  flushSim,
  normal,
  passDays,
  PURE,
  replaySimBatch,
  seededRandom,
  seedOf,
  simEc,
  simPh,
  type Random,
  type SimBatchAct,
  type SimPot,
  type SimPotNature,
  type SimProduct,
  type SimSolution,
} from '../core/simulation/index.ts';
import {
  addPortion,
  decidePortion,
  feedAim,
  learnedBelief,
  openBottle,
  priorBelief,
  startBatch,
  takeReading,
  thinBatch,
  type StrengthBelief,
  type Tool,
} from '../core/strength/index.ts';
import type { Known } from '../server/bench/batch-reader.ts';
import { appendCareEvent } from '../server/database/care-log.ts';
import type { Batch, Bottle, Meter, Place, Pot, PotRegimen, Product, RegimenRow, ToolRow, Vessel, Water } from '../server/database/entities.ts';
import { writeTruth, type PenTruth } from '../server/devices/simulated-truth.ts';
import { writeSetting } from '../server/shell/settings.ts';
import { ACID_CAUTION, ALKALI_CAUTION, PLACES, POTS, REGIMENS, type DemoPot, type RegimenKey } from './scenario.ts';

export type DemoOptions = {
  /** The demo's own today; everything is dated back from it. */
  readonly today: LocalDate;
  readonly seed?: number;
  readonly weeks?: number;
  /** How many times over the 42 pots; for benchmarks. */
  readonly copies?: number;
};

const DAYS_PER_WEEK = 7;
const BOTTLE_CHANGED_DAYS_AGO = 120;
const SALTING_SINCE_DAYS = 70;
const PEN_SCALE = 0.5;

const WATERS: Record<'still' | 'tap' | 'rain', SimSolution> = {
  still: { idealEcUsCm: 18, alkalinityMeqL: 0.1, carbonMmolL: 0.13, phosphateMmolL: 0 },
  tap: { idealEcUsCm: 437, alkalinityMeqL: 2.85, carbonMmolL: 3.01, phosphateMmolL: 0 },
  rain: { idealEcUsCm: 48, alkalinityMeqL: 0.05, carbonMmolL: 0.107, phosphateMmolL: 0 },
};
const FEED_BOTTLES: readonly SimProduct[] = [
  { idealEcPerMlL: 318, alkalinityMeqPerMl: 0.12, phosphateMmolPerMl: 0.45 },
  { idealEcPerMlL: 271, alkalinityMeqPerMl: 0.11, phosphateMmolPerMl: 0.4 },
];
const NITRIC: SimProduct = { idealEcPerMlL: 60, alkalinityMeqPerMl: -1.67, phosphateMmolPerMl: 0 };
const POTASH: SimProduct = { idealEcPerMlL: 190, alkalinityMeqPerMl: 1.5, phosphateMmolPerMl: 0 };
const PENS: Record<'ppm' | 'pH', PenTruth> = {
  ppm: { quantity: 'ppm', resolution: 1, offset: 0, gain: 1.01, noise: 0.5, noiseShare: 0.006, settleSeconds: 3, most: 9990 },
  pH: { quantity: 'pH', resolution: 0.1, offset: 0.05, gain: 1, noise: 0.04, noiseShare: 0, settleSeconds: 4, most: 14 },
};
const GUESS_EC_PER_ML_L = 360;

type World = {
  manager: EntityManager;
  random: Random;
  uuid: () => string;
  today: LocalDate;
  ids: {
    water: Record<string, string>;
    vessel: Record<string, string>;
    bottles: string[];
    nitric: string;
    ppm: string;
    ph: string;
    glass: string;
    tools: string[];
  };
  tools: Tool[];
  belief: StrengthBelief;
  batches: number;
  bottle: number;
};

/**
 * Writes the demo collection into an empty database: shelf, 42 pots, and 52 weeks of rounds made by a simulator that is structurally
 * different from the estimators. Everything goes through the care log like a grower's own acts. Same options, same collection.
 */
export async function makeDemo(manager: EntityManager, options: DemoOptions): Promise<void> {
  const random = seededRandom(options.seed ?? 1854);
  const uuid = () => uuidFrom(random);
  const weeks = options.weeks ?? 52;
  const world: World = {
    manager,
    random,
    uuid,
    today: options.today,
    ids: await writeShelf(manager, uuid, options.today),
    tools: [],
    belief: priorBelief(GUESS_EC_PER_ML_L),
    batches: 0,
    bottle: 0,
  };
  world.tools = TOOLS.filter((t) => t.dropsPerMl !== null || t.kind === 'syringe').map((t, i) =>
    t.kind === 'dropper'
      ? { kind: 'dropper', id: world.ids.tools[i]!, name: t.name, dropsPerMl: t.dropsPerMl }
      : { kind: 'syringe', id: world.ids.tools[i]!, name: t.name, capacityMl: t.capacityMl!, stepMl: t.stepMl! },
  );
  const pots = await writePots(world, weeks, options.copies ?? 1);
  await writeHistory(world, pots, weeks);
  for (const [key, value] of [
    ['zone', 'Europe/London'],
    ['collection', 'The Ropewalk plant library'],
    ['demoDay', options.today],
  ] as const)
    await writeSetting(manager, key, value);
}

const TOOLS: readonly Omit<ToolRow, 'id' | 'position'>[] = [
  { kind: 'dropper', name: 'Glass dropper', dropsPerMl: 18, capacityMl: null, stepMl: null },
  { kind: 'syringe', name: '1 mL syringe', dropsPerMl: null, capacityMl: 1, stepMl: 0.05 },
  { kind: 'syringe', name: '5 mL syringe', dropsPerMl: null, capacityMl: 5, stepMl: 0.2 },
  { kind: 'syringe', name: '20 mL syringe', dropsPerMl: null, capacityMl: 20, stepMl: 1 },
  { kind: 'dropper', name: 'Plastic dropper', dropsPerMl: null, capacityMl: null, stepMl: null },
];

async function writeShelf(manager: EntityManager, uuid: () => string, today: LocalDate): Promise<World['ids']> {
  const water: Record<string, string> = {};
  const waters: [keyof typeof WATERS, string, string][] = [
    ['still', 'Still water', 'reverse osmosis, 9 L a day into a 25 L tank'],
    ['tap', 'Kitchen tap', 'pH 7.6, 8 °dKH, chlorinated: let it stand a day'],
    ['rain', 'Rain butt', 'pH 6.3, seasonal'],
  ];
  for (const [position, [key, name, note]] of waters.entries()) {
    water[key] = uuid();
    await manager.getRepository<Water>('water').insert({ id: water[key], name, note, position });
    await writeTruth(manager, 'water', water[key], WATERS[key]);
  }
  const vessel: Record<string, string> = {};
  const vessels: [string, string, number, string, boolean][] = [
    ['can', 'Can', 12, 'zinc', false],
    ['bucket', 'Bucket', 10, 'plastic', false],
    ['jug5', 'Jug', 5, 'plastic', false],
    ['jug2', 'Glass jug', 2, 'glass', true],
  ];
  for (const [position, [key, name, capacityL, material, heatProof]] of vessels.entries()) {
    vessel[key] = uuid();
    await manager.getRepository<Vessel>('vessel').insert({ id: vessel[key], name, capacityL, material, heatProof, position });
  }
  const ppm = uuid();
  const ph = uuid();
  await manager
    .getRepository<Meter>('meter')
    .insert({ id: ppm, name: 'Blue pen', quantity: 'ppm', scale: PEN_SCALE, resolution: 1, device: 'simulated', position: 0 });
  await manager
    .getRepository<Meter>('meter')
    .insert({ id: ph, name: 'Yellow pen', quantity: 'pH', scale: null, resolution: 0.1, device: 'simulated', position: 1 });
  await writeTruth(manager, 'pen', ppm, PENS.ppm);
  await writeTruth(manager, 'pen', ph, PENS.pH);
  const tools: string[] = [];
  for (const [position, tool] of TOOLS.entries()) {
    tools.push(uuid());
    await manager.getRepository<ToolRow>('tool').insert({ ...tool, id: tools[position]!, position });
  }
  const products: Product[] = [
    {
      id: uuid(),
      name: 'House feed',
      shortName: 'feed',
      kind: 'feed',
      guessEcPerMlL: GUESS_EC_PER_ML_L,
      label: 'thinned 1 + 1 with still water',
      caution: '',
      position: 0,
    },
    {
      id: uuid(),
      name: 'Nitric pH-down, 10 %',
      shortName: 'pH-down',
      kind: 'acid',
      guessEcPerMlL: null,
      label: '10 % nitric acid',
      caution: ACID_CAUTION,
      position: 1,
    },
    {
      id: uuid(),
      name: 'Potash pH-up, 10 %',
      shortName: 'pH-up',
      kind: 'base',
      guessEcPerMlL: null,
      label: '10 % potassium carbonate',
      caution: ALKALI_CAUTION,
      position: 2,
    },
  ];
  await manager.getRepository<Product>('product').insert(products);
  await writeTruth(manager, 'product', products[1]!.id, NITRIC);
  await writeTruth(manager, 'product', products[2]!.id, POTASH);
  const bottles: Bottle[] = [
    { id: uuid(), productId: products[0]!.id, openedOn: plusDays(today, -BOTTLE_CHANGED_DAYS_AGO), note: 'second stock, thinned 1 + 1', position: 0 },
    { id: uuid(), productId: products[0]!.id, openedOn: plusDays(today, -364), note: 'first stock, thinned 1 + 1, used up', position: 9 },
    { id: uuid(), productId: products[1]!.id, openedOn: plusDays(today, -300), note: '', position: 2 },
    { id: uuid(), productId: products[2]!.id, openedOn: plusDays(today, -300), note: '', position: 3 },
  ];
  await manager.getRepository<Bottle>('bottle').insert(bottles);
  const feed = [bottles[1]!.id, bottles[0]!.id];
  for (const [i, bottleId] of feed.entries()) await writeTruth(manager, 'bottle', bottleId, FEED_BOTTLES[i]!);
  return { water, vessel, bottles: feed, nitric: products[1]!.id, ppm, ph, glass: tools[0]!, tools };
}

type LivePot = {
  spec: DemoPot;
  id: string;
  regimen: Regimen;
  nature: SimPotNature;
  state: SimPot;
  visits: number[];
  lastDay: number | undefined;
  lastDue: LocalDate;
  random: Random;
};

async function writePots(world: World, weeks: number, copies: number): Promise<LivePot[]> {
  const { manager, uuid, today, random } = world;
  const start = plusDays(today, -weeks * DAYS_PER_WEEK);
  const regimens = {} as Record<RegimenKey, { id: string; params: Regimen }>;
  for (const key of Object.keys(REGIMENS) as RegimenKey[]) {
    const spec = REGIMENS[key];
    const { kind, ...params }: Regimen = {
      kind: 'constantDilute',
      netEcUsCm: spec.netPpm / PEN_SCALE,
      everyDays: spec.everyDays,
      flushTimesReservoir: FLUSH_RULE_OF_THUMB,
      pourPhLow: 5.5,
      pourPhHigh: 6.5,
    };
    regimens[key] = { id: uuid(), params: { kind, ...params } };
    await manager.getRepository<RegimenRow>('regimen').insert({ id: regimens[key].id, name: spec.name, kind, params: JSON.stringify(params) });
  }
  const placeIds: Record<string, string> = {};
  for (const [position, place] of PLACES.entries()) {
    placeIds[place.key] = uuid();
    await manager.getRepository<Place>('place').insert({ id: placeIds[place.key]!, name: place.name, note: place.note, position });
  }
  const live: LivePot[] = [];
  for (let copy = 0; copy < copies; copy++) {
    for (const [position, spec] of POTS.entries()) {
      const id = uuid();
      const regimen = regimens[spec.regimen ?? 'dilute'];
      const code = copy === 0 ? spec.code : `${spec.code}/${copy + 1}`;
      const clay = spec.clay === null ? null : `batch ${spec.clay}`;
      await manager.getRepository<Pot>('pot').insert({
        id,
        code,
        name: spec.name,
        placeId: placeIds[spec.place]!,
        position: copy * POTS.length + position,
        form: spec.form ?? 'clay',
        stage: spec.stage,
        clay,
        reservoirMl: spec.reservoirMl,
        fillMl: spec.reservoirMl - 10,
        acquiredOn: start,
        note: '',
      });
      await manager
        .getRepository<PotRegimen>('pot_regimen')
        .insert({ id: uuid(), potId: id, regimenId: regimen.id, fromDate: start, reason: REGIMENS[spec.regimen ?? 'dilute'].reason });
      const nature = natureOf(spec, random);
      live.push({
        spec,
        id,
        regimen: regimen.params,
        nature,
        state: { volumeMl: 0, reservoir: PURE, pores: WATERS.rain },
        visits: visitDays(spec, regimen.params.everyDays, weeks, random),
        lastDay: undefined,
        lastDue: start,
        random: seededRandom(seedOf(id)),
      });
    }
  }
  return live;
}

/** Days before today (negative) on which the pot was filled, oldest first; now and then two days late. */
function visitDays(spec: DemoPot, everyDays: number, weeks: number, random: Random): number[] {
  const days: number[] = [];
  for (let day = -spec.since; day >= -weeks * DAYS_PER_WEEK; day -= everyDays) days.unshift(day < -3 * everyDays && random() < 0.06 ? day + 2 : day);
  return days;
}

function natureOf(spec: DemoPot, random: Random): SimPotNature {
  const warm = spec.place === 'P' ? 0.5 : spec.place === 'L' ? 1.05 : 1;
  const vary = () => 1 + 0.15 * normal(random);
  const nature: SimPotNature = {
    reservoirMl: spec.reservoirMl,
    poreMl: spec.form === 'water' ? 5 : 0.3 * spec.reservoirMl,
    evaporatedMlDay: 0.03 * spec.reservoirMl * warm * vary(),
    drunkMlDay: 0.066 * spec.reservoirMl * warm * vary(),
    uptakeShare: Math.min(1, 0.9 * vary()),
    alkalinityUeqDay: -0.0035 * spec.reservoirMl * warm * vary(),
    clayEcUsLDay: spec.form === 'water' ? 0 : 0.1 * Math.abs(vary()),
    flushLeaves: 0.3,
  };
  switch (spec.story) {
    case 'trouble':
      return { ...nature, clayEcUsLDay: 4.5, alkalinityUeqDay: 12, drunkMlDay: nature.drunkMlDay * 0.25, flushLeaves: 0.75 };
    case 'pushes':
      return { ...nature, alkalinityUeqDay: 7 };
    case 'thirsty':
      return { ...nature, drunkMlDay: nature.drunkMlDay * 1.4, uptakeShare: 1 };
    case 'hungry':
      return { ...nature, uptakeShare: 1, evaporatedMlDay: nature.evaporatedMlDay * 0.5, drunkMlDay: nature.drunkMlDay * 1.3 };
    default:
      return nature;
  }
}

/** What changed in a pot over the year: R-07 has been flushed ever less thoroughly since the autumn. */
function natureOn(pot: LivePot, day: number): SimPotNature {
  const summer = 1 + 0.18 * Math.cos((2 * Math.PI * (day + 130)) / 365);
  const base = { ...pot.nature, evaporatedMlDay: pot.nature.evaporatedMlDay * summer };
  if (pot.spec.story !== 'salting' || day < -SALTING_SINCE_DAYS) return base;
  const along = Math.min(1, (day + SALTING_SINCE_DAYS) / SALTING_SINCE_DAYS);
  return {
    ...base,
    flushLeaves: 0.3 + 0.68 * along,
    alkalinityUeqDay: 3 * along,
    evaporatedMlDay: base.evaporatedMlDay * (1 + 0.45 * along),
    uptakeShare: base.uptakeShare * (1 - 0.6 * along),
  };
}

async function writeHistory(world: World, pots: readonly LivePot[], weeks: number): Promise<void> {
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
    for (const key of new Set(due.map((pot) => mixKey(pot.regimen)))) {
      const group = due.filter((pot) => mixKey(pot.regimen) === key);
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

async function log<K extends CareKind>(
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

/** A volunteer makes a mix at the bench with the coach, reading simulated pens; returns what is truly in the bucket. */
async function writeBatch(world: World, group: readonly LivePot[], date: LocalDate, clock: () => Date): Promise<{ id: string; solution: SimSolution }> {
  const { manager, random, ids } = world;
  const regimen = group[0]!.regimen;
  const aim = feedAim(regimen.netEcUsCm);
  const volumeL = litresWithSpare(group.reduce((sum, pot) => sum + pot.spec.reservoirMl - 10, 0));
  const id = world.uuid();
  const startedAt = clock();
  const water = WATERS.still;
  const product = FEED_BOTTLES[world.bottle]!;
  const acts: SimBatchAct[] = [];
  const truth = () => replaySimBatch(id, water, volumeL, acts);
  const readPpm = () => penReading(simEc(truth().solution) * PEN_SCALE, PENS.ppm, random);
  const base = readPpm();
  const pen = { resolutionEcUsCm: 2, relativeSd: 0.02 };
  const batch: Batch = {
    id,
    name: `Feed, ${Math.round(regimen.netEcUsCm * PEN_SCALE)} over base`,
    status: 'poured',
    mixKey: mixKey(regimen),
    startedAt: startedAt.toISOString(),
    startedOn: date,
    waterId: ids.water['still']!,
    vesselId: volumeL > 10 ? ids.vessel['can']! : volumeL > 5 ? ids.vessel['bucket']! : ids.vessel['jug5']!,
    bottleId: ids.bottles[world.bottle]!,
    ppmMeterId: ids.ppm,
    phMeterId: ids.ph,
    toolIds: JSON.stringify(ids.tools.slice(0, 4)),
    volumeL,
    thinRatio: 1,
    netEcUsCm: regimen.netEcUsCm,
    phLow: regimen.pourPhLow,
    phHigh: regimen.pourPhHigh,
    pouredVolumeL: volumeL,
    pouredEcUsCm: null,
    pouredPh: null,
    pouredAt: null,
    emptied: true,
    knownAfter: null,
  };
  await manager.getRepository<Batch>('batch').insert(batch);
  const at = { batchId: id };
  await log(world, 'batchStarted', startedAt, date, { volumeL }, at);
  await log(world, 'batchBase', clock(), date, { reading: value(base) }, at);
  let belief = startBatch(world.belief, volumeL, base / PEN_SCALE, pen);
  let last = base;
  for (let portions = 0; portions < 6; portions++) {
    const decision = decidePortion({ batch: belief, aim, pen, tools: world.tools, portionsUsed: portions, lastReadingEcUsCm: last / PEN_SCALE, capacityL: 12 });
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
        { dose: { toolId, steps, doseMl, relativeSd }, reading: value(last), confirmedOdd: true },
        { ...at, id: portionId },
      );
      belief = takeReading(addPortion(belief, doseMl, relativeSd), last / PEN_SCALE, pen, true).batch;
    } else if (decision.kind === 'thin' && decision.plan.kind === 'add') {
      const thinId = world.uuid();
      const addL = Math.round(decision.plan.addL * 100) / 100;
      if (!(addL > 0)) break;
      acts.push({ id: thinId, kind: 'thin', pourOffL: 0, addL });
      last = readPpm();
      await log(world, 'batchThinned', clock(), date, { pourOffL: 0, addL, reading: value(last) }, { ...at, id: thinId });
      belief = takeReading(thinBatch(belief, addL), last / PEN_SCALE, pen, true).batch;
    } else break;
  }
  world.belief = learnedBelief(belief);
  world.batches++;
  const readPh = () => penReading(simPh(truth().solution), PENS.pH, random);
  let ph = readPh();
  await log(world, 'batchPh', clock(), date, { reading: value(ph) }, at);
  // In a small jug one drop does a lot, so a volunteer gives it one and leaves it.
  for (let correction = 0; correction < (volumeL < 0.8 ? 1 : 3) && volumeL >= 0.5 && ph > regimen.pourPhHigh - 0.2; correction++) {
    const drops = Math.max(1, Math.round(volumeL * (ph - 5.9) * (correction === 0 ? 0.9 : 0.6)));
    const correctionId = world.uuid();
    acts.push({ id: correctionId, kind: 'dose', product: NITRIC, doseMl: drops / 18 });
    ph = readPh();
    await log(world, 'batchCorrection', clock(), date, { productId: ids.nitric, toolId: ids.glass, drops, reading: value(ph) }, { ...at, id: correctionId });
  }
  const poured = clock();
  await log(world, 'batchPoured', poured, date, { volumeL: belief.volumeL, readsEcUsCm: last / PEN_SCALE, ph }, at);
  const known: Known = { belief: world.belief, bottleId: batch.bottleId, batches: world.batches };
  await manager
    .getRepository<Batch>('batch')
    .update(id, {
      pouredVolumeL: belief.volumeL,
      pouredEcUsCm: last / PEN_SCALE,
      pouredPh: ph,
      pouredAt: poured.toISOString(),
      knownAfter: JSON.stringify(known),
    });
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
    ppm: readsPpm ? value(penReading(simEc(pot.state.reservoir) * PEN_SCALE, PENS.ppm, pot.random)) : { kind: 'notMeasured' },
    ph: readsPh ? value(penReading(simPh(pot.state.reservoir), PENS.pH, pot.random)) : { kind: 'notMeasured' },
    leftMl: !first && measured < 0.35 ? Math.round(pot.state.volumeMl / 5) * 5 : null,
  };
  const seen = pot.random() < 0.65 ? look(pot, day) : null;
  const flush = flushMl(pot.regimen, pot.spec.reservoirMl);
  const pouredMl = pot.spec.reservoirMl - 10;
  pot.state = fillSim(flushSim(pot.state, nature, WATERS.rain, flush, pot.random), nature, mix.solution, pouredMl);
  await log(
    world,
    'potFilled',
    clock(),
    date,
    { dueOn: pot.lastDue, batchId: mix.id, pouredMl, flushMl: flush, oldReservoir, ppmMeterId: world.ids.ppm, phMeterId: world.ids.ph, seen },
    { potId: pot.id, batchId: mix.id, dueKey: `${pot.id}:${pot.lastDue}` },
  );
  pot.lastDay = day;
  pot.lastDue = plusDays(date, pot.regimen.everyDays);
}

function look(pot: LivePot, day: number): Seen[] {
  const seen: Seen[] = [];
  const crusty = pot.spec.story === 'trouble' || (pot.spec.story === 'salting' && day > -35);
  if (crusty || pot.random() < 0.02) seen.push('crust');
  if ((pot.spec.story === 'salting' && day > -25) || (pot.spec.story === 'trouble' && pot.random() < 0.4)) seen.push('tips');
  if (pot.spec.stage !== 'rest' && pot.random() < 0.15) seen.push('new roots');
  if (pot.random() < 0.01) seen.push('pests');
  return seen;
}

function penReading(truth: number, pen: PenTruth, random: Random): number {
  const shown = truth * pen.gain + pen.offset + (pen.noise + pen.noiseShare * truth) * normal(random);
  return Math.max(0, Number((Math.round(shown / pen.resolution) * pen.resolution).toFixed(1)));
}

function value(v: number): Reading {
  return { kind: 'value', value: v };
}

/** A version-4 UUID from the seeded source, so that the same seed makes the same collection. */
function uuidFrom(random: Random): string {
  const hex = Array.from({ length: 32 }, () => Math.floor(random() * 16).toString(16));
  hex[12] = '4';
  hex[16] = (8 + Math.floor(random() * 4)).toString(16);
  const text = hex.join('');
  return `${text.slice(0, 8)}-${text.slice(8, 12)}-${text.slice(12, 16)}-${text.slice(16, 20)}-${text.slice(20)}`;
}

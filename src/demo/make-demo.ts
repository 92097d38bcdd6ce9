import type { EntityManager } from 'typeorm';
import { constantDilute, plusDays, rotaDays, type LocalDate, type Regimen } from '../core/regimen/index.ts';
import { PURE, seededRandom, seedOf, type Random } from '../core/simulation/index.ts';
import { priorBelief } from '../core/strength/index.ts';
import type { CarePayload } from '../contract/care.ts';
import type { Place, Pot, PotRegimen, RegimenRow } from '../server/database/entities.ts';
import { appendCareEvent } from '../server/database/care-log.ts';
import { writeParams, writtenBesideTheLog } from '../server/collection/index.ts';
import { writeSetting } from '../server/shell/settings.ts';
import { natureOf } from './pot-nature.ts';
import { DEMO_ZONE, PLACES, PLANTS, POTS, REGIMENS, type DemoPot, type RegimenKey } from './scenario.ts';
import { GUESS_EC_PER_ML_L, PEN_SCALE, PH_PEN_OFF, WATERS } from './truth.ts';
import { writeBench } from './write-bench.ts';
import { writeClay } from './write-clay.ts';
import { uuidFrom, type LivePot, type World } from './world.ts';
import { writeTreatments } from './write-drift.ts';
import { writeHistory } from './write-history.ts';
import { writeRegimens } from './write-regimens.ts';
import { TOOLS, writeShelf } from './write-shelf.ts';
import { writeMeasures } from './write-measures.ts';
import { writeTrial } from './write-trial.ts';

export type DemoOptions = {
  /** The demo's own today; everything is dated back from it. */
  readonly today: LocalDate;
  readonly seed?: number;
  readonly weeks?: number;
  /** How many times over the 42 pots; for benchmarks. */
  readonly copies?: number;
};

const DAYS_PER_WEEK = 7;

/**
 * Writes the demo collection into an empty database: shelf, 42 pots, and 52 weeks of rounds made by a simulator that is structurally
 * different from the estimators. Everything goes through the care log like a grower's own acts. Same options, same collection.
 */
export async function makeDemo(manager: EntityManager, options: DemoOptions): Promise<void> {
  writtenBesideTheLog(manager);
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
    soaked: new Set(),
  };
  world.tools = TOOLS.filter((t) => (t.kind === 'dropper' && t.dropsPerMl !== null) || t.kind === 'syringe').map(
    (t, i) =>
      t.kind === 'dropper'
        ? { kind: 'dropper', id: world.ids.tools[i]!, name: t.name, dropsPerMl: t.dropsPerMl }
        : { kind: 'syringe', id: world.ids.tools[i]!, name: t.name, capacityMl: t.capacityMl!, stepMl: t.stepMl! },
  );
  const pots = await writePots(world, weeks, options.copies ?? 1);
  await writeHistory(world, pots, weeks);
  await writeLooks(world);
  await writeChecks(world);
  await writeTreatments(world, pots);
  await writeClay(world, pots);
  await writeBench(world, weeks);
  await writeRegimens(world, pots, weeks);
  await writeTrial(world, pots, weeks);
  await writeMeasures(world, pots, weeks);
  await inOrderOfTime(manager);
  for (const [key, value] of [
    ['zone', DEMO_ZONE],
    ['collection', 'The Ropewalk plant library'],
    ['latitude', '54.1'],
    ['demoDay', options.today],
  ] as const)
    await writeSetting(manager, key, value);
}

/** The tap and the rain butt read by themselves, the drop kit's pH beside them, and a look into the still-water tank this morning. */
async function writeLooks({ manager, uuid, today, ids }: World): Promise<void> {
  const look = (day: number, time: string) => ({
    id: uuid(),
    at: new Date(`${plusDays(today, day)}T${time}:00Z`),
    localDate: plusDays(today, day),
  });
  const read = (waterId: string, ppm: number, low: number, high: number) => ({
    waterId,
    ppm: { kind: 'value' as const, value: ppm },
    ph: { kind: 'range' as const, low, high },
    ppmMeterId: ids.ppm,
    phMeterId: ids.kit,
  });
  for (const [day, ppm] of [
    [-320, 204],
    [-230, 196],
    [-140, 208],
    [-60, 215],
    [-12, 212],
  ] as const)
    await appendCareEvent(manager, {
      ...look(day, '08:50'),
      kind: 'waterRead',
      payload: read(ids.water['tap']!, ppm, 7.5, 7.7),
    });
  await appendCareEvent(manager, {
    ...look(-23, '08:40'),
    kind: 'waterRead',
    payload: read(ids.water['rain']!, 24, 6.2, 6.4),
  });
  await appendCareEvent(manager, {
    // Just after midnight, so that a demo opened in the small hours holds nothing of what is still to come.
    ...look(0, '00:05'),
    kind: 'waterCounted',
    payload: { waterId: ids.water['still']!, litres: 14.2 },
  });
}

/** Pens looked at month by month; the pH pen was found off yesterday, since its battery began to give out three weeks ago. */
async function writeChecks({ manager, uuid, today, ids }: World): Promise<void> {
  const when = (day: number, time: string) => ({
    id: uuid(),
    at: new Date(`${plusDays(today, day)}T${time}:00Z`),
    localDate: plusDays(today, day),
  });
  const check = async (
    day: number,
    time: string,
    meterId: string,
    standard: CarePayload<'meterChecked'>['standard'],
    shown: number,
  ) =>
    appendCareEvent(manager, {
      ...when(day, time),
      kind: 'meterChecked',
      payload: {
        meterId,
        standard,
        shown,
        temperatureC: standard === 'zero' ? null : 20,
        settled: true,
        adjusted: false,
      },
    });
  for (const day of [-95, -62, -33, -6]) {
    await check(day, '07:40', ids.ppm, 'zero', 0);
    await check(day, '07:42', ids.ppm, 'ec1413', 712 + (day % 3));
  }
  await check(-33, '07:50', ids.bench, 'ec1413', 1.42);
  for (const day of [-81, -49]) {
    await check(day, '07:45', ids.ph, 'ph401', 4.1);
    await check(day, '07:47', ids.ph, 'ph686', 6.9);
  }
  await check(-1, '07:45', ids.ph, 'ph686', 6.6);
  const from = `${plusDays(today, -PH_PEN_OFF.sinceDaysAgo)}T00:00:00.000Z`;
  const why = 'flat battery: it reads low against the drop kit';
  await appendCareEvent(manager, {
    ...when(-1, '07:50'),
    kind: 'meterMarkedOff',
    payload: { meterId: ids.ph, from, offBy: PH_PEN_OFF.by, why },
  });
}

/** The log is numbered as it is written; what was written apart takes its place among the days. */
async function inOrderOfTime(manager: EntityManager): Promise<void> {
  await manager.query(
    'CREATE TEMP TABLE order_of_time AS SELECT id, row_number() OVER (ORDER BY at, seq) AS n FROM care_event',
  );
  await manager.query('CREATE UNIQUE INDEX temp.ux_order_of_time ON order_of_time (id)');
  await manager.query('UPDATE care_event SET seq = -(SELECT n FROM order_of_time o WHERE o.id = care_event.id)');
  await manager.query('UPDATE care_event SET seq = -seq');
  await manager.query('DROP TABLE order_of_time');
}

async function writePots(world: World, weeks: number, copies: number): Promise<LivePot[]> {
  const { manager, uuid, today, random } = world;
  const start = plusDays(today, -weeks * DAYS_PER_WEEK);
  const regimens = await writeFirstRegimens(world);
  const placeIds = await writePlaces(world);
  const live: LivePot[] = [];
  for (let copy = 0; copy < copies; copy++) {
    for (const [position, spec] of POTS.entries()) {
      const id = uuid();
      const regimen = regimens[spec.regimen ?? 'dilute'];
      await manager.getRepository<Pot>('pot').insert({
        ...potRow(spec, copy, today),
        id,
        placeId: placeIds[spec.place]!,
        position: copy * POTS.length + position,
        acquiredOn: start,
      });
      await manager.getRepository<PotRegimen>('pot_regimen').insert({
        id: uuid(),
        potId: id,
        regimenId: regimen.id,
        fromDate: start,
        reason: REGIMENS[spec.regimen ?? 'dilute'].reason,
      });
      const nature = natureOf(spec, random);
      live.push({
        spec,
        id,
        regimen: regimen.params,
        nature,
        state: { volumeMl: 0, reservoir: PURE, pores: WATERS.rain },
        visits: visitDays(spec, rotaDays(regimen.params), weeks, random),
        lastDay: undefined,
        lastDue: start,
        random: seededRandom(seedOf(id)),
      });
    }
  }
  return live;
}

async function writeFirstRegimens({
  manager,
  uuid,
}: World): Promise<Record<RegimenKey, { id: string; params: Regimen }>> {
  const regimens = {} as Record<RegimenKey, { id: string; params: Regimen }>;
  for (const key of Object.keys(REGIMENS) as RegimenKey[]) {
    const spec = REGIMENS[key];
    const params = constantDilute(spec.netPpm / PEN_SCALE, spec.everyDays);
    regimens[key] = { id: uuid(), params };
    await manager.getRepository<RegimenRow>('regimen').insert({
      id: regimens[key].id,
      name: spec.name,
      kind: params.school,
      params: writeParams(params),
      retiredOn: null,
    });
  }
  return regimens;
}

/** The places by their keys. */
async function writePlaces({ manager, uuid }: World): Promise<Record<string, string>> {
  const placeIds: Record<string, string> = {};
  for (const [position, place] of PLACES.entries()) {
    placeIds[place.key] = uuid();
    await manager.getRepository<Place>('place').insert({
      id: placeIds[place.key]!,
      name: place.name,
      note: place.note,
      light: place.light,
      position,
      retiredOn: null,
      year: place.year,
    });
  }
  return placeIds;
}

/** A pot of the library as it is kept, but for where it stands and since when. */
function potRow(
  spec: DemoPot,
  copy: number,
  today: LocalDate,
): Omit<Pot, 'id' | 'placeId' | 'position' | 'acquiredOn'> {
  const plant = PLANTS[spec.name];
  const inWater = spec.form === 'water';
  return {
    code: copy === 0 ? spec.code : `${spec.code}/${copy + 1}`,
    plant: spec.name,
    name: '',
    spot: '',
    medium: spec.form ?? 'clay',
    stage: spec.stage,
    clay: spec.clay === null ? null : `batch ${spec.clay}`,
    clayL: inWater ? null : Math.round(spec.reservoirMl / 20) / 10,
    brimMl: inWater ? null : Math.round((spec.reservoirMl * 2.6) / 10) * 10,
    heightCm: spec.heightCm ?? null,
    habit: plant?.habit ?? null,
    grows: spec.grows ?? plant?.grows ?? 'houseplant',
    sensitivity: spec.story === 'trouble' ? 'tender' : 'usual',
    origin: '',
    repottedOn: spec.repotted === undefined ? null : plusDays(today, -spec.repotted),
    retiredOn: null,
    became: '',
    reservoirMl: spec.reservoirMl,
    fillMl: spec.reservoirMl - 10,
    note: '',
  };
}

/** Days before today (negative) on which the pot was filled, oldest first; now and then two days late. */
function visitDays(spec: DemoPot, everyDays: number, weeks: number, random: Random): number[] {
  const days: number[] = [];
  for (let day = -spec.since; day >= -weeks * DAYS_PER_WEEK; day -= everyDays)
    days.unshift(day < -3 * everyDays && random() < 0.06 ? day + 2 : day);
  return days;
}

import { upperFirst } from '../core/quantity/index.ts';
import type { RecipeValues } from '../contract/recipes.ts';
import {
  constantDilute,
  MAGNESIUM_SOAK,
  plusDays,
  SILICATE_SOAK,
  soakKey,
  soakToMake,
  type Regimen,
  type Soak,
  SOAKS,
  type LocalDate,
} from '../core/regimen/index.ts';
import { seededRandom } from '../core/simulation/index.ts';
import { appendCareEvent } from '../server/database/care-log.ts';
import { changeRecords, type RecordChange } from '../server/database/records.ts';
import { rememberAll, writeParams } from '../server/collection/index.ts';
import { playBatch } from './play-bench.ts';
import { LATER_REGIMENS, SOAK_DAYS } from './scenario.ts';
import { PEN_SCALE } from './truth.ts';
import { uuidFrom, type LivePot, type World } from './world.ts';

const DAYS_PER_WEEK = 7;
/** A leaf spray for a basket, mL. */
const SPRAY_ML = 50;

/** Changes of regimen in early August and since, and the soaks that followed, made at the bench and held. */
export async function writeRegimens(world: World, pots: readonly LivePot[], weeks: number): Promise<void> {
  // A source of its own: what else the demo holds stays as it was.
  const random = seededRandom(2207);
  const uuid = () => uuidFrom(random);
  const play: Play = { world, pots, random, uuid };
  for (const spec of LATER_REGIMENS) await changeRegimen(play, spec, Math.min(spec.daysAgo, weeks * DAYS_PER_WEEK - 1));
  for (const spec of SOAK_DAYS) if (spec.daysAgo < weeks * DAYS_PER_WEEK) await soakPots(play, spec);
  await rememberAll(world.manager);
}

type Play = { world: World; pots: readonly LivePot[]; random: ReturnType<typeof seededRandom>; uuid: () => string };

const on = ({ today }: World, daysAgo: number, time: string) => ({
  at: new Date(`${plusDays(today, -daysAgo)}T${time}:00Z`),
  localDate: plusDays(today, -daysAgo),
});
const brim = (pot: LivePot) => Math.round((pot.spec.reservoirMl * 2.6) / 10) * 10;

/** Some pots on another regimen from a day on. */
async function changeRegimen(
  { world, pots, uuid }: Play,
  spec: (typeof LATER_REGIMENS)[number],
  daysAgo: number,
): Promise<void> {
  const { manager } = world;
  const regimen = regimenOf(spec.school, spec.soaks);
  const id = uuid();
  const day = on(world, daysAgo, '18:20');
  const changes: RecordChange[] = [
    {
      table: 'regimen',
      id,
      after: { name: spec.name, kind: regimen.school, params: writeParams(regimen), retiredOn: null },
    },
  ];
  await changeRecords(manager, {
    eventId: uuid(),
    when: day,
    group: 'Pots',
    words: `Added the regimen ${spec.name}`,
    changes,
  });
  const chosen = pots.filter((pot) => (spec.pots as readonly string[]).includes(pot.spec.code));
  await changeRecords(manager, {
    eventId: uuid(),
    when: { ...day, at: new Date(day.at.getTime() + 60_000) },
    group: 'Pots',
    words: `${spec.pots.join(', ')} on ${spec.name}: ${spec.reason}`,
    changes: pots
      .filter((pot) => chosen.some((c) => c.spec === pot.spec))
      .map((pot) => ({
        table: 'pot_regimen',
        id: uuid(),
        after: { potId: pot.id, regimenId: id, fromDate: day.localDate, reason: spec.reason },
      })),
  });
}

/** One soak made at the bench, for the pots that are due it; baskets have it sprayed on their leaves. */
async function soakPots(
  { world, pots, uuid, random }: Play,
  { daysAgo, pots: codes, what }: (typeof SOAK_DAYS)[number],
): Promise<void> {
  // Of copies for benchmarks only the first of each is soaked.
  const group = codes.flatMap((code) => pots.find((pot) => pot.spec.code === code) ?? []);
  const soaked = group.filter((pot) => pot.spec.form !== 'basket');
  const sprayed = group.filter((pot) => pot.spec.form === 'basket');
  const soaks = what === 'both' ? [MAGNESIUM_SOAK, SILICATE_SOAK] : [MAGNESIUM_SOAK];
  const soak = soakToMake(soaks.map((of) => ({ soak: of, first: false, dueFrom: world.today })))!;
  const values: Pick<RecipeValues, 'name' | 'use' | 'parts' | 'waterId' | 'phLow' | 'phHigh' | 'holdMinutes'> = {
    name: upperFirst(SOAKS[what].name),
    use: 'soak',
    parts: await partsOf(world, soaks),
    waterId: world.ids.water['rain']!,
    phLow: 6.5,
    phHigh: 7,
    holdMinutes: 30,
  };
  const volumeL =
    Math.ceil((soaked.reduce((sum, pot) => sum + brim(pot), 0) + sprayed.length * SPRAY_ML) / 100 + 1) / 10;
  const batchId = await playBatch(world, { uuid, random, day: -daysAgo, time: '06:10' }, values, {
    volumeL,
    mixKey: soakKey(soak, 'soak'),
  });
  if (batchId === undefined) return;

  const start = on(world, daysAgo, '07:20');
  for (const [i, pot] of [...soaked, ...sprayed].entries())
    await holdSoak({ world, uuid }, pot, batchId, what, (minutes) => ({
      ...start,
      at: new Date(start.at.getTime() + (4 * i + minutes) * 60_000),
    }));
}

/** A pot filled to the brim and drained half an hour later, or its leaves sprayed. */
async function holdSoak(
  { world: { manager }, uuid }: Pick<Play, 'world' | 'uuid'>,
  pot: LivePot,
  batchId: string,
  what: (typeof SOAK_DAYS)[number]['what'],
  at: (minutes: number) => { at: Date; localDate: LocalDate },
): Promise<void> {
  const way = pot.spec.form === 'basket' ? 'spray' : 'soak';
  const pouredMl = way === 'spray' ? SPRAY_ML : brim(pot);
  const dueOn = at(0).localDate;
  const id = uuid();
  await appendCareEvent(manager, {
    id,
    kind: 'supplementStarted',
    ...at(0),
    potId: pot.id,
    batchId,
    dueKey: `${pot.id}:${dueOn}:${way}`,
    payload: {
      dueOn,
      what,
      way,
      pouredMl,
      holdMinutes: 30,
      words:
        way === 'spray'
          ? `Leaves sprayed with the ${SOAKS[what].name}`
          : `Filled to the brim for a ${SOAKS[what].name}`,
      changes: [],
    },
  });
  if (way === 'soak')
    await appendCareEvent(manager, {
      id: uuid(),
      kind: 'supplementEnded',
      ...at(31),
      potId: pot.id,
      payload: { supplementId: id, words: 'Drained after 31 min', changes: [] },
    });
}

function regimenOf(school: Regimen['school'], soaks: readonly string[]): Regimen {
  const base = constantDilute(90 / PEN_SCALE, 7, { school });
  if (school === 'plain')
    return {
      ...base,
      feeds: [{ ...base.feeds[0]!, what: 'plain', netEcUsCm: 0, pourPhHigh: 7.5 }],
      latestDays: 30,
      flush: { ...base.flush, with: 'still' },
      fillWith: 'still',
    };
  return { ...base, soaks: [MAGNESIUM_SOAK, SILICATE_SOAK].filter((soak) => soaks.includes(soak.what)) };
}

async function partsOf({ manager }: World, soaks: readonly Soak[]): Promise<RecipeValues['parts']> {
  const product = async (kind: string) =>
    (
      await manager.query<{ id: string }[]>('SELECT id FROM product WHERE kind = ? ORDER BY position LIMIT 1', [kind])
    )[0]!.id;
  const parts: RecipeValues['parts'] = [];
  for (const soak of soaks)
    parts.push(
      !SOAKS[soak.what].byPen
        ? {
            productId: await product('silicate'),
            aim: { kind: 'element', element: 'SiO2', mgL: soak.sio2MgL! },
            solid: 'stock',
          }
        : {
            productId: await product('magnesium'),
            aim: { kind: 'net', ppm: soak.netEcUsCm! * PEN_SCALE },
            solid: 'stock',
          },
    );
  return parts;
}

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
  const { manager, today } = world;
  // A source of its own: what else the demo holds stays as it was.
  const random = seededRandom(2207);
  const uuid = () => uuidFrom(random);
  const when = (daysAgo: number, time: string) => ({
    at: new Date(`${plusDays(today, -daysAgo)}T${time}:00Z`),
    localDate: plusDays(today, -daysAgo),
  });
  const lastOf = (spec: { daysAgo: number }) => Math.min(spec.daysAgo, weeks * DAYS_PER_WEEK - 1);
  for (const spec of LATER_REGIMENS) {
    const regimen = regimenOf(spec.school, spec.soaks);
    const id = uuid();
    const day = when(lastOf(spec), '18:20');
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
  for (const { daysAgo, pots: codes, what } of SOAK_DAYS) {
    if (daysAgo >= weeks * DAYS_PER_WEEK) continue;
    // Of copies for benchmarks only the first of each is soaked.
    const group = codes.flatMap((code) => pots.find((pot) => pot.spec.code === code) ?? []);
    const soaked = group.filter((pot) => pot.spec.form !== 'basket');
    const sprayed = group.filter((pot) => pot.spec.form === 'basket');
    const brim = (pot: LivePot) => Math.round((pot.spec.reservoirMl * 2.6) / 10) * 10;
    const soaks = what === 'both' ? [MAGNESIUM_SOAK, SILICATE_SOAK] : [MAGNESIUM_SOAK];
    const soak = soakToMake(soaks.map((of) => ({ soak: of, first: false, dueFrom: today })))!;
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
    if (batchId === undefined) continue;
    for (const [i, pot] of [...soaked, ...sprayed].entries()) {
      const way = sprayed.includes(pot) ? 'spray' : 'soak';
      const start = when(daysAgo, '07:20');
      const at = (minutes: number) => ({ ...start, at: new Date(start.at.getTime() + minutes * 60_000) });
      const pouredMl = way === 'spray' ? SPRAY_ML : brim(pot);
      const dueOn = start.localDate;
      const id = uuid();
      await appendCareEvent(manager, {
        id,
        kind: 'supplementStarted',
        ...at(4 * i),
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
          ...at(4 * i + 31),
          potId: pot.id,
          payload: { supplementId: id, words: 'Drained after 31 min', changes: [] },
        });
    }
  }
  await rememberAll(manager);
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
      soak.what === 'silicate'
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

import type { StartBatch } from '../contract/bench.ts';
import type { RecipeValues } from '../contract/recipes.ts';
import { plusDays } from '../core/regimen/index.ts';
import { seededRandom } from '../core/simulation/index.ts';
import { actOnRecipes } from '../server/bench/recipes.ts';
import { playBatch } from './play-bench.ts';
import { uuidFrom, type World } from './world.ts';
import { rememberAll } from '../server/collection/index.ts';

const DAYS_PER_WEEK = 7;
/** The recipes stand since so many days. */
const WRITTEN_DOWN = -68;
const net = (ppm: number) => ({ kind: 'net', ppm }) as const;

/**
 * The library's recipes, and what was made by them beside the rounds: cans of calcium–magnesium and feed, an Epsom soak, a silicate soak, an
 * overshoot thinned out and a spoilt bucket. Played at the bench by its own services, read by the simulated pens.
 */
export async function writeBench(world: World, weeks: number): Promise<void> {
  const { manager, today, ids } = world;
  // A source of its own: what else the demo holds stays as it was.
  const random = seededRandom(6173);
  const uuid = () => uuidFrom(random);
  const product = async (kind: string) =>
    (
      await manager.query<{ id: string }[]>('SELECT id FROM product WHERE kind = ? ORDER BY position LIMIT 1', [kind])
    )[0]!.id;
  const [feed, calmag, epsom, silicate] = [
    await product('feed'),
    await product('calmag'),
    await product('magnesium'),
    await product('silicate'),
  ];
  const first = Math.max(WRITTEN_DOWN, -weeks * DAYS_PER_WEEK);
  const when = (day: number, minutes: number) => ({
    at: new Date(Date.parse(`${plusDays(today, day)}T11:00:00Z`) + minutes * 60_000),
    localDate: plusDays(today, day),
  });
  const still = ids.water['still']!;
  const rain = ids.water['rain']!;
  const recipe = async (values: Written): Promise<[string, RecipeValues]> => {
    const id = uuid();
    const all: RecipeValues = { note: '', holdMinutes: null, ...values };
    await actOnRecipes(manager, uuid(), { kind: 'put', id, values: all }, when(first, 0));
    return [id, all];
  };
  const { can, soak, glass } = await writeRecipes(recipe, { feed, calmag, epsom, silicate }, { still, rain });

  const make = async (
    day: number,
    [recipeId, values]: [string, RecipeValues],
    volumeL: number,
    more: Partial<StartBatch> = {},
    spoil?: 'overshoot' | 'ph',
  ): Promise<void> => {
    if (day >= first)
      await playBatch(world, { uuid, random, day, time: '11:00' }, values, { recipeId, volumeL, ...more }, spoil);
  };
  await make(-66, glass, 6);
  await make(-52, soak, 7);
  await make(-45, can, 3);
  await make(-31, can, 3, {}, 'overshoot');
  await make(-24, soak, 7);
  await make(-18, can, 4, { waterId: ids.water['tap']!, name: 'Feed in tap water', recipeId: null, phHigh: 6 }, 'ph');
  await make(-16, can, 3);
  await make(-9, can, 3);
  await make(-2, can, 3);
  await rememberAll(manager);
}

type Written = Omit<RecipeValues, 'note' | 'holdMinutes'> & Partial<RecipeValues>;
const part = (productId: string, aim: RecipeValues['parts'][number]['aim']) => ({
  productId,
  aim,
  solid: 'stock' as const,
});

/** The recipes, in the order in which they were written down. */
async function writeRecipes(
  recipe: (values: Written) => Promise<[string, RecipeValues]>,
  { feed, calmag, epsom, silicate }: Record<'feed' | 'calmag' | 'epsom' | 'silicate', string>,
  { still, rain }: { still: string; rain: string },
) {
  const can = await recipe({
    name: 'Calcium–magnesium, then feed',
    use: 'feed',
    parts: [part(calmag, net(50)), part(feed, net(90))],
    waterId: still,
    phLow: 5.5,
    phHigh: 6.5,
  });
  const soak = await recipe({
    name: 'Epsom soak',
    use: 'soak',
    parts: [part(epsom, net(80))],
    waterId: rain,
    phLow: 6.5,
    phHigh: 7,
    holdMinutes: 30,
    note: 'April to October; on the Long shelf all year',
  });
  const glass = await recipe({
    name: 'Silicate soak',
    use: 'soak',
    parts: [part(silicate, { kind: 'element', element: 'SiO2', mgL: 48 })],
    waterId: rain,
    phLow: 6.5,
    phHigh: 7,
    holdMinutes: 30,
    note: 'May to September, in active growth',
  });
  await recipe({
    name: 'Silicate in the feed',
    use: 'feed',
    parts: [part(silicate, { kind: 'perL', units: 0.15 }), part(feed, net(90))],
    waterId: still,
    phLow: 5.5,
    phHigh: 6.5,
  });
  return { can, soak, glass };
}

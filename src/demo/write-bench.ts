import { startBatch, type BatchView, type BenchStep, type StartBatch } from '../contract/bench.ts';
import { benchStep } from '../contract/bench.ts';
import type { RecipeValues } from '../contract/recipes.ts';
import type { Reading } from '../core/quantity/index.ts';
import { plusDays } from '../core/regimen/index.ts';
import { seededRandom, simEc, simPh } from '../core/simulation/index.ts';
import { rememberAll } from '../server/bench/batch-reader.ts';
import { actAtBench } from '../server/bench/bench-service.ts';
import { readBatchView } from '../server/bench/bench-view.ts';
import { actOnRecipes } from '../server/bench/recipes.ts';
import { startBatchOf } from '../server/bench/start-batch.ts';
import { trueBatch } from '../server/devices/simulated-truth.ts';
import { penReading } from './pen-reading.ts';
import { DEMO_ZONE } from './scenario.ts';
import { PEN_SCALE, PENS, phPen } from './truth.ts';
import { uuidFrom, type World } from './world.ts';

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
    (await manager.query<{ id: string }[]>('SELECT id FROM product WHERE kind = ? ORDER BY position LIMIT 1', [kind]))[0]!.id;
  const bottle = async (productId: string) =>
    (await manager.query<{ id: string }[]>('SELECT id FROM bottle WHERE productId = ? AND finishedOn IS NULL', [productId]))[0]!.id;
  const [feed, calmag, epsom, silicate] = [await product('feed'), await product('calmag'), await product('magnesium'), await product('silicate')];
  const first = Math.max(WRITTEN_DOWN, -weeks * DAYS_PER_WEEK);
  const when = (day: number, minutes: number) => ({
    at: new Date(Date.parse(`${plusDays(today, day)}T11:00:00Z`) + minutes * 60_000),
    localDate: plusDays(today, day),
  });
  const still = ids.water['still']!;
  const rain = ids.water['rain']!;
  const recipe = async (values: Omit<RecipeValues, 'note' | 'holdMinutes'> & Partial<RecipeValues>): Promise<[string, RecipeValues]> => {
    const id = uuid();
    const all: RecipeValues = { note: '', holdMinutes: null, ...values };
    await actOnRecipes(manager, uuid(), { kind: 'put', id, values: all }, when(first, 0));
    return [id, all];
  };
  const part = (productId: string, aim: RecipeValues['parts'][number]['aim']) => ({ productId, aim, solid: 'stock' as const });
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

  /** A batch made by the coach's advice, portion by portion; `spoil` lets a hand slip. */
  const make = async (day: number, [recipeId, values]: [string, RecipeValues], volumeL: number, more: Partial<StartBatch> = {}, spoil?: 'overshoot' | 'ph') => {
    if (day < first) return;
    const batchId = uuid();
    let minutes = 0;
    const tick = () => when(day, (minutes += 3));
    const parts = [];
    for (const p of values.parts) parts.push({ bottleId: await bottle(p.productId), aim: p.aim, solid: p.solid });
    const request: StartBatch = {
      mixKey: null,
      recipeId,
      use: values.use,
      name: values.name,
      waterId: values.waterId!,
      vesselId: ids.vessel['bucket']!,
      parts,
      ppmMeterId: ids.ppm,
      phMeterId: ids.ph,
      toolIds: ids.tools.slice(0, 4),
      volumeL,
      phLow: values.phLow,
      phHigh: values.phHigh,
      holdMinutes: values.holdMinutes,
      ...more,
    };
    let now = tick();
    await startBatchOf(manager, batchId, startBatch.parse(request), now);
    const look = async () => (await readBatchView(manager, batchId, DEMO_ZONE, now))!;
    const act = async (step: BenchStep): Promise<BatchView> => {
      now = tick();
      await actAtBench(manager, batchId, uuid(), benchStep.parse(step), now);
      return look();
    };
    const reads = async (quantity: 'ppm' | 'pH'): Promise<Reading> => {
      const truth = (await trueBatch(manager, batchId))!.solution;
      const shown = quantity === 'ppm' ? penReading(simEc(truth) * PEN_SCALE, PENS.ppm, random) : penReading(simPh(truth), phPen(-day), random);
      return { kind: 'value', value: shown };
    };
    let view = await act({ kind: 'base', reading: await reads('ppm'), confirmedOdd: true });
    for (let n = 0; n < 12; n++) {
      const { advice } = view;
      if (advice.kind === 'add') {
        const { toolId, relativeSd } = advice;
        const times = spoil === 'overshoot' && advice.portion === 1 ? 3 : 1;
        const dose = { toolId, relativeSd, steps: advice.steps * times, doseMl: advice.doseMl * times };
        await act({ kind: 'portion', part: advice.part, dose, reading: null, confirmedOdd: true });
        view = await act({ kind: 'reading', reading: await reads('ppm'), confirmedOdd: true });
      } else if (advice.kind === 'thin') {
        await act({
          kind: 'thin',
          pourOffL: advice.pourOffL,
          addL: Math.max(0.01, advice.addL),
          reading: null,
          to: advice.pourOffL > 0 ? 'soil plants, thinned' : '',
        });
        view = await act({ kind: 'reading', reading: await reads('ppm'), confirmedOdd: true });
      } else if (advice.kind === 'tooCoarse') view = await act({ kind: 'leave', part: advice.part, why: 'coarse' });
      else break;
    }
    view = await act({ kind: 'ph', reading: await reads('pH') });
    while (!view.ph.inside && view.ph.choices[0]?.dose && view.ph.corrections < 3) {
      const { productId, dose: advised } = view.ph.choices[0];
      const slip = spoil === 'ph' ? 0.25 : 1;
      const dose = {
        toolId: advised.toolId,
        relativeSd: advised.relativeSd,
        steps: Math.max(1, Math.round(advised.steps * slip)),
        doseMl: Math.max(advised.doseMl / advised.steps, advised.doseMl * slip),
      };
      await act({ kind: 'correction', productId, dose, ratio: advised.ratio, reading: null });
      view = await act({ kind: 'ph', reading: await reads('pH') });
    }
    if (spoil === 'ph' && !view.ph.inside) return void (await act({ kind: 'abandon', reason: 'three corrections and still outside' }));
    await act({ kind: 'pour' });
    await act({ kind: 'empty', to: values.use === 'soak' ? 'poured off after the soak, thinned for the yard' : 'soil plants' });
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

import { benchStep, startBatch, type BatchView, type BenchStep, type StartBatch } from '../contract/bench.ts';
import type { RecipeValues } from '../contract/recipes.ts';
import type { Reading } from '../core/quantity/index.ts';
import { plusDays } from '../core/regimen/index.ts';
import { simEc, simPh, type Random } from '../core/simulation/index.ts';
import { actAtBench } from '../server/bench/bench-service.ts';
import { readBatchView } from '../server/bench/bench-view.ts';
import { startBatchOf } from '../server/bench/start-batch.ts';
import { trueBatch } from '../server/devices/simulated-truth.ts';
import { penReading } from './pen-reading.ts';
import { DEMO_ZONE } from './scenario.ts';
import { PEN_SCALE, PENS, phPen } from './truth.ts';
import type { World } from './world.ts';

type Play = {
  readonly uuid: () => string;
  readonly random: Random;
  readonly day: number;
  /** Of that day, UTC. */ readonly time: string;
};
type Made = Pick<RecipeValues, 'name' | 'use' | 'parts' | 'waterId' | 'phLow' | 'phHigh' | 'holdMinutes'>;

/** The bench of one batch: an act, and what the simulated pens read of it. */
type Bench = {
  act: (step: BenchStep) => Promise<BatchView>;
  reads: (quantity: 'ppm' | 'pH') => Promise<Reading>;
};

/** Starts the batch; its acts come three minutes after one another. */
async function benchOf(
  { manager, today, ids }: World,
  { uuid, random, day, time }: Play,
  batchId: string,
  values: Made,
  more: Partial<StartBatch> & { volumeL: number },
): Promise<Bench> {
  const bottle = async (productId: string) =>
    (
      await manager.query<{ id: string }[]>('SELECT id FROM bottle WHERE productId = ? AND finishedOn IS NULL', [
        productId,
      ])
    )[0]!.id;
  const when = (minutes: number) => ({
    at: new Date(Date.parse(`${plusDays(today, day)}T${time}:00Z`) + minutes * 60_000),
    localDate: plusDays(today, day),
  });
  let minutes = 0;
  const tick = () => when((minutes += 3));
  const parts = [];
  for (const p of values.parts) parts.push({ bottleId: await bottle(p.productId), aim: p.aim, solid: p.solid });
  const request: StartBatch = {
    mixKey: null,
    use: values.use,
    name: values.name,
    waterId: values.waterId!,
    vesselId: ids.vessel['bucket']!,
    parts,
    ppmMeterId: ids.ppm,
    phMeterId: ids.ph,
    toolIds: ids.tools.slice(0, 4),
    phLow: values.phLow,
    phHigh: values.phHigh,
    holdMinutes: values.holdMinutes,
    ...more,
  };
  let now = tick();
  await startBatchOf(manager, batchId, startBatch.parse(request), now);
  const look = async () => readBatchView(manager, batchId, DEMO_ZONE, now)!;
  const act = async (step: BenchStep): Promise<BatchView> => {
    now = tick();
    await actAtBench(manager, batchId, uuid(), benchStep.parse(step), now);
    return look();
  };
  const reads = async (quantity: 'ppm' | 'pH'): Promise<Reading> => {
    const truth = (await trueBatch(manager, batchId))!.solution;
    const shown =
      quantity === 'ppm'
        ? penReading(simEc(truth) * PEN_SCALE, PENS.ppm, random)
        : penReading(simPh(truth), phPen(-day), random);
    return { kind: 'value', value: shown };
  };
  return { act, reads };
}

/** Portion by portion, and thinned where it went past. */
async function toStrength(
  { act, reads }: Bench,
  first: BatchView,
  spoil: 'overshoot' | 'ph' | undefined,
): Promise<void> {
  let view = first;
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
        pourOffL: advice.aim.pourOffL,
        addL: Math.max(0.01, advice.aim.addL),
        reading: null,
        to: advice.aim.pourOffL > 0 ? 'soil plants, thinned' : '',
      });
      view = await act({ kind: 'reading', reading: await reads('ppm'), confirmedOdd: true });
    } else if (advice.kind === 'tooCoarse') view = await act({ kind: 'leave', part: advice.part, why: 'coarse' });
    else break;
  }
}

/** Correction by correction, three at most. */
async function toPh({ act, reads }: Bench, spoil: 'overshoot' | 'ph' | undefined): Promise<BatchView> {
  let view = await act({ kind: 'ph', reading: await reads('pH') });
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
  return view;
}

/**
 * A batch made by the coach's advice, portion by portion, read by the simulated pens; `spoil` lets a hand slip.
 * @returns the batch and what it reads; undefined where it was thrown out
 */
export async function playBatch(
  world: World,
  { uuid, random, day, time }: Play,
  values: Made,
  more: Partial<StartBatch> & { volumeL: number },
  spoil?: 'overshoot' | 'ph',
): Promise<string | undefined> {
  const batchId = uuid();
  const bench = await benchOf(world, { uuid, random, day, time }, batchId, values, more);
  const { act, reads } = bench;
  let view = await act({ kind: 'base', reading: await reads('ppm'), confirmedOdd: true });
  await toStrength(bench, view, spoil);
  view = await toPh(bench, spoil);
  if (spoil === 'ph' && !view.ph.inside) {
    await act({ kind: 'abandon', reason: 'three corrections and still outside' });
    return undefined;
  }
  await act({ kind: 'pour' });
  await act({
    kind: 'empty',
    to: values.use === 'soak' ? 'poured off after the soak, thinned for the yard' : 'soil plants',
  });
  return batchId;
}

import { normal, seededRandom, seedOf } from '../statistics/index.ts';
import { replaySimBatch, type SimBatchAct } from './replay-batch.ts';
import type { SimBatch, SimProduct } from './sim-batch.ts';
import type { SimPen } from './sim-pen.ts';
import { dipPen } from './sim-pen.ts';
import { simEc, simPh, type SimSolution } from './sim-solution.ts';

/** The practice bucket's three exercises: reach +100, rescue an overshoot, bring the pH down in soft water. */
export const EXERCISES = ['reach', 'rescue', 'ph'] as const;
export type Exercise = (typeof EXERCISES)[number];

/** A bucket nobody knows: the stock is a third stronger or weaker than its label, as fresh stocks are. */
export type PracticeBucket = {
  readonly exercise: Exercise;
  readonly seed: number;
  readonly water: SimSolution;
  readonly volumeL: number;
  readonly capacityL: number;
  readonly product: SimProduct;
  readonly acid: SimProduct;
  /** What somebody poured in before, mL of the product: far too much, where it is to be rescued; about right, where only the pH is left. */
  readonly alreadyMl: number;
};

/** µS/cm that the label of the practice stock promises for 1 mL in 1 L, and net µS/cm (+100 ppm, ½ scale) that every exercise aims at. */
export const PRACTICE_LABEL_EC = 300;
export const PRACTICE_NET_EC = 200;
const STOCK_SD = 0.25;
/** The overshoot to be rescued, times the aim. */
const OVERSHOOT = 2.4;
const PPM_PEN: SimPen = {
  quantity: 'ppm',
  resolution: 1,
  offset: 0,
  gain: 1,
  noise: 0.5,
  settleSeconds: 1,
  most: 9990,
};
const PH_PEN: SimPen = { quantity: 'pH', resolution: 0.1, offset: 0, gain: 1, noise: 0.04, settleSeconds: 1, most: 14 };

/** The hidden bucket of an exercise. The same seed is the same bucket. */
export function drawPractice(exercise: Exercise, seed: number): PracticeBucket {
  const random = seededRandom(seedOf(`${exercise}:${seed}`));
  const strength = PRACTICE_LABEL_EC * Math.max(0.5, 1 + STOCK_SD * normal(random));
  const volumeL = exercise === 'rescue' ? 3 : exercise === 'reach' ? 2.5 : 4;
  const alkalinity = exercise === 'ph' ? 0.15 + 0.2 * random() : 0.1;
  const times = exercise === 'reach' ? 0 : exercise === 'rescue' ? OVERSHOOT : 1.03;
  return {
    exercise,
    seed,
    water: {
      idealEcUsCm: 18 + 12 * random(),
      alkalinityMeqL: alkalinity,
      carbonMmolL: alkalinity * 1.15,
      phosphateMmolL: 0,
    },
    volumeL,
    capacityL: exercise === 'rescue' ? 4 : 5,
    product: { idealEcPerMlL: strength, alkalinityMeqPerMl: 0.1, phosphateMmolPerMl: 0.4 },
    acid: { idealEcPerMlL: 60, alkalinityMeqPerMl: -1.67 * (1 + 0.05 * normal(random)), phosphateMmolPerMl: 0 },
    alreadyMl: (times * PRACTICE_NET_EC * volumeL) / strength,
  };
}

/** What was truly done to the practice bucket: mL of the stock or of the acid as bought, or water. */
export type PracticeDeed =
  | { readonly id: string; readonly kind: 'stock' | 'acid'; readonly ml: number }
  | { readonly id: string; readonly kind: 'thin'; readonly pourOffL: number; readonly addL: number };

/** The bucket as it truly stands after what was done. */
export function practiceTruth(bucket: PracticeBucket, deeds: readonly PracticeDeed[]): SimBatch {
  const acts: SimBatchAct[] = deeds.map((deed) =>
    deed.kind === 'thin'
      ? deed
      : { id: deed.id, kind: 'dose', product: deed.kind === 'acid' ? bucket.acid : bucket.product, doseMl: deed.ml },
  );
  const before: SimBatchAct[] =
    bucket.alreadyMl > 0 ? [{ id: 'already', kind: 'dose', product: bucket.product, doseMl: bucket.alreadyMl }] : [];
  return replaySimBatch(`practice:${bucket.exercise}:${bucket.seed}`, bucket.water, bucket.volumeL, [
    ...before,
    ...acts,
  ]);
}

/** What a settled practice pen shows: ppm on the ½ scale, or pH. @param dip counts dips: each has its own noise */
export function practiceReading(
  bucket: PracticeBucket,
  deeds: readonly PracticeDeed[],
  quantity: 'ppm' | 'pH',
  dip: number,
): number | 'over' {
  const truth = practiceTruth(bucket, deeds).solution;
  const pen = quantity === 'ppm' ? PPM_PEN : PH_PEN;
  const value = quantity === 'ppm' ? simEc(truth) / 2 : simPh(truth);
  return dipPen(pen, value, value, seededRandom(seedOf(`${bucket.seed}:${quantity}:${dip}`)))(pen.settleSeconds).shown;
}

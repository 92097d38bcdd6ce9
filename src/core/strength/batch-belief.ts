import { requireNotNegative, requirePositive } from '../quantity/index.ts';
import { identity, observe, propagate, type Gaussian } from '../statistics/index.ts';
import { WITHIN_BOTTLE_SD, type StrengthBelief } from './belief.ts';

/** A pen as the estimator sees it: 1 SD of a reading is the larger of its digit (uniform) and a share of the reading. */
export type PenNoise = { readonly resolutionEcUsCm: number; readonly relativeSd: number };
/** A fair TDS pen: 1 ppm on the ½ scale, 2 % of the reading. */
export const USUAL_PEN: PenNoise = Object.freeze({ resolutionEcUsCm: 2, relativeSd: 0.02 });

/**
 * What is believed of a batch in the vessel. State: [product mean, bottle, strength in this batch, the water's own EC, net EC added];
 * strengths in µS/cm per mL/L, the rest µS/cm. All steps are linear and Gaussian, so the filter is exact up to the noise model.
 */
export type BatchBelief = { readonly volumeL: number; readonly baseReadingEcUsCm: number; readonly state: Gaussian };

const MEAN = 0;
const BOTTLE = 1;
const BATCH = 2;
const BASE = 3;
const NET = 4;
const READING = [0, 0, 0, 1, 1] as const;

/** Variance of one pen reading, (µS/cm)². */
export function readingVariance(readingEcUsCm: number, pen: PenNoise): number {
  return pen.resolutionEcUsCm ** 2 / 12 + (pen.relativeSd * readingEcUsCm) ** 2;
}

/**
 * A fresh batch of plain water whose own reading was taken.
 * @param volumeL of water, L, > 0
 * @param baseReadingEcUsCm the water's own reading, µS/cm, ≥ 0
 */
export function startBatch(belief: StrengthBelief, volumeL: number, baseReadingEcUsCm: number, pen: PenNoise): BatchBelief {
  requirePositive(volumeL, 'the batch');
  requireNotNegative(baseReadingEcUsCm, "the water's own reading");
  const [mean = 0, bottle = 0] = belief.mean;
  const p = (i: number, j: number) => belief.covariance[i]?.[j] ?? 0;
  const within = (WITHIN_BOTTLE_SD * bottle) ** 2;
  const covariance = [
    [p(0, 0), p(0, 1), p(0, 1), 0, 0],
    [p(1, 0), p(1, 1), p(1, 1), 0, 0],
    [p(1, 0), p(1, 1), p(1, 1) + within, 0, 0],
    [0, 0, 0, readingVariance(baseReadingEcUsCm, pen), 0],
    [0, 0, 0, 0, 0],
  ];
  return { volumeL, baseReadingEcUsCm, state: { mean: [mean, bottle, bottle, baseReadingEcUsCm, 0], covariance } };
}

/** Net EC and its variance if `doseMl` more were stirred in, with a pipetting error of `relativeSd` (1 SD). */
export function predictNet(
  batch: BatchBelief,
  doseMl: number,
  relativeSd: number,
): { mean: number; variance: number; readingMean: number; readingVariance: number } {
  const k = doseMl / batch.volumeL;
  const s = batch.state.mean[BATCH] ?? 0;
  const c = (i: number, j: number) => batch.state.covariance[i]?.[j] ?? 0;
  const pipetting = (relativeSd * k) ** 2 * (s * s + c(BATCH, BATCH));
  const net = (batch.state.mean[NET] ?? 0) + k * s;
  const variance = c(NET, NET) + 2 * k * c(NET, BATCH) + k * k * c(BATCH, BATCH) + pipetting;
  const readingVar = variance + c(BASE, BASE) + 2 * c(BASE, NET) + 2 * k * c(BASE, BATCH);
  return { mean: net, variance, readingMean: net + (batch.state.mean[BASE] ?? 0), readingVariance: readingVar };
}

/** The batch after a portion was stirred in, before it is read. */
export function addPortion(batch: BatchBelief, doseMl: number, relativeSd: number): BatchBelief {
  requirePositive(doseMl, 'the portion');
  const k = doseMl / batch.volumeL;
  const s = batch.state.mean[BATCH] ?? 0;
  const sVar = batch.state.covariance[BATCH]?.[BATCH] ?? 0;
  const f = identity(5);
  f[NET]![BATCH] = k;
  return { ...batch, state: propagate(batch.state, f, [0, 0, 0, 0, (relativeSd * k) ** 2 * (s * s + sVar)]) };
}

/** 1 SD of a volume poured from a jug, as a share of it. */
const POURED_VOLUME_SD = 0.03;

/**
 * The batch after so much was poured off and then so much of the same water was added.
 * @param pourOffL poured off first, L, ≥ 0, less than the batch
 * @param addL of the same water, L, ≥ 0
 */
export function thinBatch(batch: BatchBelief, addL: number, pourOffL = 0): BatchBelief {
  requireNotNegative(addL, 'the water added');
  requireNotNegative(pourOffL, 'what is poured off');
  const keptL = batch.volumeL - pourOffL;
  requirePositive(keptL, 'what stays in the vessel');
  const volumeL = keptL + addL;
  const factor = keptL / volumeL;
  const net = (batch.state.mean[NET] ?? 0) * factor;
  const f = identity(5);
  f[NET]![NET] = factor;
  return { ...batch, volumeL, state: propagate(batch.state, f, [0, 0, 0, 0, (net * (1 - factor) * POURED_VOLUME_SD) ** 2]) };
}

/** How many standard deviations off a reading may be before it is questioned. */
export const ODD_READING_Z = 3;

/**
 * Takes a reading in. A reading more than three standard deviations off is `odd`: the caller asks once. When the grower stands by it
 * (`confirmedOdd`), something unmodelled happened to this batch, so the batch moves to the reading and the bottle's strength does not.
 * @param readingEcUsCm gross, µS/cm, ≥ 0
 * @returns the batch after it, and how odd the reading was before
 */
export function takeReading(batch: BatchBelief, readingEcUsCm: number, pen: PenNoise, confirmedOdd = false): { batch: BatchBelief; z: number; odd: boolean } {
  requireNotNegative(readingEcUsCm, 'the reading');
  const variance = readingVariance(readingEcUsCm, pen);
  const first = observe(batch.state, READING, readingEcUsCm, variance);
  const z = first.innovation / first.innovationSd;
  const odd = Math.abs(z) > ODD_READING_Z;
  if (!(odd && confirmedOdd)) return { batch: { ...batch, state: first.state }, z, odd };
  const loosened = propagate(batch.state, identity(5), [0, 0, 0, 0, 100 * first.innovation ** 2]);
  return { batch: { ...batch, state: observe(loosened, READING, readingEcUsCm, variance).state }, z, odd };
}

/** What the batch taught of the product and its bottle: the belief to start the next batch from. */
export function learnedBelief(batch: BatchBelief): StrengthBelief {
  const { mean, covariance } = batch.state;
  const c = (i: number, j: number) => covariance[i]?.[j] ?? 0;
  return {
    mean: [mean[MEAN] ?? 0, mean[BOTTLE] ?? 0],
    covariance: [
      [c(MEAN, MEAN), c(MEAN, BOTTLE)],
      [c(BOTTLE, MEAN), c(BOTTLE, BOTTLE)],
    ],
  };
}

/** Strength as it shows in this batch: µS/cm per mL/L with 1 SD. */
export function batchStrength(batch: BatchBelief): { ecPerMlL: number; sd: number } {
  return { ecPerMlL: batch.state.mean[BATCH] ?? 0, sd: Math.sqrt(Math.max(0, batch.state.covariance[BATCH]?.[BATCH] ?? 0)) };
}

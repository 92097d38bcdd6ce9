import { requireNotNegative, requirePositive } from '../quantity/index.ts';
import { identity, observe, propagate, type Gaussian } from '../statistics/index.ts';
import { BETWEEN_BOTTLES_SD, DRIFT_SD, WITHIN_BOTTLE_SD, type StrengthBelief } from './belief.ts';

/** A pen as the estimator sees it: the variance of a reading is its digit's (uniform) and a share of the reading, squared and added. */
export type PenNoise = { readonly resolutionEcUsCm: number; readonly relativeSd: number };
/** The pen when it was found off: its readings count, but as much less as it was off (1 SD, a share). */
export function taintedPen(pen: PenNoise, taintSd: number): PenNoise {
  return taintSd > 0 ? { ...pen, relativeSd: Math.hypot(pen.relativeSd, taintSd) } : pen;
}
/** A fair TDS pen: 1 ppm on the ½ scale, 2 % of the reading. */
export const USUAL_PEN: PenNoise = Object.freeze({ resolutionEcUsCm: 2, relativeSd: 0.02 });

/**
 * What is believed of a batch in the vessel. State: [product mean, bottle, strength in this batch] for each of its products in turn, then
 * the water's own EC, then the net EC that each product added; strengths in µS/cm per mL/L, the rest µS/cm. All steps are linear and
 * Gaussian, so the filter is exact up to the noise model; conductivities of the parts are taken to add.
 */
export type BatchBelief = {
  readonly volumeL: number;
  readonly baseReadingEcUsCm: number;
  readonly products: number;
  readonly state: Gaussian;
};

/** Places in the state: three of each product, then the water's and the net. */
const meanOf = (product: number) => 3 * product;
const bottleOf = (product: number) => 3 * product + 1;
const batchOf = (product: number) => 3 * product + 2;
const baseOf = (products: number) => 3 * products;
const netOf = (products: number, product: number) => 3 * products + 1 + product;

/** Variance of one pen reading, (µS/cm)². */
export function readingVariance(readingEcUsCm: number, pen: PenNoise): number {
  return pen.resolutionEcUsCm ** 2 / 12 + (pen.relativeSd * readingEcUsCm) ** 2;
}

/**
 * A fresh batch of plain water whose own reading was taken.
 * @param belief about the product that will go in, or one of each of several
 * @param volumeL of water, L, > 0
 * @param baseReadingEcUsCm the water's own reading, µS/cm, ≥ 0
 */
export function startBatch(
  belief: StrengthBelief | readonly StrengthBelief[],
  volumeL: number,
  baseReadingEcUsCm: number,
  pen: PenNoise,
): BatchBelief {
  requirePositive(volumeL, 'the batch');
  requireNotNegative(baseReadingEcUsCm, "the water's own reading");
  const beliefs: readonly StrengthBelief[] = 'mean' in belief ? [belief] : belief;
  const products = beliefs.length;
  requirePositive(products, 'the number of products');
  const size = 4 * products + 1;
  const mean = new Array<number>(size).fill(0);
  const covariance = Array.from({ length: size }, () => new Array<number>(size).fill(0));
  for (const [i, known] of beliefs.entries()) {
    const [productMean = 0, bottle = 0] = known.mean;
    const p = (row: number, column: number) => known.covariance[row]?.[column] ?? 0;
    mean[meanOf(i)] = productMean;
    mean[bottleOf(i)] = bottle;
    mean[batchOf(i)] = bottle;
    // The batch's strength is the bottle's and a little of its own.
    for (const [row, from] of [meanOf(i), bottleOf(i), batchOf(i)].entries()) {
      for (const [column, to] of [meanOf(i), bottleOf(i), batchOf(i)].entries())
        covariance[from]![to] = p(Math.min(row, 1), Math.min(column, 1));
    }
    loosenBottle(covariance, i, (DRIFT_SD * bottle) ** 2);
    covariance[batchOf(i)]![batchOf(i)]! += (WITHIN_BOTTLE_SD * bottle) ** 2;
  }
  mean[baseOf(products)] = baseReadingEcUsCm;
  covariance[baseOf(products)]![baseOf(products)] = readingVariance(baseReadingEcUsCm, pen);
  return { volumeL, baseReadingEcUsCm, products, state: { mean, covariance } };
}

/** What is in the bottle is less sure by so much, and with it what is in this batch: both move together. */
function loosenBottle(covariance: number[][], product: number, variance: number): void {
  for (const a of [bottleOf(product), batchOf(product)])
    for (const b of [bottleOf(product), batchOf(product)]) covariance[a]![b]! += variance;
}

/** What a product's own net EC and the pen's reading would be, with their variances. */
export type NetPrediction = {
  readonly mean: number;
  readonly variance: number;
  readonly readingMean: number;
  readonly readingVariance: number;
};

/**
 * Net EC of one product, and the gross reading, if `doseMl` more of it were stirred in with a pipetting error of `relativeSd` (1 SD).
 * @returns µS/cm and (µS/cm)²; the variance of the reading is the batch's own, without the pen's noise
 */
export function expectedNet(batch: BatchBelief, doseMl: number, relativeSd: number, product = 0): NetPrediction {
  const k = doseMl / batch.volumeL;
  const [BATCH, NET] = [batchOf(product), netOf(batch.products, product)];
  const { mean } = batch.state;
  const s = mean[BATCH] ?? 0;
  const c = (i: number, j: number) => batch.state.covariance[i]?.[j] ?? 0;
  const pipetting = (relativeSd * k) ** 2 * (s * s + c(BATCH, BATCH));
  const row = readingRow(batch);
  let readingMean = k * s;
  let readingVar = k * k * c(BATCH, BATCH) + pipetting;
  for (const [i, on] of row.entries()) {
    if (!on) continue;
    readingMean += mean[i] ?? 0;
    readingVar += 2 * k * c(i, BATCH);
    for (const [j, also] of row.entries()) if (also) readingVar += c(i, j);
  }
  return {
    mean: (mean[NET] ?? 0) + k * s,
    variance: c(NET, NET) + 2 * k * c(NET, BATCH) + k * k * c(BATCH, BATCH) + pipetting,
    readingMean,
    readingVariance: readingVar,
  };
}

/** The batch after a portion of a product was stirred in, before it is read. */
export function addPortion(batch: BatchBelief, doseMl: number, relativeSd: number, product = 0): BatchBelief {
  requirePositive(doseMl, 'the portion');
  const k = doseMl / batch.volumeL;
  const [BATCH, NET] = [batchOf(product), netOf(batch.products, product)];
  const s = batch.state.mean[BATCH] ?? 0;
  const sVar = batch.state.covariance[BATCH]?.[BATCH] ?? 0;
  const f = identity(batch.state.mean.length);
  f[NET]![BATCH] = k;
  const noise = noNoise(batch);
  noise[NET] = (relativeSd * k) ** 2 * (s * s + sVar);
  return { ...batch, state: propagate(batch.state, f, noise) };
}

function noNoise(batch: BatchBelief): number[] {
  return new Array<number>(batch.state.mean.length).fill(0);
}

/** What a pen reads of the state: the water and what was added. */
function readingRow(batch: BatchBelief): number[] {
  return batch.state.mean.map((_, i) => (i >= baseOf(batch.products) ? 1 : 0));
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
  const f = identity(batch.state.mean.length);
  const noise = noNoise(batch);
  for (let product = 0; product < batch.products; product++) {
    const NET = netOf(batch.products, product);
    f[NET]![NET] = factor;
    noise[NET] = ((batch.state.mean[NET] ?? 0) * factor * (1 - factor) * POURED_VOLUME_SD) ** 2;
  }
  return { ...batch, volumeL, state: propagate(batch.state, f, noise) };
}

/** How many standard deviations off a reading may be before it is questioned. */
export const ODD_READING_Z = 3;

/**
 * Takes a reading in. A reading more than three standard deviations off is `odd`: the caller asks once. When the grower stands by it
 * (`confirmedOdd`), something unmodelled happened: the batch moves to the reading and the bottle's strength does not, but it may be another bottle, so
 * its strength is as open as that of a new one. The next reading settles which it was.
 * @param readingEcUsCm gross, µS/cm, ≥ 0 @param product the last that went in: what is unmodelled is put down to it
 * @returns the batch after it, and how odd the reading was before
 */
export function takeReading(
  batch: BatchBelief,
  readingEcUsCm: number,
  pen: PenNoise,
  confirmedOdd = false,
  product = 0,
): { batch: BatchBelief; z: number; odd: boolean } {
  requireNotNegative(readingEcUsCm, 'the reading');
  const variance = readingVariance(readingEcUsCm, pen);
  const first = observe(batch.state, readingRow(batch), readingEcUsCm, variance);
  const z = first.innovation / first.innovationSd;
  const odd = Math.abs(z) > ODD_READING_Z;
  if (!(odd && confirmedOdd)) return { batch: { ...batch, state: first.state }, z, odd };
  const noise = noNoise(batch);
  noise[netOf(batch.products, product)] = 100 * first.innovation ** 2;
  const loosened = propagate(batch.state, identity(batch.state.mean.length), noise);
  const covariance = loosened.covariance.map((row) => [...row]);
  loosenBottle(covariance, product, (BETWEEN_BOTTLES_SD * (loosened.mean[bottleOf(product)] ?? 0)) ** 2);
  const open = { ...loosened, covariance };
  return { batch: { ...batch, state: observe(open, readingRow(batch), readingEcUsCm, variance).state }, z, odd };
}

/** What the batch taught of a product and its bottle: the belief to start the next batch from. */
export function learnedBelief(batch: BatchBelief, product = 0): StrengthBelief {
  const { mean, covariance } = batch.state;
  const c = (i: number, j: number) => covariance[i]?.[j] ?? 0;
  const [MEAN, BOTTLE] = [meanOf(product), bottleOf(product)];
  return {
    mean: [mean[MEAN] ?? 0, mean[BOTTLE] ?? 0],
    covariance: [
      [c(MEAN, MEAN), c(MEAN, BOTTLE)],
      [c(BOTTLE, MEAN), c(BOTTLE, BOTTLE)],
    ],
  };
}

/** Strength of a product as it shows in this batch: µS/cm per mL/L with 1 SD. */
export function batchStrength(batch: BatchBelief, product = 0): { ecPerMlL: number; sd: number } {
  const BATCH = batchOf(product);
  return {
    ecPerMlL: batch.state.mean[BATCH] ?? 0,
    sd: Math.sqrt(Math.max(0, batch.state.covariance[BATCH]?.[BATCH] ?? 0)),
  };
}

/** What a pen should read of the batch as it stands, and the net that one of its products brought, µS/cm. */
export function standingOf(batch: BatchBelief, product = 0): { readingEcUsCm: number; netEcUsCm: number } {
  const next = expectedNet(batch, 0, 0, product);
  return { readingEcUsCm: next.readingMean, netEcUsCm: next.mean };
}

import { normalBetween, normalCdf, Z90 } from '../statistics/index.ts';
import type { Aim } from './aim.ts';
import {
  batchStrength,
  expectedNet,
  readingVariance,
  standingOf,
  type BatchBelief,
  type PenNoise,
} from './batch-belief.ts';
import { planThinning, type ThinningPlan } from './dilution.ts';
import { doseSdOf, finestStepMl, roundDownToTool, type MeasuredDose, type Tool } from './tool.ts';

/** Portions the coach plans for. More are given when needed, without looking ahead. */
export const PLANNED_PORTIONS = 3;
/** Most the chance of passing the hard limit may be, and, while portions remain, of passing the top of the band. */
export const HARD_RISK = 0.01;
export const TOP_RISK = 0.02;

/** What the pen will say after a portion: gross reading, with the central 90 % range. All µS/cm. */
export type Expectation = { readonly readingEcUsCm: number; readonly lowEcUsCm: number; readonly highEcUsCm: number };

export type CoachDecision =
  | {
      readonly kind: 'add';
      readonly dose: MeasuredDose;
      readonly expected: Expectation;
      readonly inBand: number;
      readonly pastHard: number;
      readonly portionsLikely: number;
    }
  | { readonly kind: 'inside' }
  /** Over its band. `edge`: the least water that brings it back into the band; `plan`: back to the aim. Not past its limit it may also stay. */
  | { readonly kind: 'thin'; readonly plan: ThinningPlan; readonly edge: ThinningPlan; readonly pastHard: boolean }
  | { readonly kind: 'tooCoarse'; readonly stepMl: number };

export type CoachSituation = {
  readonly batch: BatchBelief;
  /** Which of the batch's products is being added; the first when absent. */
  readonly product?: number;
  /** What the pen read when the first of that product went in, µS/cm; the water's own when absent. The aim is counted over it. */
  readonly overEcUsCm?: number;
  /** Net that every product so far is meant to bring together, µS/cm: what thinning aims at. This product's own aim when absent. */
  readonly thinToNetEcUsCm?: number;
  readonly aim: Aim;
  readonly pen: PenNoise;
  readonly tools: readonly Tool[];
  readonly portionsUsed: number;
  /** Gross pen reading since the last portion; undefined only before the first. µS/cm. */
  readonly lastReadingEcUsCm: number;
  readonly capacityL: number;
  /** False judges each portion as if it were the last; for measuring what looking ahead is worth. */
  readonly lookAhead?: boolean;
};

/**
 * The next act at the bench. Stops as soon as the pen stands in the band; thins when it stands above; otherwise chooses the dose with
 * the best chance of a reading in the band such that P(true net past the hard limit) < 1 % and, while planned portions remain,
 * P(reading past the top of the band) < 2 %; then rounds **down** to what the tools can measure.
 * @returns the decision; `tooCoarse` when one step of the finest tool would break those limits
 */
export function decidePortion(situation: CoachSituation): CoachDecision {
  const { batch, aim, lastReadingEcUsCm, capacityL, portionsUsed } = situation;
  const penNet = lastReadingEcUsCm - overOf(situation);
  if (portionsUsed > 0 && penNet >= aim.lowEcUsCm && penNet <= aim.highEcUsCm) return { kind: 'inside' };
  if (penNet > aim.highEcUsCm) {
    const wholeNet = lastReadingEcUsCm - batch.baseReadingEcUsCm;
    const toAim = thinTo(situation, wholeNet, penNet);
    const toEdge = Math.max(toAim, (wholeNet * INSIDE_TOP * aim.highEcUsCm) / penNet);
    const planFor = (net: number) => planThinning(batch.volumeL, wholeNet, net, capacityL);
    return { kind: 'thin', plan: planFor(toAim), edge: planFor(toEdge), pastHard: penNet > aim.hardEcUsCm };
  }
  const careful = (situation.lookAhead ?? true) && portionsUsed < PLANNED_PORTIONS - 1;
  const relativeSd = Math.min(...situation.tools.map(doseSdOf));
  const wantedMl = bestDoseMl(situation, relativeSd, careful);
  const dose = wantedMl > 0 ? roundDownToTool(wantedMl, situation.tools) : undefined;
  if (dose) return decisionFor(situation, dose);
  // Less than one step is wanted: one step may still be safe enough, judged by the hard limit alone.
  const step = roundDownToTool(finestStepMl(situation.tools) * (1 + 1e-9), situation.tools);
  if (step) {
    const odds = oddsOf(situation, step.doseMl, step.relativeSd);
    if (odds.pastHard < HARD_RISK && odds.pastTop < 0.5) return decisionFor(situation, step);
  }
  return { kind: 'tooCoarse', stepMl: finestStepMl(situation.tools) };
}

/** Thinned solutions read a few per cent over the straight line, so that the band's top is aimed at from a little below. House rule. */
const INSIDE_TOP = 0.97;

/** Net the whole is thinned to: what was planned of it, where that brings this product into its band; else so far that it meets its own aim. */
function thinTo({ aim, thinToNetEcUsCm }: CoachSituation, wholeNet: number, penNet: number): number {
  const planned = thinToNetEcUsCm ?? 0;
  return planned > 0 && planned < wholeNet && (penNet * planned) / wholeNet <= aim.highEcUsCm
    ? planned
    : (wholeNet * aim.netEcUsCm) / penNet;
}

function overOf({ overEcUsCm, batch }: CoachSituation): number {
  return overEcUsCm ?? batch.baseReadingEcUsCm;
}

/** Chance that a batch given `doseMl` reads in the band, reads past its top, or is truly past the hard limit. */
export function oddsOf(
  situation: CoachSituation,
  doseMl: number,
  relativeSd: number,
): { inBand: number; pastTop: number; pastHard: number } {
  const { batch, aim, pen } = situation;
  const next = expectedNet(batch, doseMl, relativeSd, situation.product);
  const readingSd = Math.sqrt(next.readingVariance + readingVariance(Math.max(0, next.readingMean), pen));
  const penNet = next.readingMean - overOf(situation);
  return {
    inBand: normalBetween(aim.lowEcUsCm, aim.highEcUsCm, penNet, readingSd),
    pastTop: 1 - normalCdf((aim.highEcUsCm - penNet) / readingSd),
    pastHard: 1 - normalCdf((aim.hardEcUsCm - next.mean) / Math.sqrt(Math.max(next.variance, 1e-12))),
  };
}

/** What the pen should say after `doseMl`: mean and central 90 % range, µS/cm gross. */
export function expectReading(
  batch: BatchBelief,
  doseMl: number,
  relativeSd: number,
  pen: PenNoise,
  product = 0,
): Expectation {
  const next = expectedNet(batch, doseMl, relativeSd, product);
  const sd = Math.sqrt(next.readingVariance + readingVariance(Math.max(0, next.readingMean), pen));
  return {
    readingEcUsCm: next.readingMean,
    lowEcUsCm: Math.max(0, next.readingMean - Z90 * sd),
    highEcUsCm: next.readingMean + Z90 * sd,
  };
}

/** Steps of the scan for the best dose; the band is then some fifty steps wide, far finer than any tool. */
const SCAN_STEPS = 240;

function bestDoseMl(situation: CoachSituation, relativeSd: number, careful: boolean): number {
  const { batch, aim } = situation;
  const strength = Math.max(1e-9, batchStrength(batch, situation.product).ecPerMlL);
  const net = standingOf(batch, situation.product).netEcUsCm;
  const mostMl = (Math.max(0, aim.highEcUsCm - net) * batch.volumeL) / strength;
  let best = 0;
  let bestInBand = -1;
  for (let i = 1; i <= SCAN_STEPS; i++) {
    const doseMl = (mostMl * i) / SCAN_STEPS;
    const odds = oddsOf(situation, doseMl, relativeSd);
    // Both risks grow with the dose, so the first breach ends the scan.
    if (odds.pastHard >= HARD_RISK || (careful && odds.pastTop >= TOP_RISK)) break;
    if (odds.inBand >= bestInBand) {
      bestInBand = odds.inBand;
      best = doseMl;
    }
  }
  return best;
}

function decisionFor(situation: CoachSituation, dose: MeasuredDose): CoachDecision {
  const odds = oddsOf(situation, dose.doseMl, dose.relativeSd);
  return {
    kind: 'add',
    dose,
    expected: expectReading(situation.batch, dose.doseMl, dose.relativeSd, situation.pen, situation.product),
    inBand: odds.inBand,
    pastHard: odds.pastHard,
    portionsLikely: situation.portionsUsed + (odds.inBand > 0.8 ? 1 : 2),
  };
}

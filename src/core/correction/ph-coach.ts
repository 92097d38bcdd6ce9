import { DomainError, phSide, requirePositive } from '../quantity/index.ts';
import { openDepthCm, phAfterHours, solve, type Composition } from '../solution/index.ts';
import { normalBetween, normalCdf } from '../statistics/index.ts';
import { finestStepMl, roundDownToTool, type MeasuredDose, type Tool } from '../strength/index.ts';
import { quantileOf } from './expected-ph.ts';
import {
  penPhSd,
  HAND_SD,
  hypothesesOf,
  hypothesesWith,
  type PhBatch,
  type Hypothesis,
  type Stirred,
  canRead,
} from './response.ts';

/** At most three pH corrections for one batch: each adds salts (common practice). */
export const MOST_CORRECTIONS = 3;
/** An acid is thinned so that one drop, or mark, moves less than this share of the window. */
const STEP_SHARE = 1 / 4;
/** One part of the acid in so many parts altogether. */
export const ACID_RATIOS = [1, 20, 100] as const;
/** Chance of passing the far side that a correction may take while more are left, and the last. House rule. */
const FAR_RISK = 0.08;
const LAST_FAR_RISK = 0.25;

export type PhSituation = PhBatch & {
  readonly volumeL: number;
  readonly window: { readonly low: number; readonly high: number };
  /** What went in altogether by now. */
  readonly stirred: readonly Stirred[];
  readonly correctionsUsed: number;
  /** The acid or alkali to judge: mmol per mL. */
  readonly perMl: Composition;
  readonly direction: 'down' | 'up';
  readonly tools: readonly Tool[];
  /** Parts altogether for one part of it that the grower has thinned it to already; absent: as is best. */
  readonly thinned?: number;
};

export type PhDecision =
  | { readonly kind: 'inside' }
  | { readonly kind: 'restart'; readonly corrections: number }
  | { readonly kind: 'wrongWay' }
  | { readonly kind: 'outside'; readonly message: string }
  | {
      readonly kind: 'dose';
      /** As bought, mL for the whole batch. */
      readonly ml: number;
      /** First thinned to one part in so many; 1: as it is. */
      readonly ratio: number;
      /** What is measured: mL of what is in the dropper. */
      readonly dose: MeasuredDose;
      readonly expected: { readonly ph: number; readonly low: number; readonly high: number };
      readonly inWindow: number;
      readonly pastFar: number;
      /** Just stirred, and after standing open till tomorrow. */
      readonly ecUsCm: number;
      readonly tomorrowPh: number;
      /** One step is coarser than the rule even thinned as far as it goes. */
      readonly coarse: boolean;
    };

/**
 * The next pH correction: the dose likeliest to read inside the window, with less than 8 % chance of passing its far side (a quarter for the
 * last one), rounded down to the tool; thinned first when one step would jump a quarter of the window.
 * @param known its ways, where they are worked out already
 * @throws DomainError on a window that is none
 */
export function decidePh(situation: PhSituation, known?: readonly Hypothesis[]): PhDecision {
  const { window, correctionsUsed, direction, tools } = situation;
  if (!(window.high > window.low))
    throw new DomainError('out-of-range', 'The pH window is empty', window, 'The lower pH lies under the upper.');
  requirePositive(situation.volumeL, 'the batch');
  const noDose = withoutDose(situation);
  if (noDose) return noDose;
  const standings = known ?? hypothesesOf(situation);
  const middle = likeliest(standings);
  const most = mlToReach(situation, middle, direction === 'down' ? window.low - 0.4 : window.high + 0.4);
  if (typeof most === 'string') return { kind: 'outside', message: most };
  const bare = solve(situation.total);
  const noise = penPhSd(bare.ok ? bare.ecUsCm : 1000);
  const curves = fewOf(situation, standings, most).map((s) => curveOf(situation, s, most * 1.3, noise));
  const risk = correctionsUsed < MOST_CORRECTIONS - 1 ? FAR_RISK : LAST_FAR_RISK;
  const wanted = bestMl(situation, curves, most * 1.3, risk);
  const goal = mlToReach(situation, middle, (window.low + window.high) / 2);
  const ratio = situation.thinned ?? ratioFor(situation, curves, typeof goal === 'string' ? [wanted] : [wanted, goal]);
  const measured = roundDownToTool(Math.max(wanted * situation.volumeL * ratio, finestStepMl(tools)), tools);
  if (!measured) return { kind: 'outside', message: 'There is nothing to measure it with.' };
  const ml = measured.doseMl / ratio;
  const mlPerL = ml / situation.volumeL;
  const odds = oddsOf(situation, curves, mlPerL);
  const after = hypothesesWith(situation.total, middle, situation.stirred, { perMl: situation.perMl, mlPerL });
  const [stirred, open] = [solve(after), phAfterHours(after, 24, openDepthCm(situation.volumeL))];
  if (!stirred.ok || !open.ok)
    return { kind: 'outside', message: stirred.ok ? 'It has no answer in open air.' : stirred.message };
  return {
    kind: 'dose',
    ml,
    ratio,
    dose: measured,
    expected: {
      ph: odds.mean,
      low: quantileOf(odds.ways, 0.05),
      high: quantileOf(odds.ways, 0.95),
    },
    inWindow: odds.inWindow,
    pastFar: odds.pastFar,
    ecUsCm: stirred.ecUsCm,
    tomorrowPh: open.ph,
    coarse: stepMoves(situation, curves, mlPerL, ratio) > STEP_SHARE * (window.high - window.low),
  };
}

const CANNOT_READ =
  'By its labels and its water this mix cannot read so. Dip the pen in its standard, read the mix again, and look at the labels.';

/** What is said before any dose is thought of; undefined where one is wanted. */
function withoutDose({ total, window, seen, correctionsUsed, direction }: PhSituation): PhDecision | undefined {
  const last = seen.at(-1);
  const ph = last?.ph;
  const side = ph === undefined ? undefined : phSide(ph, window);
  if (side === 'inside') return { kind: 'inside' };
  if (correctionsUsed >= MOST_CORRECTIONS) return { kind: 'restart', corrections: correctionsUsed };
  if (side === (direction === 'down' ? 'below' : 'above')) return { kind: 'wrongWay' };
  return last && !canRead(total, last) ? { kind: 'outside', message: CANNOT_READ } : undefined;
}

/** The whole way to a pH for the batch as it most likely stands, mL as bought; or why there is none. Not rounded, not careful. */
export function wholeDose(
  situation: PhSituation,
  targetPh: number,
  known?: readonly Hypothesis[],
): { readonly ml: number } | { readonly message: string } {
  const last = situation.seen.at(-1);
  if (last && !canRead(situation.total, last)) return { message: CANNOT_READ };
  const standings = known ?? hypothesesOf(situation);
  const ml = mlToReach(situation, likeliest(standings), targetPh);
  return typeof ml === 'string' ? { message: ml } : { ml: ml * situation.volumeL };
}

/** The batch as it most likely stands, mmol/L. */
export function likelyStanding(situation: PhBatch & { readonly stirred: readonly Stirred[] }): Composition {
  const standings = hypothesesOf(situation);
  return hypothesesWith(situation.total, likeliest(standings), situation.stirred);
}

/** How much stronger than its label a dose acts in this batch, as far as its readings say: mean of the ways. */
export function responseOf(situation: PhBatch): number {
  const standings = hypothesesOf(situation);
  return standings.reduce((sum, s) => sum + s.response * s.weight, 0);
}

/** So many ways tell a dose as well as hundreds. */
const FEW_WAYS = 24;

/** The ways gathered by where a dose of half the way leads: neighbours answer alike, and are told as one. */
function fewOf(situation: PhSituation, standings: readonly Hypothesis[], mostMlL: number): Hypothesis[] {
  if (standings.length <= FEW_WAYS) return [...standings];
  const sorted = standings
    .map((standing) => ({ standing, ph: phAt(situation, standing, mostMlL / 2) }))
    .sort((a, b) => a.ph - b.ph);
  const groups: Hypothesis[][] = [];
  let sum = 0;
  for (const { standing } of sorted) {
    const at = Math.min(FEW_WAYS - 1, Math.floor(sum * FEW_WAYS));
    (groups[at] ??= []).push(standing);
    sum += standing.weight;
  }
  return groups.filter(Boolean).map((group) => {
    const weight = group.reduce((all, s) => all + s.weight, 0);
    return { ...likeliest(group.map((s) => ({ ...s, weight: s.weight / weight }))), weight };
  });
}

/** Mean of the ways: good where the curve is not asked for its tails. */
function likeliest(standings: readonly Hypothesis[]): Hypothesis {
  const mean = (of: (s: Hypothesis) => number) => standings.reduce((sum, s) => sum + of(s) * s.weight, 0);
  return {
    shiftMeqL: mean((s) => s.shiftMeqL),
    response: mean((s) => s.response),
    carbonate: mean((s) => s.carbonate),
    weight: 1,
  };
}

/** mL of it a litre by which the batch has a pH, by halving; a message where it never gets there. */
function mlToReach(situation: PhSituation, standing: Hypothesis, ph: number): number | string {
  const past = (mlPerL: number) => {
    const found = phAt(situation, standing, mlPerL);
    return situation.direction === 'down' ? found <= ph : found >= ph;
  };
  let high = 0.005;
  while (!past(high)) {
    high *= 2;
    if (high > 100) return 'It would take more than 100 mL in a litre. Take a stronger one, or another water.';
  }
  let low = 0;
  for (let i = 0; i < 14; i++) {
    const middle = (low + high) / 2;
    if (past(middle)) high = middle;
    else low = middle;
  }
  return high;
}

function phAt(situation: PhSituation, standing: Hypothesis, mlPerL: number): number {
  const solved = solve(
    hypothesesWith(situation.total, standing, situation.stirred, { perMl: situation.perMl, mlPerL }),
  );
  if (solved.ok) return solved.ph;
  return solved.why === 'tooAcid' ? 2 : solved.why === 'tooAlkaline' ? 12 : situation.direction === 'down' ? 2 : 12;
}

/** pH of one way over the doses, as a table that is read between its points. */
type Curve = {
  readonly weight: number;
  readonly phs: readonly number[];
  readonly stepMlL: number;
  /** 1 SD of the pen in it. */
  readonly noise: number;
};
const POINTS = 12;

function curveOf(situation: PhSituation, standing: Hypothesis, mostMlL: number, noise: number): Curve {
  const stepMlL = mostMlL / POINTS;
  return {
    weight: standing.weight,
    noise,
    stepMlL,
    phs: Array.from({ length: POINTS + 1 }, (_, i) => phAt(situation, standing, i * stepMlL)),
  };
}

/** pH there, and how much a mL in the litre moves it. */
function readCurve({ phs, stepMlL }: Curve, mlPerL: number): { ph: number; slope: number } {
  const at = Math.min(POINTS - 1e-9, mlPerL / stepMlL);
  const i = Math.floor(at);
  const rise = phs[i + 1]! - phs[i]!;
  return { ph: phs[i]! + rise * (at - i), slope: rise / stepMlL };
}

function oddsOf({ window, direction }: PhSituation, curves: readonly Curve[], mlPerL: number) {
  const ways = curves.map((curve) => {
    const { ph, slope } = readCurve(curve, mlPerL);
    return { ph, weight: curve.weight, sd: Math.hypot(curve.noise, HAND_SD * mlPerL * slope) };
  });
  let [inWindow, pastFar, mean] = [0, 0, 0];
  for (const { ph, weight, sd } of ways) {
    inWindow += weight * normalBetween(window.low, window.high, ph, sd);
    pastFar +=
      weight * (direction === 'down' ? normalCdf((window.low - ph) / sd) : 1 - normalCdf((window.high - ph) / sd));
    mean += weight * ph;
  }
  return { inWindow, pastFar, mean, ways };
}

/** mL a litre that most likely reads inside, short of the risk; nothing risk-free: the least there is. */
function bestMl(situation: PhSituation, curves: readonly Curve[], mostMlL: number, risk: number): number {
  const steps = 160;
  let [best, bestInside] = [mostMlL / steps, -1];
  for (let i = 1; i <= steps; i++) {
    const ml = (mostMlL * i) / steps;
    const odds = oddsOf(situation, curves, ml);
    // The risk grows with the dose: the first breach ends the scan.
    if (odds.pastFar >= risk) break;
    if (odds.inWindow > bestInside) [best, bestInside] = [ml, odds.inWindow];
  }
  return best;
}

function stepMoves(situation: PhSituation, curves: readonly Curve[], mlPerL: number, ratio: number): number {
  const step = finestStepMl(situation.tools) / ratio / situation.volumeL;
  return Math.abs(
    oddsOf(situation, curves, mlPerL + step / 2).mean - oddsOf(situation, curves, Math.max(0, mlPerL - step / 2)).mean,
  );
}

/** So thin that a step is fine where this dose ends, and where the goal lies: a careful dose may stop where the curve is still flat. */
function ratioFor(situation: PhSituation, curves: readonly Curve[], mlPerL: readonly number[]): number {
  const fine = STEP_SHARE * (situation.window.high - situation.window.low);
  return (
    ACID_RATIOS.find((ratio) => mlPerL.every((ml) => stepMoves(situation, curves, ml, ratio) <= fine)) ??
    ACID_RATIOS[ACID_RATIOS.length - 1]!
  );
}

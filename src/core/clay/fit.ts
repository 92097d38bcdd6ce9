import { multinormal, seededRandom, type Multinormal, type Random } from '../statistics/index.ts';
import { amountsAt, amountsDrawn, type Amounts, type Readings } from './amounts.ts';
import { playLeach, type LeachHistory } from './history.ts';
import type { ClayPrior } from './prior.ts';
import { AMOUNTS, shapeOf, SHAPES } from './shapes.ts';
import { standardPpm, type ClayParameters } from './stores.ts';

/** The belief after readings: its mean and spread, clays drawn from it, and of them the one in the middle as it stands. */
export type ClayFit = ClayPrior & { readonly clay: ClayParameters; readonly draws: readonly ClayParameters[] };

/**
 * 1 SD of a reading against the model: the pen's digit, its own share, and a share that all readings of one bath have in common, since what the
 * model cannot follow is the same for each of them.
 */
export type ReadingError = { readonly ppm: number; readonly share: number; readonly ofBath: number };
export const USUAL_ERROR: ReadingError = Object.freeze({ ppm: 0.6, share: 0.02, ofBath: 0.04 });

/** Structures tried at first, and twice more where those fit best. */
const AT_FIRST = 280;
const NEARER = 120;
/** Clays that stand for the belief. */
const DRAWS = 160;
/** Of the nearer ones every tenth is still drawn from the prior, and their normal is widened. */
const KEEPS_PRIOR = 0.1;
const WIDENED = 1.4;
const SEED = 4177;

type Tried = {
  readonly z: Float64Array;
  readonly shape: ReturnType<typeof shapeOf>;
  readonly amounts: Amounts;
  /** Logarithm of prior times likelihood, and of the density it was drawn from. */
  readonly logPosterior: number;
};

/** Fits a batch by its readings and what is known of clay: the same answer every time. From no reading on: then the prior comes back. */
export function fitClay(prior: ClayPrior, history: LeachHistory, error: ReadingError = USUAL_ERROR): ClayFit {
  if (history.acts.some((act) => act.kind === 'reading')) return fitted(prior, history, error);
  // Nothing was read: whatever was done, the belief is the prior's own.
  const known = unread.get(prior) ?? fitted(prior, { clayL: 1, firstL: 1, acts: [] }, error);
  unread.set(prior, known);
  return known;
}
const unread = new WeakMap<ClayPrior, ClayFit>();

function fitted(prior: ClayPrior, history: LeachHistory, error: ReadingError): ClayFit {
  const random = seededRandom(SEED);
  const readings = readingsOf(history, error);
  const atFirst = multinormal(
    prior.mean.slice(0, SHAPES),
    prior.covariance.slice(0, SHAPES).map((row) => row.slice(0, SHAPES)),
  );
  const tryAt = (z: Float64Array): Tried => {
    const shape = shapeOf(z);
    const amounts = amountsAt(prior, z, shape, history, readings);
    return { z, shape, amounts, logPosterior: atFirst.log(z) + amounts.logLikelihood };
  };
  const tried = Array.from({ length: AT_FIRST }, () => tryAt(atFirst.draw(random)));
  const proposals = [{ of: atFirst, n: AT_FIRST }];
  if (readings.y.length > 0)
    for (let round = 0; round < 2; round++) {
      const near = nearer(tried, weightsOf(tried, proposals));
      proposals.push({ of: near, n: NEARER });
      for (let i = 0; i < NEARER; i++) tried.push(tryAt((random() < KEEPS_PRIOR ? atFirst : near).draw(random)));
    }
  return drawn(tried, weightsOf(tried, proposals), random, history);
}

/** Readings of one bath share an error: each counts as one of so many. */
function readingsOf({ acts }: LeachHistory, error: ReadingError): Readings {
  const baths: number[] = [];
  const read: { netPpm: number; bath: number }[] = [];
  let bath = 0;
  for (const act of acts) {
    if (act.kind === 'change') bath++;
    else if (act.kind === 'reading') {
      baths[bath] = (baths[bath] ?? 0) + 1;
      read.push({ netPpm: act.netPpm, bath });
    }
  }
  return {
    y: Float64Array.from(read, (r) => r.netPpm),
    precision: Float64Array.from(
      read,
      (r) => 1 / (error.ppm ** 2 + (error.share ** 2 + error.ofBath ** 2 * baths[r.bath]!) * r.netPpm ** 2),
    ),
  };
}

type Proposal = { readonly of: Multinormal; readonly n: number };

/** Weights of what was tried: posterior over the mixture it was drawn from, the prior first; they sum to 1. */
function weightsOf(tried: readonly Tried[], proposals: readonly Proposal[]): number[] {
  const prior = proposals[0]!.of;
  const logs = tried.map(({ z, logPosterior }) => {
    const first = prior.log(z);
    const densities = proposals.map(({ of, n }, i) =>
      i === 0 ? n * Math.exp(first) : n * ((1 - KEEPS_PRIOR) * Math.exp(of.log(z)) + KEEPS_PRIOR * Math.exp(first)),
    );
    return logPosterior - Math.log(densities.reduce((a, b) => a + b));
  });
  const top = Math.max(...logs);
  const weights = logs.map((log) => Math.exp(log - top));
  const sum = weights.reduce((a, b) => a + b);
  return weights.map((w) => w / sum);
}

/** At least so many of what was tried count towards the next normal. */
const COUNTS = 30;

/** A normal about what fits best so far; tempered, so that it does not fall in upon the one best. */
function nearer(tried: readonly Tried[], weights: readonly number[]): Multinormal {
  let power = 1;
  let tempered = weights;
  while (effective(tempered) < COUNTS && power > 0.02) {
    power *= 0.7;
    const raised = weights.map((w) => Math.pow(w, power));
    const sum = raised.reduce((a, b) => a + b);
    tempered = raised.map((w) => w / sum);
  }
  const { mean, covariance } = momentsOf(
    tried.map(({ z }) => z),
    tempered,
  );
  return multinormal(
    mean,
    covariance.map((row, a) => row.map((c, b) => WIDENED * c + (a === b ? 0.03 : 0))),
  );
}

const effective = (weights: readonly number[]) => 1 / weights.reduce((sum, w) => sum + w * w, 0);

function momentsOf(points: readonly ArrayLike<number>[], weights: readonly number[]) {
  const n = points[0]!.length;
  const mean = new Array<number>(n).fill(0);
  for (const [i, z] of points.entries()) for (let a = 0; a < n; a++) mean[a]! += weights[i]! * z[a]!;
  const covariance = mean.map(() => new Array<number>(n).fill(0));
  for (const [i, z] of points.entries())
    for (let a = 0; a < n; a++)
      for (let b = 0; b < n; b++) covariance[a]![b]! += weights[i]! * (z[a]! - mean[a]!) * (z[b]! - mean[b]!);
  return { mean, covariance };
}

/** Below this a spread is of too few clays to be believed. */
const LEAST_SPREAD = 0.01;

/** Clays drawn by their weight, evenly through the list, each with amounts of its own; none falls below nothing. */
function drawn(tried: readonly Tried[], weights: readonly number[], random: Random, history: LeachHistory): ClayFit {
  const draws: ClayParameters[] = [];
  const points: number[][] = [];
  let [i, sum] = [0, weights[0]!];
  for (let d = 0; d < DRAWS; d++) {
    const at = (d + 0.5) / DRAWS;
    while (sum < at && i + 1 < tried.length) sum += weights[++i]!;
    const { z, shape, amounts } = tried[i]!;
    const [porePpm, dust, source] = amountsDrawn(amounts, random);
    draws.push({ ...shape, porePpm: porePpm!, dust: dust!, source: source! });
    points.push([...z, ...[porePpm!, dust!, source!].map((v, a) => (v - AMOUNTS[a]!.mean) / AMOUNTS[a]!.sd)]);
  }
  const even = draws.map(() => 1 / DRAWS);
  const { mean, covariance } = momentsOf(points, even);
  return {
    mean,
    covariance: covariance.map((row, a) => row.map((c, b) => c + (a === b ? LEAST_SPREAD : 0))),
    clay: clayAt({ draws }, history, 0, 0.5),
    draws,
  };
}

/** Of clays that may be, the one at which such a share come to no more in the standard soak, as the batch then stands. */
export function clayAt(
  { draws }: Pick<ClayFit, 'draws'>,
  history: LeachHistory,
  atHours: number,
  share: number,
): ClayParameters {
  const by = draws.map((clay) => ({
    clay,
    comesTo: standardPpm(clay, history.clayL, playLeach(clay, history, atHours).leach),
  }));
  return by.sort((a, b) => a.comesTo - b.comesTo)[Math.floor(share * by.length)]!.clay;
}

/** The middle one and the central 90 %. */
export type Spread = { readonly mean: number; readonly low: number; readonly high: number };
const Z90 = 1.645;

/**
 * Anything that follows from the clay, with its central 90 %.
 * @param of the quantity, not below 0, from the parameters @param share what the model itself leaves open, 1 SD
 */
export function spreadOf(
  fit: Pick<ClayFit, 'draws'>,
  of: (clay: ClayParameters) => number,
  share = USUAL_ERROR.ofBath,
): Spread {
  return spreadsOf(fit, (clay) => [of(clay)], share)[0]!;
}

/** Many quantities at once, such as the points of a path. */
export function spreadsOf(
  { draws }: Pick<ClayFit, 'draws'>,
  of: (clay: ClayParameters) => readonly number[],
  share = USUAL_ERROR.ofBath,
): Spread[] {
  const values = draws.map((clay) => of(clay));
  return values[0]!.map((_, j) => {
    const logs = Float64Array.from(values, (row) => Math.log(Math.max(1e-3, row[j]!))).sort();
    const at = (q: number) => logs[Math.min(logs.length - 1, Math.max(0, Math.round(q * (logs.length - 1))))]!;
    const middle = at(0.5);
    const wide = (side: number) => Math.sqrt((side - middle) ** 2 + (Z90 * share) ** 2);
    return { mean: Math.exp(middle), low: Math.exp(middle - wide(at(0.05))), high: Math.exp(middle + wide(at(0.95))) };
  });
}

/** How likely something holds of the clay, 0 to 1; a half of a draw either way is never ruled out. */
export function chanceOf({ draws }: Pick<ClayFit, 'draws'>, holds: (clay: ClayParameters) => boolean): number {
  const n = draws.filter((clay) => holds(clay)).length;
  return (n + 0.5) / (draws.length + 1);
}

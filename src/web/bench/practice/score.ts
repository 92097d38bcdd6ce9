import type { BatchView } from '../../../contract/bench.ts';
import { PRACTICE_NET_EC, practiceTruth, simEc, type PracticeBucket } from '../../../core/simulation/index.ts';
import { feedAim, planThinning } from '../../../core/strength/index.ts';
import { deedsOf, type PracticeStep } from './practice-view.ts';

export type Score = { readonly points: 0 | 1 | 2 | 3; readonly landed: boolean; readonly words: string };

/** Water within this much of the least that does it is as good. */
const WATER_GRACE = 1.15;

const missed = (words: string): Score => ({ points: 0, landed: false, words });
const landed = (words: string, well: boolean, fairly: boolean): Score => ({
  points: well ? 3 : fairly ? 2 : 1,
  landed: true,
  words,
});

const counted = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;

/** How an exercise went: did it truly land, in how many portions (corrections), with how much water. */
export function scoreOf(
  bucket: PracticeBucket,
  steps: readonly PracticeStep[],
  view: Pick<BatchView, 'ph' | 'phWindow'>,
): Score {
  const truth = practiceTruth(bucket, deedsOf(steps));
  const net = simEc(truth.solution) - simEc(bucket.water);
  const aim = feedAim(PRACTICE_NET_EC);
  // By pen a mix may stand a digit outside and be right.
  const inBand = net >= aim.lowEcUsCm * 0.97 && net <= aim.highEcUsCm * 1.03;
  const portions = steps.filter(({ step }) => step.kind === 'portion').length;
  const waterL = steps.reduce((sum, { step }) => sum + (step.kind === 'thin' ? step.addL : 0), 0);
  switch (bucket.exercise) {
    case 'reach': {
      const words = `${counted(portions, 'portion')}${waterL > 0 ? `, and ${waterL.toFixed(1)} L of water to thin it` : ''}. Three without thinning is as good as it gets: it stands truly at ${Math.round(net / 2)} over the water.`;
      return inBand ? landed(words, portions <= 3 && waterL === 0, portions <= 5) : missed(words);
    }
    case 'rescue': {
      const start = simEc(practiceTruth(bucket, []).solution) - simEc(bucket.water);
      const plan = planThinning(bucket.volumeL, start, PRACTICE_NET_EC, bucket.capacityL);
      const words = `${waterL.toFixed(1)} L of water; the least that brings it to the aim in this jug is ${plan.addL.toFixed(1)} L. It stands truly at ${Math.round(net / 2)} over the water.`;
      return inBand ? landed(words, waterL <= plan.addL * WATER_GRACE, waterL <= plan.addL * 1.6) : missed(words);
    }
    case 'ph': {
      const { corrections, inside } = view.ph;
      const words = `${counted(corrections, 'correction')}; one or two is as good as it gets, and after three one starts again.`;
      return inside ? landed(words, corrections <= 2, true) : missed(words);
    }
  }
}

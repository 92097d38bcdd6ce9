import { fitClay, type ClayFit, type ClayPrior, type LeachHistory, type ReadingError } from '../../core/clay/index.ts';
import { advisePour, type PotToPour, type PourAdvice, type Score } from '../../core/drift/index.ts';
import { lookBack, type LookedBack, type PotFollowed } from './look-back.ts';
import { learnPot, type Learned, type LogOfPot } from './learn-pot.ts';

/* The threads for what takes long: plain data in, plain data out. */

export const learn = (pots: readonly LogOfPot[]): Learned[] => pots.map((log) => learnPot(log));
export const advise = (pots: readonly PotToPour[]): PourAdvice | undefined => advisePour(pots, 'steady');
export const back = (of: { pots: readonly PotFollowed[]; scores: readonly Score[]; from: string }): LookedBack[] =>
  lookBack(of.pots, of.scores, of.from);

export const fit = ({
  prior,
  history,
  error,
}: {
  prior: ClayPrior;
  history: LeachHistory;
  error?: ReadingError;
}): ClayFit => fitClay(prior, history, error);

export type Tasks = { fit: typeof fit; learn: typeof learn; advise: typeof advise; back: typeof back };

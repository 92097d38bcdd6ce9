import {
  fitClay,
  USUAL_ERROR,
  type ClayFit,
  type ClayPrior,
  type LeachHistory,
  type ReadingError,
} from '../../core/clay/index.ts';
import { inPool, memoOfFigures } from '../collection/index.ts';

/** What is asked of a clay: what was known of it, what was done and read, and how well it is read. */
export type FitQuestion = {
  readonly prior: ClayPrior;
  readonly history: LeachHistory;
  readonly error?: ReadingError;
};

/** A fit is a hundred clays: the newest are kept. */
const MOST_FITS = 300;
const kept = memoOfFigures((_question: string): { fit?: ClayFit; coming?: Promise<ClayFit> } => ({}), MOST_FITS);
/** Where nothing was read the belief is the prior's, whatever was done. */
const keyOf = ({ prior, history, error }: FitQuestion) =>
  JSON.stringify([prior, error, history.acts.some((act) => act.kind === 'reading') ? history : null]);

/** The fit, kept by what was known, done and read: a reading of one bag fits no other anew, nor does the next day. */
export function fitOf(question: FitQuestion): ClayFit {
  const at = kept(keyOf(question));
  return (at.fit ??= fitClay(question.prior, question.history, question.error ?? USUAL_ERROR));
}

/** Fits what is not fitted yet off the main thread, so that the other devices are served meanwhile; what another asked for already is waited for, not fitted twice. */
export async function fitAhead(questions: readonly FitQuestion[]): Promise<void> {
  await Promise.all(
    questions.map(async (question) => {
      const at = kept(keyOf(question));
      if (at.fit) return;
      // One that failed is asked for again.
      at.coming ??= inPool('fit', question).finally(() => delete at.coming);
      at.fit ??= await at.coming;
    }),
  );
}

import { carePayloads } from '../../../contract/care.ts';
import { atThePot } from '../../act/common.ts';
import { act } from '../../act/definition.ts';

/** A pot left for another day, with the reason. */
export const skipped = act({
  kind: 'potSkipped',
  payload: carePayloads.potSkipped,
  group: 'Skip',
  where: atThePot,
  words: (p) => `Skipped: ${p.reason}; look again ${p.lookAgainOn}`,
  undone: 'Took a skip back',
  dates: { days: ['dueOn', 'lookAgainOn'] },
  correct: { fixed: ['dueOn', 'lookAgainOn'], figures: (p) => [p.reason] },
});

import { carePayloads } from '../../../contract/care.ts';
import { inSentence } from '../../../core/quantity/index.ts';
import { act } from '../../act/definition.ts';

/** Water drawn for a batch. */
export const batchStarted = act({
  kind: 'batchStarted',
  payload: carePayloads.batchStarted,
  group: 'Mix',
  words: (p, { water }, vol) => `Started ${vol(p.volumeL * 1000)} of ${water ? inSentence(water) : 'water'}`,
  undone: 'Took an act back',
  needs: () => 'A batch that was started is thrown out at the bench, not taken back.',
});

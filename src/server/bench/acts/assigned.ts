import { carePayloads } from '../../../contract/care.ts';
import { setBatch, step } from './step.ts';

/** What is left over taken for a mix of the round. */
export const batchAssigned = step({
  kind: 'batchAssigned',
  payload: carePayloads.batchAssigned,
  group: 'Mix',
  words: () => 'Taken for the round, as it is left over',
  undone: 'Took back that a leftover was meant for the round',
  takeBack: (manager, { batchId, payload }) => setBatch(manager, batchId!, { mixKey: payload.before }),
  putBack: (manager, { batchId, payload }) => setBatch(manager, batchId!, { mixKey: payload.mixKey }),
});

import { carePayloads } from '../../../contract/care.ts';
import { setBatch, step } from './step.ts';

/** What was left over, poured elsewhere. */
export const batchEmptied = step({
  kind: 'batchEmptied',
  payload: carePayloads.batchEmptied,
  group: 'Mix',
  words: (p, _named, vol) => `Leftover ${vol(p.leftMl)} to ${p.to || 'the garden'}`,
  undone: 'Took an emptied leftover back',
  takeBack: (manager, { batchId }) => setBatch(manager, batchId!, { emptied: false }),
  putBack: (manager, { batchId }) => setBatch(manager, batchId!, { emptied: true }),
});

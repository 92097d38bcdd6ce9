import { carePayloads } from '../../../contract/care.ts';
import { setBatch, step } from './step.ts';

/** A batch thrown out. */
export const batchAbandoned = step({
  kind: 'batchAbandoned',
  payload: carePayloads.batchAbandoned,
  group: 'Mix',
  words: (p, _named, vol) => `Thrown out, ${vol(p.volumeL * 1000)}${p.reason ? `: ${p.reason}` : ''}`,
  undone: 'Took a thrown-out batch back',
  takeBack: (manager, { batchId }) => setBatch(manager, batchId!, { status: 'open' }),
  putBack: (manager, { batchId }) => setBatch(manager, batchId!, { status: 'abandoned' }),
});

import { carePayloads } from '../../../contract/care.ts';
import { step } from './step.ts';

const WHY = { coarse: ', as near as the tools get', enough: '', unread: ', not read' } as const;

/** A part left as it stands: short of its aim, or not read. */
export const batchPartLeft = step({
  kind: 'batchPartLeft',
  payload: carePayloads.batchPartLeft,
  group: 'Mix',
  words: (p, { product }) => `${product ?? 'A part'} left as it was${WHY[p.why]}`,
  undone: 'Took back that a part was left',
});

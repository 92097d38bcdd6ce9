import { carePayloads } from '../../../contract/care.ts';
import { withItsRecords } from '../../act/common.ts';
import { act } from '../../act/definition.ts';

/** A soak drained. */
export const supplementEnded = act({
  kind: 'supplementEnded',
  payload: carePayloads.supplementEnded,
  group: 'Round',
  words: (p) => p.words,
  undone: 'Put a pot back in its soak',
  ...withItsRecords,
});

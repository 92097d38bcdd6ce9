import { carePayloads } from '../../../contract/care.ts';
import { withItsRecords } from '../../act/common.ts';
import { act } from '../../act/definition.ts';

/** A soak test drained. */
export const soakEnded = act({
  kind: 'soakEnded',
  payload: carePayloads.soakEnded,
  group: 'Drift',
  words: (p) => p.words,
  undone: 'Opened a soak test again',
  ...withItsRecords,
});

import { carePayloads } from '../../../contract/care.ts';
import { withItsRecords } from '../../act/common.ts';
import { act } from '../../act/definition.ts';

/** Untaped and drained. */
export const holdDrained = act({
  kind: 'potHoldDrained',
  payload: carePayloads.potHoldDrained,
  group: 'Clay',
  words: (p) => p.words,
  undone: 'Took a draining back',
  ...withItsRecords,
});

import { carePayloads } from '../../../contract/care.ts';
import { standingOn, withItsRecords } from '../../act/common.ts';
import { act } from '../../act/definition.ts';

/** A pot filled with its holes taped: a salt check, or an in-pot leach. */
export const holdStarted = act({
  kind: 'potHoldStarted',
  payload: carePayloads.potHoldStarted,
  group: 'Clay',
  words: (p) => p.words,
  undone: 'Took a hold back',
  needs: (rows, { id }) =>
    standingOn(rows, ['potHoldRead', 'potHoldDrained'], 'holdId', id)
      ? 'It was read or drained since. Take those back first.'
      : null,
  ...withItsRecords,
});

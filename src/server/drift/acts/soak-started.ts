import { carePayloads } from '../../../contract/care.ts';
import { standingOn, withItsRecords } from '../../act/common.ts';
import { act } from '../../act/definition.ts';

/** A pot filled with its holes taped, to read what its clay gives off. */
export const soakStarted = act({
  kind: 'soakStarted',
  payload: carePayloads.soakStarted,
  group: 'Drift',
  words: (p) => p.words,
  undone: 'Took a soak test back',
  needs: (rows, { id }) =>
    standingOn(rows, ['soakRead', 'soakEnded'], 'soakId', id)
      ? 'It was read since. Take its readings back first, the last one before the others.'
      : null,
  ...withItsRecords,
});

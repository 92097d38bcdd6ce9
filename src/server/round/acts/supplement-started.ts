import { carePayloads } from '../../../contract/care.ts';
import { standingOn, withItsRecords } from '../../act/common.ts';
import { act } from '../../act/definition.ts';

/** A pot filled to the brim with a supplement, or its leaves sprayed with it. */
export const supplementStarted = act({
  kind: 'supplementStarted',
  payload: carePayloads.supplementStarted,
  group: 'Round',
  words: (p) => p.words,
  undone: 'Took a soak or spray back',
  dates: { days: ['dueOn'] },
  needs: (rows, { id }) =>
    standingOn(rows, ['supplementEnded'], 'supplementId', id)
      ? 'It was drained since. Take the draining back first.'
      : null,
  ...withItsRecords,
});

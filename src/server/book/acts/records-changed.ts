import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';
import { rescaleAfterUndo } from '../../collection/index.ts';
import { putBackRecords, takeBackRecords } from '../../database/records.ts';

/** Records added or changed together: the shelf, pots, plans, clocks. */
export const recordsChanged = act({
  kind: 'recordsChanged',
  payload: carePayloads.recordsChanged,
  group: ({ group }) => group,
  words: (p) => p.words,
  undone: 'Took a change back',
  takeBack: async (manager, { payload }) => {
    await takeBackRecords(manager, payload.changes);
    await rescaleAfterUndo(manager, payload.changes, 'before');
  },
  putBack: async (manager, { payload }) => {
    await putBackRecords(manager, payload.changes);
    await rescaleAfterUndo(manager, payload.changes, 'after');
  },
});

import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';
import { forgetLearnedWith } from '../../collection/index.ts';

/** A pen found off: what it read since then is tainted. */
export const meterMarkedOff = act({
  kind: 'meterMarkedOff',
  payload: carePayloads.meterMarkedOff,
  group: 'Check',
  words: (p, { meter }) =>
    `Marked ${meter ?? 'a pen'} as off${p.why ? `: ${p.why}` : ''}; its readings are drawn hollow`,
  undone: 'Drew the readings of a pen solid again',
  dates: { instants: ['from'] },
  takeBack: (manager, { payload }) => forgetLearnedWith(manager, payload.meterId),
  putBack: (manager, { payload }) => forgetLearnedWith(manager, payload.meterId),
});

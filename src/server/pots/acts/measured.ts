import { carePayloads } from '../../../contract/care.ts';
import { measuredWords } from '../../../contract/growth.ts';
import { act } from '../../act/definition.ts';

/** Measured of the plant. */
export const measured = act({
  kind: 'potMeasured',
  payload: carePayloads.potMeasured,
  group: 'Round',
  words: ({ figures, from }) => `Measured: ${measuredWords(figures)}${from ? ', in a photo' : ''}`,
  undone: 'Took a measure back',
  correct: {
    fixed: ['from'],
    figures: ({ figures }) => [measuredWords(figures)],
  },
});

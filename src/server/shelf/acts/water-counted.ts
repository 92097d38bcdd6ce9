import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';

/** What stands in a tank, looked at. */
export const waterCounted = act({
  kind: 'waterCounted',
  payload: carePayloads.waterCounted,
  group: 'Check',
  words: (p, { water }, vol) => `${water ?? 'The tank'} holds ${vol(p.litres * 1000)}`,
  undone: 'Took a look into a tank back',
  correct: { fixed: ['waterId'], figures: (p, vol) => [vol(p.litres * 1000)] },
});

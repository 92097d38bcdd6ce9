import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';

/** Poured on in a hurry, onto what stands there. */
export const toppedUp = act({
  kind: 'potToppedUp',
  payload: carePayloads.potToppedUp,
  group: 'Round',
  words: (p) => p.words,
  undone: 'Took a top-up back',
});

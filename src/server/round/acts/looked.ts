import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';

/** Looked over outside a filling. */
export const looked = act({
  kind: 'potLooked',
  payload: carePayloads.potLooked,
  group: 'Round',
  words: (p) => p.words,
  undone: 'Took a look back',
});

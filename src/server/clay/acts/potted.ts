import { carePayloads } from '../../../contract/care.ts';
import { withItsRecords } from '../../act/common.ts';
import { act } from '../../act/definition.ts';

/** A plant potted up, or converted from soil. */
export const potted = act({
  kind: 'potPotted',
  payload: carePayloads.potPotted,
  group: 'Pots',
  words: (p) => p.words,
  undone: 'Took a potting-up back',
  ...withItsRecords,
});

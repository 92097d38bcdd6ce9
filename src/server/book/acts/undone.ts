import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';

/** An act taken back. Taken back itself, that act stands again. */
export const undone = act({
  kind: 'undone',
  payload: carePayloads.undone,
  group: 'Undo',
  words: (_p, named) => named.undone ?? 'Took an act back',
  undone: 'Put an act back',
});

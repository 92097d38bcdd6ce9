import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';

/** A batch, or the clay in a pot, ran dry: it pushes pH afresh. */
export const clayDried = act({
  kind: 'clayDried',
  payload: carePayloads.clayDried,
  group: 'Clay',
  words: (p) => p.words,
  undone: 'Took a drying-out back',
});

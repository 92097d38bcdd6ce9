import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';

/** A picture put beside a reading of a batch, such as the colours of a kit. */
export const photoKept = act({
  kind: 'photoKept',
  payload: carePayloads.photoKept,
  group: 'Mix',
  words: () => 'Put a photo beside a reading',
  picture: ({ id }) => id,
  undone: 'Took a photo away',
});

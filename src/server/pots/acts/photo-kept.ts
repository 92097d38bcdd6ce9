import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';

/** A picture of a pot. */
export const potPhotoKept = act({
  kind: 'potPhotoKept',
  payload: carePayloads.potPhotoKept,
  group: 'Round',
  words: (p) => p.words,
  picture: ({ id }) => id,
  undone: 'Took a photo away',
});

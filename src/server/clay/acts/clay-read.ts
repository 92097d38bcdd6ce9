import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';
import { readingWords } from '../../act/words.ts';

/** The water on a batch of clay, read. */
export const clayRead = act({
  kind: 'clayRead',
  payload: carePayloads.clayRead,
  group: 'Clay',
  words: () => 'Read the soak',
  undone: "Took a soak's reading back",
  figures: ({ ppm, ph }) => ({ ppm, ph }),
  correct: {
    fixed: ['clayId', 'ppmMeterId', 'phMeterId'],
    figures: (p) => [
      readingWords(p.ppm, 'ppm'),
      readingWords(p.ph, 'pH'),
      p.temperatureC === null ? 'temperature not measured' : `${p.temperatureC} °C`,
    ],
  },
});

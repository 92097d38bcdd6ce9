import { carePayloads } from '../../../contract/care.ts';
import { atThePot } from '../../act/common.ts';
import { act } from '../../act/definition.ts';
import { leftWords, readingWords } from '../../act/words.ts';
import { requireVolumesFit } from '../../collection/index.ts';
import { requirePot } from '../../database/records.ts';

/** The reservoir read where it stands, between fillings. */
export const reread = act({
  kind: 'potReread',
  payload: carePayloads.potReread,
  group: 'Round',
  where: atThePot,
  words: (p) => p.words,
  undone: "Took a pot's reading back",
  figures: ({ ppm, ph }) => ({ ppm, ph }),
  correct: {
    fixed: ['ppmMeterId', 'phMeterId', 'words'],
    figures: (p, vol) => [readingWords(p.ppm, 'ppm'), readingWords(p.ph, 'pH'), leftWords(p.leftMl, vol)],
    before: async (manager, { potId }, payload) =>
      requireVolumesFit(manager, await requirePot(manager, potId!), { ...payload, confirmedOdd: true }),
  },
});

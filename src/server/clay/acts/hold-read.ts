import { carePayloads } from '../../../contract/care.ts';
import { readingMiddle, type Reading } from '../../../core/quantity/index.ts';
import { requireStillRead } from '../../act/common.ts';
import { act } from '../../act/definition.ts';
import { readingWords } from '../../act/words.ts';

/** A pen dipped at the top of the column, or at the hole as it drains. */
export const holdRead = act({
  kind: 'potHoldRead',
  payload: carePayloads.potHoldRead,
  group: 'Clay',
  words: (p) => p.words,
  undone: "Took a hold's reading back",
  figures: ({ reading }) => ({ ppm: reading }),
  correct: {
    fixed: ['holdId', 'where', 'ppmMeterId', 'words'],
    figures: (p) => [readingWords(p.reading, 'ppm')],
    before: (_manager, target, payload) => {
      requireStillRead(payload);
      // It says its figure in words too.
      const { words } = JSON.parse(target.payload) as { words: string };
      payload['words'] = words.replace(/\d+(\.\d+)? ppm$|over range$/, holdFigure(payload['reading'] as Reading));
    },
  },
});

export const holdFigure = (reading: Reading) =>
  reading.kind === 'overRange' ? 'over range' : `${readingMiddle(reading)} ppm`;

import type { EntityManager } from 'typeorm';
import { carePayloads, type CarePayload } from '../../../contract/care.ts';
import type { Vol } from '../../act/definition.ts';
import { readingWords } from '../../act/words.ts';
import { setBatch, step } from './step.ts';

/** Water added to a mix that is too strong, some of it poured off before; what was poured off may be kept as a batch of its own. */
export const batchThinned = step({
  kind: 'batchThinned',
  payload: carePayloads.batchThinned,
  group: 'Mix',
  words: (p, _named, vol) => thinnedWords(p, vol),
  undone: 'Took a thinning back',
  figures: ({ reading }) => ({ ppm: reading }),
  correct: { fixed: ['keepAs'], figures: (p, vol) => [thinnedWords(p, vol), readingWords(p.reading, 'ppm')] },
  needs: (rows, { payload: { keepAs } }) =>
    keepAs && rows('SELECT 1 FROM care_event WHERE batchId = ? AND voidedBy IS NULL LIMIT 1', keepAs).length > 0
      ? 'What was poured off and kept has been used since. Take that back first.'
      : null,
  // What was poured off and kept is back in its bucket, or out of it again.
  takeBack: (manager, { payload }) => kept(manager, payload, { status: 'abandoned', emptied: true }),
  putBack: (manager, { payload }) => kept(manager, payload, { status: 'poured', emptied: false }),
});

async function kept(
  manager: EntityManager,
  { keepAs }: CarePayload<'batchThinned'>,
  fields: Parameters<typeof setBatch>[2],
): Promise<void> {
  if (keepAs) await setBatch(manager, keepAs, fields);
}

function thinnedWords({ pourOffL, addL }: CarePayload<'batchThinned'>, vol: Vol): string {
  return `${pourOffL > 0 ? `Poured off ${vol(pourOffL * 1000)} and added` : 'Thinned with'} ${vol(addL * 1000)} of water`;
}

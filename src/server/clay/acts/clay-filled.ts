import { carePayloads, type CarePayload } from '../../../contract/care.ts';
import { inSentence } from '../../../core/quantity/index.ts';
import { AppError } from '../../app-error.ts';
import { act, type Vol } from '../../act/definition.ts';
import { toWords } from '../../act/words.ts';
import { rowsFor } from '../../collection/index.ts';
import { needsLaterWaters, offAsTyped, requireClayAddsUp } from './waters.ts';
import { about } from '../clay-common.ts';

/** Water poured on a batch of clay: its first, or fresh after some was poured off. */
export const clayFilled = act({
  kind: 'clayFilled',
  payload: carePayloads.clayFilled,
  group: 'Clay',
  words: (p, { water }, vol) => filledWords(p, water, vol),
  undone: 'Took a change of water back',
  correct: {
    settled: offAsTyped,
    fixed: ['clayId', 'waterId', 'baseEcUsCm'],
    figures: (p, vol) => [filledWords(p, null, vol)],
    after: (manager, _target, payload) => requireClayAddsUp(manager, payload['clayId'] as string),
  },
  needs: needsLaterWaters,
  putBack: async (manager, event) => {
    const reason = needsLaterWaters(rowsFor(manager), event);
    if (reason) throw new AppError('cannot-undo', reason);
  },
});

function filledWords(p: CarePayload<'clayFilled'>, water: string | null, vol: Vol): string {
  const { pouredOffL, freshL, to } = p;
  const fresh = `${vol(freshL * 1000)} of ${water ? inSentence(water) : 'water'}`;
  return pouredOffL > 0
    ? `Poured off ${about(p)}${vol(pouredOffL * 1000)}${toWords(to)}, put ${fresh} on`
    : `Put ${fresh} on`;
}

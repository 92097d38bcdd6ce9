import { carePayloads } from '../../../contract/care.ts';
import { AppError } from '../../app-error.ts';
import { act } from '../../act/definition.ts';
import { toWords } from '../../act/words.ts';
import { rowsFor } from '../../collection/index.ts';
import { needsLaterWaters, offAsTyped, requireClayAddsUp } from './waters.ts';
import { about } from '../clay-common.ts';

/** A leach is over: drained, and kept damp or dry. */
export const clayDrained = act({
  kind: 'clayDrained',
  payload: carePayloads.clayDrained,
  group: 'Clay',
  words: (p, _named, vol) => `Drained ${about(p)}${vol(p.pouredOffL * 1000)}${toWords(p.to)}`,
  undone: 'Put the clay back in its water',
  correct: {
    settled: offAsTyped,
    fixed: ['clayId'],
    figures: (p, vol) => [vol(p.pouredOffL * 1000)],
    after: (manager, _target, payload) => requireClayAddsUp(manager, payload['clayId'] as string),
  },
  needs: needsLaterWaters,
  putBack: async (manager, event) => {
    const reason = needsLaterWaters(rowsFor(manager), event);
    if (reason) throw new AppError('cannot-undo', reason);
  },
});

import type { SoakView } from '../../contract/soak.ts';
import { mL } from '../shell/format.ts';

/** When a test is read, minutes. */
export const READ_AT = [0, 10, 30, 60];

export const KIND_WORDS: Record<SoakView['kind'], string> = {
  still: 'with still water',
  feed: 'with the feed',
  opened: 'collected, left open',
};

/** What the kind of test is worth. */
export const KIND_WHY: Record<SoakView['kind'], string> = {
  still:
    'Common, and says least: plain water leaps at next to nothing, and what carbon it held nobody knows. Repeat it with the feed, or read the water again after a day open.',
  feed: 'Feed and not plain water: it is buffered, so what the clay gives is a move that can be read.',
  opened: 'Stirred and left open for a day, its carbon is at rest with the air, so its pH tells its alkali.',
};

/** What makes the answer better or worse, in a line. */
export function caveats(soak: SoakView): string {
  return [
    soak.covered ? 'covered' : 'stood open, half of its CO2 gone in half a day',
    soak.carried ? 'water carried over counted' : 'what stood in the pores is not known',
    soak.leakedMl ? `${mL(Math.round(soak.leakedMl))} leaked` : '',
    soak.driedSince ? 'dried out since: it gives more again' : '',
    soak.reads.some((r) => r.tainted) ? 'readings of a pen that was off are left out' : '',
  ]
    .filter(Boolean)
    .join('; ');
}

import type { ReadAsk, RoundPot, RoundView } from '../../contract/round.ts';
import { READABLES, type AskedWhy, type Readable } from '../../core/what-to-read/index.ts';
import { readOldReservoir, type Draft } from './read-draft.ts';

/* Which readings are asked of a pot, where not everything is read. */

/** One kind of reading of the pot in hand. `asked`: it is to be made now; `missed`: asked, and not made for want of dips; `left`: it may be left. */
export type AskHere = {
  readonly is: 'asked' | 'missed' | 'left';
  readonly why: AskedWhy | null;
  readonly words: string;
};
export type AsksHere = Readonly<Record<Readable, AskHere>>;

const OTHER: Readonly<Record<Readable, Readable>> = { ppm: 'ph', ph: 'ppm' };
/** As a pen’s reading is called. */
export const CALLED: Readonly<Record<Readable, string>> = { ppm: 'ppm', ph: 'pH' };

const isOdd = ({ odd }: ReadAsk, value: number | undefined): boolean =>
  odd !== null && value !== undefined && (value < odd.below || value > odd.above);

/**
 * What is asked of the pot in hand: of a round’s plan, and the rest of it where what was just typed is odd. Undefined where everything is read, or
 * nothing is asked of it.
 */
export function asksHere(
  pot: Pick<RoundPot, 'read' | 'reservoirMl'>,
  { choice }: Pick<RoundView['reading'], 'choice'>,
  draft: Pick<Draft, 'ppm' | 'ph' | 'left'>,
): AsksHere | undefined {
  const { read } = pot;
  if (choice.how === 'everything' || !read) return undefined;
  const typed = readOldReservoir(draft, pot);
  const { ppm, ph, leftMl } = typed.ok ? typed.oldReservoir : { ppm: undefined, ph: undefined, leftMl: null };
  const value = { ppm: ppm?.kind === 'value' ? ppm.value : undefined, ph: ph?.kind === 'value' ? ph.value : undefined };
  const tooMuchLeft = read.leftAboveMl !== null && leftMl !== null && leftMl > read.leftAboveMl;
  const of = (what: Readable): AskHere => {
    const { asked: why, missed, never, words } = read[what];
    if (why && !missed) return { is: 'asked', why, words };
    const odd = tooMuchLeft
      ? 'More is left than it can leave by its habit.'
      : isOdd(read[OTHER[what]], value[OTHER[what]])
        ? `Its ${CALLED[OTHER[what]]} is other than foreseen.`
        : undefined;
    if (odd && !never) return { is: 'asked', why: 'odd', words: `${odd} Read this too.` };
    return { is: why ? 'missed' : 'left', why, words };
  };
  return { ppm: of('ppm'), ph: of('ph') };
}

/** What of it is to be read now, in the order of the fields. */
export const askedNow = (asks: AsksHere | undefined): readonly Readable[] =>
  READABLES.filter((what) => asks?.[what].is === 'asked');

/** Why each was asked, as it is logged with the filling. */
export const askedFor = (asks: AsksHere | undefined) => asks && { ppm: asks.ppm.why, ph: asks.ph.why };

/** "both", "ppm", "pH", or "leave": what the shelf says above a pot that is due. */
export function readTag(pot: Pick<RoundPot, 'read'>, { choice }: Pick<RoundView['reading'], 'choice'>) {
  const { read } = pot;
  if (choice.how === 'everything' || !read) return undefined;
  const asked = READABLES.filter((what) => read[what].asked && !read[what].missed);
  const text = asked.length === 2 ? 'both' : asked[0] ? CALLED[asked[0]] : 'leave';
  return { text, asked: asked.length > 0 };
}

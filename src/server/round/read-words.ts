import type { ReadAsk } from '../../contract/round.ts';
import { ppmFromEc, upperFirst } from '../../core/quantity/index.ts';
import { plusDays, weekdayDayMonth } from '../../core/regimen/index.ts';
import { Z90 } from '../../core/statistics/index.ts';
import {
  FIRST_READS,
  SURPRISE_SD,
  type AskedWhy,
  type PotAsk,
  type Readable,
  type ReadState,
} from '../../core/what-to-read/index.ts';
import { memoOfFigures, type PotState } from '../collection/index.ts';

/** An ask as it is told: why it is asked, or what is foreseen and when its turn comes. Figures on the grower's pen. */
export function readAsk(
  s: Pick<PotState, 'due' | 'watering'>,
  what: Readable,
  { state, ask, hasPen }: { readonly state: ReadState; readonly ask: PotAsk; readonly hasPen: boolean },
  scale: number,
): ReadAsk {
  const { foreseen } = state;
  const onPen = (value: number) => (what === 'ppm' ? ppmFromEc(Math.exp(value), scale) : value);
  const figure = (value: number) => onPen(value).toFixed(what === 'ppm' ? 0 : 1);
  const at = (sds: number) => foreseen!.middle + sds * foreseen!.sd;
  const turnOn = ask.asked || ask.never ? null : plusDays(s.due.dueOn, Math.max(1, ask.turnIn) * s.watering.everyDays);
  const range = foreseen ? `${figure(at(-Z90))} to ${figure(at(Z90))}` : '';
  const words = ask.asked
    ? askedWords(ask.asked, state, what, figure)
    : ask.never
      ? hasPen
        ? { short: 'never asked', long: 'Never asked: you said so.' }
        : { short: 'no pen for it', long: 'There is no pen for it.' }
      : {
          short: `${range} foreseen; its turn is ${shortDay(turnOn!)}`,
          long: `Leave it: ${range} foreseen, ${unreadWords(state.unread)}; its turn is ${fullDay(turnOn!)}.`,
        };
  return {
    asked: ask.asked,
    missed: ask.missed,
    never: ask.never,
    turnOn,
    short: words.short,
    words: words.long,
    odd: foreseen ? { below: onPen(at(-SURPRISE_SD)), above: onPen(at(SURPRISE_SD)) } : null,
  };
}

const shortDay = memoOfFigures((on: string) => weekdayDayMonth(on).replace(/^\w+ /, ''));
const fullDay = memoOfFigures(weekdayDayMonth);

const nearestLimit = ({ foreseen, limits }: ReadState): number | undefined =>
  foreseen && [...limits].sort((a, b) => Math.abs(a - foreseen.middle) - Math.abs(b - foreseen.middle))[0];

/** What is foreseen lies beyond a limit, and not only near it. */
function isPast({ foreseen, limits }: ReadState, limit: number): boolean {
  if (!foreseen || Math.abs(foreseen.middle - limit) <= foreseen.sd) return false;
  return limits.length > 1 && limit === Math.min(...limits) ? foreseen.middle < limit : foreseen.middle > limit;
}

const unreadWords = (unread: number) =>
  unread === 0 ? 'read last time' : unread === 1 ? 'not read last time' : `not read for ${unread} rounds`;

type Words = { readonly short: string; readonly long: string };

function askedWords(why: AskedWhy, state: ReadState, what: Readable, figure: (value: number) => string): Words {
  const rounds = state.unread === Infinity ? 'never read in this clay' : unreadWords(state.unread);
  const limit = nearestLimit(state);
  const near =
    limit === undefined
      ? 'near a limit'
      : `${isPast(state, limit) ? 'past' : 'near'} ${what === 'ph' ? 'pH ' : ''}${figure(limit)}`;
  const words: Record<AskedWhy, Words> = {
    first:
      state.everRead < FIRST_READS
        ? { short: 'its first readings', long: 'Little is known of it yet: its first readings.' }
        : {
            short: 'nothing can be foretold of it',
            long: `Nothing can be foretold of it: ${what === 'ph' ? 'the pH' : 'the strength'} of what it was filled with is not known.`,
          },
    repotted: { short: 'new clay', long: 'New clay: read it until it is known.' },
    surprised: {
      short: 'came out other than foreseen',
      long: 'It came out other than foreseen: read it until it does so no more.',
    },
    odd: { short: 'odd today: read the rest', long: 'Something was odd today: read the rest of it.' },
    mate: {
      short: 'its can reads too much: mixed double?',
      long: 'Another pot of the same can read far more than foreseen: was the can mixed double?',
    },
    leaning: { short: 'leaned last time', long: 'It leaned last time: this tells whether that was chance.' },
    near: { short: `${rounds}, and ${near}`, long: `${upperFirst(rounds)}, and ${near}.` },
    turn: {
      short: state.unread === 0 ? 'its turn, by lot' : `its turn, ${rounds}`,
      long: `Its turn: ${state.unread === 0 ? 'it came by lot' : rounds}. Nothing is suspected; this is how the unexpected is found.`,
    },
  };
  return words[why];
}

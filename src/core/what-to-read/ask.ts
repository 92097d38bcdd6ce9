import { normalCdf } from '../statistics/index.ts';

/*
 * Which reading of a pot is worth its dip. Reading by the greatest gain alone leaves a well-known pot for ever, and the forecast knows nothing of what
 * breaks: so each kind of reading has its turn, sooner where a limit is near, and at once where something was told or came as a surprise. House
 * rules, judged in worlds of their own (`bench/read-today.ts`).
 */

/** What can be read of an old reservoir: its strength, and its pH. */
export const READABLES = ['ppm', 'ph'] as const;
export type Readable = (typeof READABLES)[number];

/** What would be read: the middle and 1 SD of a range that holds as often as it says. Strength as its ln, pH as it is. */
export type Foreseen = { readonly middle: number; readonly sd: number };

/** Why a kind of reading is asked of a pot. */
export const ASKED_WHYS = ['first', 'repotted', 'surprised', 'odd', 'mate', 'leaning', 'near', 'turn'] as const;
export type AskedWhy = (typeof ASKED_WHYS)[number];
/** What a reading was asked for because of how another came out: it teaches, but says nothing of how good forecasts are. */
export const byOutcome = (why: AskedWhy | null | undefined): boolean =>
  why === 'surprised' || why === 'odd' || why === 'mate' || why === 'leaning';

/** One kind of reading of one pot, before it is tipped out. */
export type ReadState = {
  /** How often it was read, ever and since the pot was last set up in its clay. */
  readonly everRead: number;
  readonly readInClay: number;
  /** Visits in this clay, and those since it was last read; infinite where it never was. */
  readonly visits: number;
  readonly unread: number;
  /** Readings since one came as a surprise; undefined where none did. */
  readonly sinceSurprise: number | undefined;
  /** How far off its last reading was, in SD; undefined where there was none. */
  readonly lastOff: number | undefined;
  /** Undefined where nothing can be foretold. */
  readonly foreseen: Foreseen | undefined;
  /** Beyond these something is done about it, in the scale of `foreseen`: an upper one, or a lower and an upper, or none. */
  readonly limits: readonly number[];
};

/** A reading so many SD off came as a surprise. */
export const SURPRISE_SD = 2.6;
/** One so many SD off leans: the next tells whether it was chance. */
export const LEANS_SD = 1.6;
/** After a surprise, and in new clay, it is read so often. */
export const READ_TWICE = 2;
/** At first a pot is read so often. */
export const FIRST_READS = 4;
/** Its turn comes every so many rounds; with a limit near, every so many. */
export const TURN_EVERY = 3;
export const NEAR_EVERY = 2;

/** Asked now and why, or left until so many rounds on. */
export type Ask = { readonly asked: AskedWhy } | { readonly asked: null; readonly turnIn: number };

/**
 * Is it asked at this round?
 * @param lot drawn for the pot and the kind once and for all, whole number ≥ 0: turns are spread by it
 */
export function askOf(state: ReadState, lot: number): Ask {
  const { everRead, readInClay, sinceSurprise, foreseen, unread, visits } = state;
  if (everRead < FIRST_READS || !foreseen) return { asked: 'first' };
  if (readInClay < READ_TWICE) return { asked: 'repotted' };
  if (sinceSurprise !== undefined && sinceSurprise < READ_TWICE) return { asked: 'surprised' };
  if (Math.abs(state.lastOff ?? 0) > LEANS_SD && unread === 0) return { asked: 'leaning' };
  const near = isNear(state);
  // Read all together at first, they would have their turn all together.
  const spread = (ahead: number) =>
    (visits + ahead + lot) % TURN_EVERY === 0 && (unread + ahead > 0 || everRead <= FIRST_READS);
  const isTurn = (ahead: number) => unread + ahead >= (near ? NEAR_EVERY : TURN_EVERY) - 1 || spread(ahead);
  if (isTurn(0)) return { asked: near ? 'near' : 'turn' };
  return { asked: null, turnIn: isTurn(1) ? 1 : 2 };
}

/** A limit lies within 1 SD of what is foreseen, or was passed: what is done about it is followed. */
export function isNear({ foreseen, limits }: Pick<ReadState, 'foreseen' | 'limits'>): boolean {
  if (!foreseen || limits.length === 0) return false;
  const { middle, sd } = foreseen;
  const [low, high] = limits.length > 1 ? limits : [-Infinity, limits[0]!];
  return middle + sd >= high! || middle - sd <= low!;
}

/** How far a reading lies from what was foreseen of it, in SD. */
export const surprise = (read: number, { middle, sd }: Foreseen): number => (read - middle) / sd;

/** That it stands on the other side of the limit that lies nearest. */
export function otherSide({ foreseen, limits }: Pick<ReadState, 'foreseen' | 'limits'>): number {
  if (!foreseen || limits.length === 0) return 0;
  const nearest = Math.min(...limits.map((limit) => Math.abs(foreseen.middle - limit)));
  return normalCdf(-nearest / Math.max(1e-9, foreseen.sd));
}

/** Longer unread counts for no more. */
const MOST_UNREAD = 8;
const AT_LEAST = 0.4;
/**
 * What a dip is worth against others of the round where not all can be made: rounds it went unread, and the chance that it stands on the other side of a
 * limit. What was told, or came as a surprise, comes first.
 */
export function worthOf(state: ReadState, ask: Ask): number {
  const alarm = ask.asked !== null && !['near', 'turn'].includes(ask.asked);
  return (alarm ? 100 : 0) + (Math.min(MOST_UNREAD, state.unread) + 1) * (AT_LEAST + otherSide(state));
}

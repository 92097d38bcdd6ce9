import {
  askOf,
  READABLES,
  SURPRISE_SD,
  worthOf,
  type Ask,
  type AskedWhy,
  type Readable,
  type ReadState,
} from './ask.ts';

/** A pot of the round. */
export type PotToRead = {
  readonly id: string;
  /** Its number in the lot, by kind of reading. */
  readonly lots: Readonly<Record<Readable, number>>;
  /** What it was last filled from: pots of one can are mates. Null where nobody knows. */
  readonly can: string | null;
  /** Kinds of reading that are never asked of it. */
  readonly never: readonly Readable[];
  readonly states: Readonly<Record<Readable, ReadState>>;
};

/** A pot of this round so far: how far off it was what was foreseen, in SD; undefined where it was not read. `ppmTimes`: the strength against what was foreseen. */
export type ReadNow = {
  readonly potId: string;
  readonly can: string | null;
  readonly off: Readonly<Partial<Record<Readable | 'left', number>>>;
  readonly ppmTimes?: number | undefined;
};

/** How much the grower will read: `little` is a quarter of all there is to read; `most`, so many dips or minutes of the round. */
export type ReadChoice =
  | { readonly how: 'everything' | 'asked' | 'little' }
  | { readonly how: 'atMost'; readonly most: number; readonly of: 'dips' | 'minutes' };

/** What a dip takes, the rinse of the pen in it, s. House rule. */
export const DIP_SECONDS = 40;
/** Only little: such a share of all readings. Nothing is promised of so few. */
const LITTLE = 1 / 4;

/** What so many dips take, whole min. */
export const dipMinutes = (dips: number): number => Math.round((dips * DIP_SECONDS) / 60);

/** Dips that a choice leaves for the rest of a round. @param all readings of the whole round; `made`: those made already */
export function dipsLeft(choice: ReadChoice, all: number, made: number): number {
  if (choice.how === 'little') return Math.max(0, Math.ceil(all * LITTLE) - made);
  if (choice.how !== 'atMost') return Infinity;
  const most = choice.of === 'dips' ? choice.most : Math.floor((choice.most * 60) / DIP_SECONDS);
  return Math.max(0, most - made);
}

/** `missed`: it was asked, and there are not so many dips. */
export type PotAsk = Ask & { readonly missed: boolean; readonly never: boolean; readonly worth: number };
export type PotAsks = { readonly id: string } & Readonly<Record<Readable, PotAsk>>;

/** What a can that was mixed double reads at the least, against what was foreseen: old water and flush take off the rest. House rule. */
const DOUBLE_TIMES = 1.25;
/** Within so many SD a mate reads as foreseen, and clears its can. */
const AS_FORESEEN = 1.5;

/** Cans that may have been mixed double: a pot of it reads so much more than foreseen, and none since as foreseen. */
function doubles(read: readonly ReadNow[]): Set<string> {
  const found = new Set<string>();
  for (const { can, off, ppmTimes = 1 } of read) {
    if (can === null || off.ppm === undefined) continue;
    if (off.ppm > SURPRISE_SD && ppmTimes > DOUBLE_TIMES) found.add(can);
    else if (Math.abs(off.ppm) < AS_FORESEEN) found.delete(can);
  }
  return found;
}

/** Something of the pot was odd on this very round: more water is left than it can be by its habit, or its other reading came as a surprise. */
const isOdd = ({ off }: ReadNow): boolean =>
  (off.left ?? 0) > SURPRISE_SD || Math.abs(off.ppm ?? 0) > SURPRISE_SD || Math.abs(off.ph ?? 0) > SURPRISE_SD;

/**
 * What is read of the pots that are due, each with its reason. Every pot's answer stands by itself, but for mates of a can that read double and for a
 * budget.
 * @param most dips at the most; infinite where all that is asked is read
 */
export function whatToRead(pots: readonly PotToRead[], read: readonly ReadNow[], most = Infinity): PotAsks[] {
  const cans = doubles(read);
  const odd = new Set(read.filter(isOdd).map(({ potId }) => potId));
  const done = new Set(read.filter(({ off }) => off.ppm !== undefined).map(({ potId }) => potId));
  const asks = pots.flatMap((pot) =>
    READABLES.map((what) => {
      const by = askOf(pot.states[what], pot.lots[what]);
      const mate = what === 'ppm' && pot.can !== null && cans.has(pot.can) && !done.has(pot.id);
      const now: AskedWhy | undefined = odd.has(pot.id) ? 'odd' : mate ? 'mate' : undefined;
      const ask: Ask = pot.never.includes(what) ? NEVER : by.asked || !now ? by : { asked: now };
      return { pot, what, ask, worth: ask.asked ? worthOf(pot.states[what], ask) : 0 };
    }),
  );
  const within = new Set(
    asks
      .filter(({ ask }) => ask.asked)
      .sort(
        (a, b) => b.worth - a.worth || (a.pot.id < b.pot.id ? -1 : a.pot.id > b.pot.id ? 1 : a.what < b.what ? -1 : 1),
      )
      .slice(0, most),
  );
  const of = new Map(asks.map((one) => [`${one.pot.id} ${one.what}`, one]));
  const told = (pot: PotToRead, what: Readable): PotAsk => {
    const one = of.get(`${pot.id} ${what}`)!;
    return {
      ...one.ask,
      missed: one.ask.asked !== null && !within.has(one),
      never: pot.never.includes(what),
      worth: one.worth,
    };
  };
  return pots.map((pot) => ({ id: pot.id, ppm: told(pot, 'ppm'), ph: told(pot, 'ph') }));
}

const NEVER: Ask = { asked: null, turnIn: Infinity };

/** Readings that are surely made, and those that may be left. */
export function countDips(asks: readonly PotAsks[]): {
  readonly asked: number;
  readonly missed: number;
  readonly pots: number;
} {
  const each = asks.flatMap((pot) => READABLES.map((what) => pot[what]));
  const made = (one: PotAsk) => one.asked !== null && !one.missed;
  return {
    asked: each.filter(made).length,
    missed: each.filter(({ missed }) => missed).length,
    pots: asks.filter((pot) => READABLES.some((what) => made(pot[what]))).length,
  };
}

/**
 * What came of reading what is asked in simulated collections, beside reading everything (`bench/read-today.ts`): share of the dips, of the troubles found
 * no more than a round later, and of those not found at all, %.
 */
export const TRIED = { collections: 40, dips: 49, inTime: 85, missed: 6 };

import type { ReadAsk, RoundPot, RoundView } from '../../contract/round.ts';
import { calibrate, liveInterval, type PotKnowledge, type Score, type SeenInterval } from '../../core/drift/index.ts';
import { GATHERING } from '../../core/judgement/index.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { daysBetween, plusDays, weekdayDayMonth } from '../../core/regimen/index.ts';
import { seedOf, Z90 } from '../../core/statistics/index.ts';
import {
  countDips,
  FORECAST_OF,
  foreseenBy,
  readAt,
  READABLES,
  readStates,
  surprise,
  TURN_EVERY,
  whatToRead,
  type AskedWhy,
  type Foreseen,
  type PotAsk,
  type PotToRead,
  type Readable,
  type ReadChoice,
  type ReadNow,
  type ReadState,
} from '../../core/what-to-read/index.ts';
import { earlierOf, memo, widthsOf, type Collection, type PotState } from '../collection/index.ts';

/** What is read of each pot of a round, and why. */
export type RoundReading = {
  readonly asks: ReadonlyMap<string, NonNullable<RoundPot['read']>>;
  readonly dips: RoundView['reading'];
};

type Known = PotState & { readonly known: PotKnowledge; readonly standing: NonNullable<PotState['standing']> };
const isKnown = (s: PotState): s is Known => s.known !== undefined && s.standing !== undefined;

/** @param due pots to do, in the order of the shelves; `done`: those filled today */
export function roundReading(
  { pots }: Collection,
  due: readonly PotState[],
  done: readonly PotState[],
  choice: ReadChoice,
  { today, scale }: { readonly today: string; readonly scale: number },
): RoundReading {
  const toRead = new Map(due.map((s) => [s.pot.id, potToRead(s, pots, today)]));
  const read = done.flatMap((s) => readToday(s, pots, today) ?? []);
  const asks = whatToRead([...toRead.values()], read, choice);
  const told = asks.map((ask, i): [string, NonNullable<RoundPot['read']>] => {
    const s = due[i]!;
    const { states } = toRead.get(s.pot.id)!;
    const of = (what: Readable) => readAsk(s, what, states[what], ask[what], scale);
    return [ask.id, { ppm: of('ppm'), ph: of('ph') }];
  });
  return { asks: new Map(told), dips: { ...countDips(asks), all: READABLES.length * due.length } };
}

const potToRead = memo((s: PotState, pots: Collection['pots'], today: string): PotToRead => {
  const lot = seedOf(s.pot.id) % TURN_EVERY;
  const filled = s.lastFill?.pouredEcUsCm;
  const ever = (what: Readable) =>
    s.fills.filter((fill) => (what === 'ppm' ? fill.cameOutEcUsCm : fill.cameOutPh) !== undefined).length;
  return {
    id: s.pot.id,
    // Its two kinds of reading have their turns on different rounds.
    lots: { ppm: lot, ph: lot + 1 },
    can: s.lastFill?.payload.batchId ?? null,
    exempt: false,
    states: readStates(s.known?.intervals ?? [], { ppm: ever('ppm'), ph: ever('ph') }, widthsThen(s, pots), {
      foreseen: isKnown(s) ? foreseenOf(s, pots, today) : { ppm: undefined, ph: undefined },
      limits: {
        ppm: filled === undefined ? [] : [Math.log(Math.max(1, filled) * GATHERING)],
        ph: [s.drawing.phLow, s.drawing.phHigh],
      },
    }),
  };
});

/** What would be read of it today. */
function foreseenOf(s: Known, pots: Collection['pots'], today: string): Record<Readable, Foreseen | undefined> {
  const days = daysBetween(s.standing.on, today);
  if (days <= 0) return { ppm: undefined, ph: undefined };
  const { foretold } = liveInterval(s.known.belief, {
    water: s.standing.water,
    days,
    season: s.known.season,
    leftMl: undefined,
    cameOutEcUsCm: undefined,
    cameOutPh: undefined,
  });
  const widths = widthsOf(s.entry, pots, s.known.kinds);
  return {
    ppm: foreseenBy(foretold, widths, 'ppm'),
    ph: s.known.phKnown ? foreseenBy(foretold, widths, 'ph') : undefined,
  };
}

/** Ranges as they were when an interval ended. */
function widthsThen({ entry }: PotState, pots: Collection['pots']) {
  return ({ endedOn, kinds }: SeenInterval) => {
    const { own, others } = earlierOf(entry, pots);
    const was = (score: Score) => score.on < endedOn;
    return calibrate({ own: own.filter(was), others: others.filter(was) }, kinds);
  };
}

/** A pot that was done today, by what it read. */
function readToday(s: PotState, pots: Collection['pots'], today: string): ReadNow | undefined {
  const interval = s.known?.intervals.at(-1);
  if (interval?.endedOn !== today) return undefined;
  const widths = widthsThen(s, pots)(interval);
  const off = Object.fromEntries(
    READABLES.flatMap((what) => {
      const read = readAt(interval, what);
      return read === undefined ? [] : [[what, surprise(read, foreseenBy(interval.foretold, widths, what))]];
    }),
  );
  const { middle, half } = interval.foretold.left;
  const left =
    interval.leftMl === undefined
      ? {}
      : { left: ((interval.leftMl / interval.filledMl - middle) * Z90) / (half * widths.left.above) };
  const ppm = readAt(interval, 'ppm');
  return {
    potId: s.pot.id,
    can: s.fills.at(-2)?.payload.batchId ?? null,
    off: { ...off, ...left },
    ppmTimes: ppm === undefined ? undefined : Math.exp(ppm - interval.foretold[FORECAST_OF.ppm].middle),
  };
}

/** An ask as it is told: why it is asked, or what is foreseen and when its turn comes. Figures on the grower's pen. */
function readAsk(s: PotState, what: Readable, state: ReadState, ask: PotAsk, scale: number): ReadAsk {
  const { foreseen } = state;
  const figure = (value: number) => (what === 'ppm' ? Math.round(ppmFromEc(Math.exp(value), scale)) : value.toFixed(1));
  const range = foreseen && {
    low: figure(foreseen.middle - Z90 * foreseen.sd),
    high: figure(foreseen.middle + Z90 * foreseen.sd),
  };
  const turnOn = ask.asked ? null : plusDays(s.due.dueOn, Math.max(1, ask.turnIn) * s.watering.everyDays);
  const limit = foreseen && nearestLimit(state);
  return {
    asked: ask.asked,
    missed: ask.missed,
    turnOn: ask.exempt ? null : turnOn,
    words: ask.exempt
      ? 'Never asked: you said so.'
      : ask.asked
        ? askedWords(ask.asked, state, limit === undefined ? '' : `${what === 'ph' ? 'pH ' : ''}${figure(limit)}`)
        : `Leave it: ${range!.low} to ${range!.high} foreseen, ${unreadWords(state.unread)}; its turn is ${weekdayDayMonth(turnOn!)}.`,
  };
}

const nearestLimit = ({ foreseen, limits }: ReadState): number | undefined =>
  foreseen && [...limits].sort((a, b) => Math.abs(a - foreseen.middle) - Math.abs(b - foreseen.middle))[0];

const unreadWords = (unread: number) =>
  unread === 0 ? 'read last time' : unread === 1 ? 'not read last time' : `not read for ${unread} rounds`;

function askedWords(why: AskedWhy, state: ReadState, limit: string): string {
  const rounds = state.unread === Infinity ? 'never read in this clay' : unreadWords(state.unread);
  const words: Record<AskedWhy, string> = {
    first: 'Little is known of it yet: its first readings.',
    repotted: 'New clay: read it until it is known.',
    surprised: 'It came out other than foreseen: read it until it does so no more.',
    odd: 'Something was odd today: read the rest of it.',
    mate: 'Another pot of the same can read far more than foreseen: was the can mixed double?',
    leaning: 'It leaned last time: this tells whether that was chance.',
    near: `${cap(rounds)}, and near ${limit}.`,
    turn: `Its turn: ${rounds}. Nothing is suspected; this is how the unexpected is found.`,
  };
  return words[why];
}
const cap = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

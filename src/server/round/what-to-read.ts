import type { ReadAsk, RoundPot, RoundView } from '../../contract/round.ts';
import { liveInterval, type PotKnowledge, type SeenInterval } from '../../core/drift/index.ts';
import { GATHERING } from '../../core/judgement/index.ts';
import { ppmFromEc, upperFirst } from '../../core/quantity/index.ts';
import { daysBetween, plusDays, weekdayDayMonth } from '../../core/regimen/index.ts';
import { seedOf, Z90 } from '../../core/statistics/index.ts';
import {
  countDips,
  dipMinutes,
  dipsLeft,
  FORECAST_OF,
  foreseenBy,
  readAt,
  READABLES,
  readStates,
  surprise,
  SURPRISE_SD,
  TURN_EVERY,
  whatToRead,
  type AskedWhy,
  type PotAsk,
  type PotToRead,
  type Readable,
  type ReadNow,
  type ReadState,
} from '../../core/what-to-read/index.ts';
import {
  checkDueOn,
  memo,
  memoOfFigures,
  penAtHand,
  widthsBefore,
  type Collection,
  type PotState,
} from '../collection/index.ts';

/** What is read of each pot of a round, and why. */
export type RoundReading = {
  readonly asks: ReadonlyMap<string, NonNullable<RoundPot['read']>>;
  readonly told: RoundView['reading'];
};

type Known = PotState & { readonly known: PotKnowledge; readonly standing: NonNullable<PotState['standing']> };
const isKnown = (s: PotState): s is Known => s.known !== undefined && s.standing !== undefined;
type Of = { readonly today: string; readonly scale: number };

/** @param due pots to do, in the order of the shelves; `done`: those filled today */
export function roundReading(
  { pots, meters, settings }: Collection,
  due: readonly PotState[],
  done: readonly PotState[],
  { today, scale }: Of,
): RoundReading {
  const { reading: choice, zone } = settings;
  const never = new Set(settings.neverRead);
  const kinds = READABLES.filter((what) => penAtHand(meters, PEN_OF[what]));
  const penless = READABLES.filter((what) => !kinds.includes(what));
  const toRead = due.map((s) => ({
    ...potToRead(s, pots, today),
    never: never.has(s.pot.id) ? READABLES : penless,
  }));
  const read = done.flatMap((s) => readToday(s, pots, today) ?? []);
  const all = kinds.length * (due.length + done.length);
  const made = done.reduce((sum, s) => sum + dipsOf(s), 0);
  const asks = whatToRead(toRead, read, dipsLeft(choice, all, made));
  const told = asks.map((ask, i): [string, NonNullable<RoundPot['read']>] => {
    const s = due[i]!;
    const { states } = toRead[i]!;
    const of = (what: Readable) => readAsk(s, what, states[what], ask[what], scale);
    return [
      ask.id,
      { ppm: of('ppm'), ph: of('ph'), leftAboveMl: leftAbove(s, pots, today), never: never.has(s.pot.id) },
    ];
  });
  const { asked, missed, pots: potsRead } = countDips(asks);
  const left = kinds.length * due.length;
  const little = Math.min(asked + missed, dipsLeft({ how: 'little' }, all, made));
  const dips = choice.how === 'everything' ? left : asked;
  return {
    asks: new Map(told),
    told: {
      choice,
      asked: asked + missed,
      made: dips,
      missed,
      all: left,
      little,
      done: made,
      pots: choice.how === 'everything' ? due.length : potsRead,
      minutes: {
        everything: dipMinutes(left),
        asked: dipMinutes(asked + missed),
        little: dipMinutes(little),
        made: dipMinutes(dips),
      },
      never: due.filter((s) => never.has(s.pot.id)).map((s) => s.pot.code),
      pens: pensDue(meters, zone, today),
    },
  };
}

const PEN_OF = { ppm: 'ppm', ph: 'pH' } as const satisfies Record<Readable, string>;

const dipsOf = ({ lastFill }: PotState): number =>
  Number(lastFill?.cameOutEcUsCm !== undefined) + Number(lastFill?.cameOutPh !== undefined);

/** Pens at hand whose look in a standard is due. A pen that drifts is hardly found from pots: it is asked for by the calendar, whatever readings say. */
function pensDue(meters: Collection['meters'], zone: string, today: string): RoundView['reading']['pens'] {
  return (['ppm', 'pH'] as const).flatMap((quantity) => {
    const at = penAtHand(meters, quantity);
    const meter = at && meters.get(at.id);
    if (!meter || meter.kind !== 'pen') return [];
    const dueOn = checkDueOn(meter, zone);
    const where = quantity === 'pH' ? 'buffer' : 'a standard';
    if (dueOn === null) return [{ meterId: meter.id, words: `${meter.name} was never seen in ${where}` }];
    return dueOn > today ? [] : [{ meterId: meter.id, words: `${meter.name} is due in ${where}` }];
  });
}

const potToRead = memo((s: PotState, pots: Collection['pots'], today: string): PotToRead => {
  const lot = seedOf(s.pot.id) % TURN_EVERY;
  const filled = s.lastFill?.pouredEcUsCm;
  const ever = (what: Readable) =>
    s.fills.filter((fill) => (what === 'ppm' ? fill.cameOutEcUsCm : fill.cameOutPh) !== undefined).length;
  const foreseen = foreseenOf(s, pots, today);
  return {
    id: s.pot.id,
    // Its two kinds of reading have their turns on different rounds.
    lots: { ppm: lot, ph: lot + 1 },
    can: s.lastFill?.payload.batchId ?? null,
    never: [],
    states: readStates(s.known?.intervals ?? [], { ppm: ever('ppm'), ph: ever('ph') }, widthsThen(s, pots), {
      foreseen: { ppm: foreseen?.ppm, ph: foreseen?.ph },
      limits: {
        ppm: filled === undefined ? [] : [Math.log(Math.max(1, filled) * GATHERING)],
        ph: [s.drawing.phLow, s.drawing.phHigh],
      },
    }),
  };
});

/** With so much left something is wrong with it, mL. */
function leftAbove(s: PotState, pots: Collection['pots'], today: string): number | null {
  const left = foreseenOf(s, pots, today)?.left;
  return left && isKnown(s) ? (left.middle + SURPRISE_SD * left.sd) * s.standing.water.reservoirMl : null;
}

/** What would be read of it today, and what is left of its fill; by what was known before today, so that it stands through the round. */
function foreseenOf(s: PotState, pots: Collection['pots'], today: string) {
  const foretold = foretoldOf(s, today);
  if (!foretold || !isKnown(s)) return undefined;
  const widths = widthsBefore(s.entry, pots, today, s.known.kinds);
  return {
    ppm: foreseenBy(foretold, widths, 'ppm'),
    ph: s.known.phKnown ? foreseenBy(foretold, widths, 'ph') : undefined,
    left: { middle: foretold.left.middle, sd: (foretold.left.half * widths.left.above) / Z90 },
  };
}

const foretoldOf = memo((s: PotState, today: string) => {
  if (!isKnown(s)) return undefined;
  const days = daysBetween(s.standing.on, today);
  if (days <= 0) return undefined;
  return liveInterval(s.known.belief, {
    water: s.standing.water,
    days,
    season: s.known.season,
    leftMl: undefined,
    cameOutEcUsCm: undefined,
    cameOutPh: undefined,
  }).foretold;
});

/** Ranges as they were when an interval ended. */
const widthsThen =
  ({ entry }: PotState, pots: Collection['pots']) =>
  ({ endedOn, kinds }: SeenInterval) =>
    widthsBefore(entry, pots, endedOn, kinds);

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
  const onPen = (value: number) => (what === 'ppm' ? ppmFromEc(Math.exp(value), scale) : value);
  const figure = (value: number) => onPen(value).toFixed(what === 'ppm' ? 0 : 1);
  const at = (sds: number) => foreseen!.middle + sds * foreseen!.sd;
  const turnOn = ask.asked || ask.never ? null : plusDays(s.due.dueOn, Math.max(1, ask.turnIn) * s.watering.everyDays);
  const range = foreseen ? `${figure(at(-Z90))} to ${figure(at(Z90))}` : '';
  const words = ask.asked
    ? askedWords(ask.asked, state, what, figure)
    : ask.never
      ? { short: 'never asked', long: 'Never asked.' }
      : {
          short: `${range} foreseen; its turn is ${shortDay(turnOn!)}`,
          long: `Leave it: ${range} foreseen, ${unreadWords(state.unread)}; its turn is ${fullDay(turnOn!)}.`,
        };
  return {
    asked: ask.asked,
    missed: ask.missed,
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
    first: { short: 'its first readings', long: 'Little is known of it yet: its first readings.' },
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
      short: `its turn, ${rounds}`,
      long: `Its turn: ${rounds}. Nothing is suspected; this is how the unexpected is found.`,
    },
  };
  return words[why];
}

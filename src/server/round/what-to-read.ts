import type { RoundPot, RoundView } from '../../contract/round.ts';
import { liveInterval, type PotKnowledge, type SeenInterval } from '../../core/drift/index.ts';
import { GATHERING, PH_DRIFTING, PH_LOW } from '../../core/judgement/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
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
  type PotToRead,
  type Readable,
  type ReadNow,
} from '../../core/what-to-read/index.ts';
import { checkDueOn, memo, penAtHand, widthsBefore, type Collection, type PotState } from '../collection/index.ts';
import { readAsk } from './read-words.ts';

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
    const of = (what: Readable) =>
      readAsk(s, what, { state: states[what], ask: ask[what], hasPen: kinds.includes(what) }, scale);
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
        ph: [PH_LOW, PH_DRIFTING],
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

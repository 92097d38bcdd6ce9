import { placeYear } from '../../contract/pots.ts';
import {
  calibrate,
  CLAY_OF_POTS_AT_LARGE,
  clayOf,
  FORECAST_KINDS,
  knowInClay,
  priorOfClay,
  scoresOf,
  type Alone,
  type Earlier,
  type ForecastKind,
  type PotKnowledge,
  type Score,
  type Widths,
} from '../../core/drift/index.ts';
import { thirstByMonth, usualYear, type ToldDay } from '../../core/reservoir/index.ts';
import type { Gaussian } from '../../core/statistics/index.ts';
import type { Place, Pot } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import type { Collection } from './collection.ts';
import type { KeptLessons } from './kept-lessons.ts';
import { goesOnFrom, learnPot, type Learned, type LogOfPot } from './learn-pot.ts';
import { SCORES_OF_OTHERS } from './look-back.ts';
import { memo, memoOfFigures } from './memo.ts';
import { inPool } from './pool.ts';
import type { PotEntry } from './pots.ts';
import { slices } from './slices.ts';
import { driedAfter, type SoakFound } from './soak-found.ts';
import type { SoakLogged } from './soak-tests.ts';
import type { Visits } from './visits.ts';

/** How thirsty each month makes the pots on a place: as measured there, and where nobody did, as is usual for such a place. */
export const thirstOf = memo((place: Place, latitude: number): readonly number[] => {
  const usual = usualYear(place.light, latitude);
  const own = readJson(placeYear, place.year);
  const over = (figures: readonly number[], mine: readonly (number | null)[] | undefined) =>
    figures.map((figure, i) => mine?.[i] ?? figure);
  return thirstByMonth({
    temperatureC: over(usual.temperatureC, own?.temperatureC),
    humidityPct: over(usual.humidityPct, own?.humidityPct),
    light: usual.light,
  });
});

const NONE_TOLD: readonly ToldDay[] = [];
/** Days on a place that were otherwise than their month. */
export const toldOf = memo((place: Place): readonly ToldDay[] => readJson(placeYear, place.year)?.days ?? NONE_TOLD);

/** What is learned of a pot, here or in a thread: worked out once for the same log. */
type Lesson = {
  readonly potId: string;
  readonly log: LogOfPot;
  learned?: Learned;
  underWay?: Promise<void>;
  key?: Buffer;
  written?: boolean;
};

const lessonOf = memo(
  (
    { fills, topUps }: Visits,
    soakTests: readonly SoakLogged[],
    dried: readonly string[],
    thirst: readonly number[],
    told: readonly ToldDay[],
    medium: Pot['medium'],
    reservoirMl: number,
    repottedOn: string | null,
    // Last of all: what is kept by it goes with the objects before it.
    potId: string,
  ): Lesson => ({
    potId,
    log: { visits: { fills, topUps }, soakTests, dried, thirst, told, medium, reservoirMl, repottedOn },
  }),
);

const lesson = memo(({ pot, place, latitude, visits, soakTests, dried }: PotEntry): Lesson =>
  lessonOf(
    visits,
    soakTests,
    dried,
    thirstOf(place, latitude),
    toldOf(place),
    pot.medium,
    pot.reservoirMl,
    pot.repottedOn,
    pot.id,
  ),
);

/** Everything that what is learned of a pot depends on. */
export const logOf = (entry: PotEntry): LogOfPot => lesson(entry).log;

/** A pot as its own log tells of it; undefined where that tells nothing. */
export const knownAlone = (entry: PotEntry): Alone | undefined => learnedOf(entry).alone;

/** Every soak test of a pot, with what it says, oldest first. */
export const soaksFound = memo((entry: PotEntry): readonly SoakFound[] => {
  const { soaks } = learnedOf(entry);
  return entry.soakTests.map((soak, i) => ({ soak, ...soaks[i]!, driedSince: driedAfter(soak.at, entry.dried) }));
});

function learnedOf(entry: PotEntry): Learned {
  const of = lesson(entry);
  return of.learned ?? learnHere(of);
}

/** Of so many pots it is known where their learning went on from: those that were touched last. */
const LATELY_LEARNED = 1000;
/** The lesson that was last learned of a pot: where the next one may go on from. It is checked line by line, and so can change no answer. */
const lastOf = memoOfFigures((_potId: string): { lesson?: Lesson } => ({}), LATELY_LEARNED);

function learnHere(of: Lesson): Learned {
  const before = lastOf(of.potId).lesson;
  const followed = before?.learned?.alone?.followed;
  return learned(of, learnPot(of.log, before && followed && goesOnFrom(of.log, before.log, followed)));
}

function learned(of: Lesson, what: Learned): Learned {
  of.learned ??= told(what);
  lastOf(of.potId).lesson = of;
  return of.learned;
}

function told(learned: Learned): Learned {
  if (learned.trouble) console.error('A pot cannot be reckoned:', learned.trouble);
  return learned;
}

/** How many of the kept pots are learned. */
export function reckoned({ pots }: Pick<Collection, 'pots'>): { readonly done: number; readonly of: number } {
  const kept = keptPots(pots);
  return { done: kept.filter((entry) => lesson(entry).learned).length, of: kept.length };
}

/** More pots than this are learned in threads; few are sooner learned than told to one. */
const FEW = 60;
const AT_ONCE = 16;

/** Learns what is not learned yet of the kept pots, without holding up anybody. @param kept what was learned before the last start */
export async function learnAll({ pots }: Pick<Collection, 'pots'>, kept?: KeptLessons): Promise<void> {
  const unlearned = keptPots(pots).filter((entry) => !lesson(entry).learned);
  if (kept) await recallWhatIs(kept, unlearned);
  await learnNew(unlearned.map(lesson).filter((of) => !of.learned));
  if (kept) await keepWhatIsNew(kept, unlearned);
}

/** Pots looked for, or written down, at one go. */
const RECALLED_AT_ONCE = 20;

async function recallWhatIs(kept: KeptLessons, unlearned: readonly PotEntry[]): Promise<void> {
  const pause = slices();
  for (let i = 0; i < unlearned.length; i += RECALLED_AT_ONCE) {
    const asked = unlearned.slice(i, i + RECALLED_AT_ONCE).map((entry) => {
      const of = lesson(entry);
      return { of, potId: entry.pot.id, key: (of.key ??= kept.keyOf(of.log)) };
    });
    const recalled = kept.recall(asked);
    for (const { of, potId } of asked) {
      const found = recalled.get(potId);
      if (!found) continue;
      learned(of, found);
      of.written = true;
    }
    await pause();
  }
}

async function keepWhatIsNew(kept: KeptLessons, entries: readonly PotEntry[]): Promise<void> {
  const pause = slices();
  const fresh = entries.flatMap((entry) => {
    const of = lesson(entry);
    if (!of.key || !of.learned || of.written) return [];
    of.written = true;
    return [{ potId: entry.pot.id, key: of.key, learned: of.learned }];
  });
  for (let i = 0; i < fresh.length; i += RECALLED_AT_ONCE) {
    kept.keep(fresh.slice(i, i + RECALLED_AT_ONCE));
    await pause();
  }
}

async function learnNew(missing: readonly Lesson[]): Promise<void> {
  const pause = slices();
  if (missing.length <= FEW) {
    for (const of of missing) {
      if (!of.learned) learnHere(of);
      await pause();
    }
    return;
  }
  const fresh = missing.filter((of) => !of.underWay);
  for (let i = 0; i < fresh.length; i += AT_ONCE) {
    const some = fresh.slice(i, i + AT_ONCE);
    const learning = learnTogether(some);
    for (const of of some) of.underWay = learning;
    await pause();
  }
  for (const of of missing) await of.underWay;
}

/** In a thread; here, where there is no thread to be had. */
async function learnTogether(some: readonly Lesson[]): Promise<void> {
  let all: readonly Learned[];
  try {
    all = await inPool(
      'learn',
      some.map((of) => of.log),
    );
  } catch (error) {
    console.error('No thread could reckon:', error);
    const pause = slices();
    for (const of of some) {
      if (!of.learned) learnHere(of);
      await pause();
    }
    return;
  }
  for (const [i, of] of some.entries()) learned(of, all[i]!);
}

const keptPots = memo((pots: ReadonlyMap<string, PotEntry>): readonly PotEntry[] =>
  [...pots.values()].filter(({ pot }) => pot.retiredOn === null),
);

/** Clays are told apart by their names. */
const clayKey = (clay: string | null) => (clay ?? '').trim().toLowerCase();

/** Pots that are kept, by the clay they stand in. */
const byClay = memo((pots: ReadonlyMap<string, PotEntry>): ReadonlyMap<string, readonly PotEntry[]> => {
  const clays = new Map<string, PotEntry[]>();
  for (const entry of [...keptPots(pots)].sort((a, b) => (a.pot.id < b.pot.id ? -1 : 1))) {
    const name = clayKey(entry.pot.clay);
    const mates = clays.get(name);
    if (mates) mates.push(entry);
    else clays.set(name, [entry]);
  }
  return clays;
});

const clayKnown = memo((alone: Alone): Gaussian => clayOf(alone.belief));

/** What each clay says of a pot in it; the same object as long as it says the same. */
const priors = memo((pots: ReadonlyMap<string, PotEntry>): ReadonlyMap<string, Gaussian> => {
  const told = [...byClay(pots)].flatMap(([name, mates]): [string, Gaussian][] => {
    if (name === '') return [];
    const prior = priorOfClay(
      mates.flatMap((entry) => {
        const alone = knownAlone(entry);
        return alone && alone.belief.seen.alkali > 0 ? [clayKnown(alone)] : [];
      }),
    );
    if (prior === CLAY_OF_POTS_AT_LARGE) return [];
    const { mean, covariance } = prior;
    return [[name, asTold(mean[0]!, mean[1]!, covariance[0]![0]!, covariance[1]![1]!)]];
  });
  return new Map(told);
});
const asTold = memo((...[m0, m1, v0, v1]: number[]): Gaussian => ({
  mean: [m0!, m1!],
  covariance: [
    [v0!, 0],
    [0, v1!],
  ],
}));

const inClay = memo(knowInClay);

/** What is known of a pot, with what it borrows from the others in its clay; undefined where it was never filled with a mix that is known. */
export function knownOf(entry: PotEntry, pots: ReadonlyMap<string, PotEntry>): PotKnowledge | undefined {
  const alone = knownAlone(entry);
  return alone && inClay(alone, priors(pots).get(clayKey(entry.pot.clay)) ?? CLAY_OF_POTS_AT_LARGE);
}

/** Of each pot's forecasts the last few count for the others. */
const OF_EACH_POT = 8;

const scored = memo((potId: string, alone: Alone): readonly Score[] =>
  alone.intervals.flatMap((interval) => scoreOf(potId, interval)),
);
/** Each by itself, so that those before a new one stay the same. */
const scoreOf = memo((potId: string, interval: Alone['intervals'][number]) => scoresOf(potId, [interval]));

/** How the last forecasts of all pots came true, oldest first. */
export const latelyOf = memo((pots: ReadonlyMap<string, PotEntry>): readonly Score[] => lastOfEach(pots, scoredOf));

const scoredOf = (entry: PotEntry): readonly Score[] => {
  const alone = knownAlone(entry);
  return alone ? scored(entry.pot.id, alone) : [];
};
const scoredBefore = memo((entry: PotEntry, day: string) => scoredOf(entry).filter(({ on }) => on < day));

const lastOfEach = (pots: ReadonlyMap<string, PotEntry>, of: (entry: PotEntry) => readonly Score[]): Score[] =>
  keptPots(pots)
    .flatMap((entry) => of(entry).slice(-OF_EACH_POT))
    .sort((a, b) => (a.on < b.on ? -1 : a.on > b.on ? 1 : a.potId < b.potId ? -1 : 1));

/** How forecasts came true: of a pot, and of others. */
export const earlierOf = memo((entry: PotEntry, pots: ReadonlyMap<string, PotEntry>): Earlier => ({
  own: scoredOf(entry),
  others: latelyOf(pots)
    .filter(({ potId }) => potId !== entry.pot.id)
    .slice(-SCORES_OF_OTHERS),
}));

/** How wide a pot's ranges have to be to hold, by how earlier ones did. */
export const widthsOf = (
  entry: PotEntry,
  pots: ReadonlyMap<string, PotEntry>,
  kinds: readonly ForecastKind[],
): Widths => widthsByKinds(entry, pots, kinds.join());

const widthsByKinds = memo((entry: PotEntry, pots: ReadonlyMap<string, PotEntry>, kinds: string): Widths =>
  calibrate(
    earlierOf(entry, pots),
    FORECAST_KINDS.filter((kind) => kinds.split(',').includes(kind)),
  ),
);

/** So many of others are enough to say whether a reading is near a limit: it is asked of every pot of a round after every act. */
const FEW_OTHERS = 60;
/** The same scores in the same order are one list. */
const asOneList = memo((...scores: Score[]): readonly Score[] => scores);
/** The last of all forecasts before a day, the same list as long as none of those changes. */
const latelyBefore = memo((pots: ReadonlyMap<string, PotEntry>, day: string): readonly Score[] =>
  asOneList(...lastOfEach(pots, (entry) => scoredBefore(entry, day)).slice(-FEW_OTHERS - OF_EACH_POT)),
);

/** How wide a pot's ranges had to be by what was known before a day: what comes in on that day changes nothing of it. */
export const widthsBefore = (
  entry: PotEntry,
  pots: ReadonlyMap<string, PotEntry>,
  day: string,
  kinds: readonly ForecastKind[],
): Widths => widthsThen(entry, latelyBefore(pots, day), day, kinds.join());

const widthsThen = memo((entry: PotEntry, lately: readonly Score[], day: string, kinds: string): Widths =>
  calibrate(
    {
      own: scoredBefore(entry, day),
      others: lately.filter(({ potId }) => potId !== entry.pot.id).slice(-FEW_OTHERS),
    },
    FORECAST_KINDS.filter((kind) => kinds.split(',').includes(kind)),
  ),
);

import {
  MODELS_AT_ONCE,
  type DriftChoices,
  type DriftPot,
  type DriftRoom,
  type PotDrift,
  type PotModelWire,
} from '../../contract/drift.ts';
import {
  aheadOf,
  compareSoaks,
  driftShares,
  lostFeed,
  natureOf,
  strengthOf,
  type PotToPour,
} from '../../core/drift/index.ts';
import { ppmFromEc, volumeWords } from '../../core/quantity/index.ts';
import { daysBetween, localTimeOf, mixKey, plusDays } from '../../core/regimen/index.ts';
import { anchoredAt, scaleComposition } from '../../core/solution/index.ts';
import {
  batchesSince,
  flushNow,
  flushWaters,
  growersScale,
  inUse,
  isFollowed,
  leftOf,
  mainMeter,
  memo,
  MIX_KEEPS_DAYS,
  mixAimOf,
  offWords,
  penAtHand,
  potStates,
  soaksFound,
  widthsOf,
  type Collection,
  type Followed,
  type Meters,
  type PotState,
  type SoakFound,
  type WaterAtHand,
} from '../collection/index.ts';
import { toDriftPot } from './drift-pot.ts';
import { litresFor, mixAlone, nextMix, potsOfBatch, pourOf, type NextMix } from './next-pour.ts';
import { modelOf } from './pot-model.ts';
import { soakViewOf } from './soak-view.ts';
import { treatmentsOf } from './treatments.ts';

/** Everything the room shows but the pot that is looked at. */
export function driftViewOf(collection: Collection, now: Date, today: string): DriftRoom {
  return { ...roomOf(collection, today), now: now.toISOString() };
}

const roomOf = memo((collection: Collection, today: string): Omit<DriftRoom, 'now'> => {
  const { meters, settings } = collection;
  const scale = growersScale(meters);
  const states = potStates(collection, today);
  const waters = flushWaters(collection.waters);
  const pots = states.filter(isFollowed).map((s) => toDriftPot(s, waters, today, scale, settings.units));
  return {
    today,
    scale,
    ppmMeter: penAtHand(meters, 'ppm'),
    phMeter: penAtHand(meters, 'pH'),
    penNote: penNote(meters, settings.zone),
    pots,
    unknown: states
      .filter((s) => !isFollowed(s))
      .map(({ pot, drawing, entry }) => ({
        id: pot.id,
        code: pot.code,
        name: pot.name || pot.plant,
        drawing,
        fillMl: pot.fillMl,
        soaks: soaksFound(entry).map((found) => soakViewOf(found, pot, scale)),
        compared: comparedWords(soaksFound(entry)),
      })),
    clays: claysOf(pots),
    soaking: states.flatMap(({ entry, pot }) =>
      soaksFound(entry)
        .filter(({ soak }) => soak.ended === undefined)
        .map((found) => soakViewOf(found, pot, scale)),
    ),
    treatments: treatmentsOf(collection, states),
  };
});

/** One pot: as it stands, the filling that comes, its tests and what was tried. @returns undefined for no such pot, or none that can be followed */
export const potDriftOf = memo((collection: Collection, potId: string, today: string): PotDrift | undefined => {
  const scale = growersScale(collection.meters);
  const states = potStates(collection, today);
  const s = states.find((state) => state.pot.id === potId);
  if (!s || !isFollowed(s)) return undefined;
  const waters = flushWaters(collection.waters);
  const next = nextMix(collection, [s]);
  if (!next) return undefined;
  const { key } = next;
  const pour = pourOf(collection, s, next, today);
  const soaks = soaksFound(s.entry);
  const together = potsOfBatch(states, key, s.due.dueOn > today ? s.due.dueOn : today);
  const batch = batchesSince(collection.batches, today).find(
    ({ row }) => row.mixKey === key && row.status !== 'abandoned' && !row.emptied && row.startedOn === today,
  );
  const pot = toDriftPot(s, waters, today, scale, collection.settings.units);
  const { pourPhLow, pourPhHigh } = s.watering;
  return {
    pot,
    now: modelOf(
      s,
      {
        ...s.known,
        water: s.standing.water,
        window: pour.window,
        ...widthsNow(collection, s, today),
      },
      Math.max(0, daysBetween(s.standing.on, today)),
    ),
    next: {
      model: modelOf(
        s,
        {
          water: pour.water,
          belief: pour.belief,
          season: pour.season,
          window: pour.window,
          phKnown: true,
          ahead: pour.ahead,
          widths: widthsOf(s.entry, collection.pots, pour.ahead.kinds),
        },
        0,
      ),
      everyDays: s.watering.everyDays,
      mixKey: key,
      aim: mixAimOf(s.watering, (ec) => ppmFromEc(ec, scale)),
      litres: litresFor(together.length > 0 ? together : [s]),
      pots: Math.max(1, together.length),
      naturalPh: next.naturalPh,
      batch: batch && batch.row.status !== 'abandoned' ? { id: batch.row.id, status: batch.row.status } : null,
      pourPh: { low: pourPhLow, high: pourPhHigh },
    },
    shares: sharesOf(s, next, pour, waters),
    lost: lostOf(s, next, pot),
    soaks: soaks.map((found) => soakViewOf(found, s.pot, scale)),
    compared: comparedWords(soaks),
  };
});

/** The next mix of a key, where any pot that can be followed is given it. */
export function nextOfKey(collection: Collection, key: string, today: string): NextMix | undefined {
  return nextMix(
    collection,
    potStates(collection, today)
      .filter(isFollowed)
      .filter((s) => mixKey(s.watering) === key),
  );
}

/** What a pot can be filled with for a test. */
export function choicesOf({ batches, drawn, waters, settings }: Collection, today: string): DriftChoices {
  const { units, zone } = settings;
  const made = batchesSince(batches, plusDays(today, -MIX_KEEPS_DAYS)).filter(
    ({ row }) => row.status === 'poured' && !row.emptied && row.use === 'feed',
  );
  return {
    batches: made.slice(0, MOST_CHOICES).flatMap((batch) => {
      const { id, name, startedOn, startedAt } = batch.row;
      const leftMl = leftOf(batch, drawn);
      const when = startedOn === today ? `made ${localTimeOf(new Date(startedAt), zone)}` : startedOn;
      return leftMl >= LEAST_ML ? [{ id, words: `${name}, ${when}, ${volumeWords(leftMl, units)} left` }] : [];
    }),
    waters: inUse(waters).map(({ row }) => ({ id: row.id, name: row.name })),
  };
}

const MOST_CHOICES = 12;
/** Less than so much fills no pot. */
const LEAST_ML = 50;

/** How wide the ranges of what stands in a pot are, by what is special about it until its visit. */
function widthsNow({ pots }: Collection, s: Followed, today: string) {
  const visit = s.due.dueOn > today ? s.due.dueOn : today;
  const toppedUp = s.topUps.some((t) => t.at > s.lastFill!.at);
  const ahead = aheadOf(s.known, daysBetween(s.known.filledOn, visit), toppedUp);
  return { ahead, widths: widthsOf(s.entry, pots, ahead.kinds) };
}

/** A pot as it stands, for the page to play on. */
const modelNow = (collection: Collection, s: Followed, today: string): PotModelWire =>
  modelOf(
    s,
    {
      ...s.known,
      water: s.standing.water,
      window: { low: s.drawing.phLow, high: s.drawing.phHigh },
      ...widthsNow(collection, s, today),
    },
    Math.max(0, daysBetween(s.standing.on, today)),
  );

/** Models of the pots in shelf order, so many at a time: each is some thousand figures. */
export const modelsOf = (collection: Collection, from: number, today: string): PotModelWire[] =>
  potStates(collection, today)
    .filter(isFollowed)
    .slice(from, from + MODELS_AT_ONCE)
    .map((s) => modelNow(collection, s, today));

/** A pot as the room's list has it. */
export const driftPotOf = (
  { waters, meters, settings }: Collection,
  s: PotState,
  today: string,
): DriftPot | undefined =>
  isFollowed(s) ? toDriftPot(s, flushWaters(waters), today, growersScale(meters), settings.units) : undefined;

/** Clays with several pots: their mean, and how far a pot of it may lie from it. */
function claysOf(pots: readonly DriftPot[]): DriftRoom['clays'] {
  const byClay = new Map<string, DriftPot[]>();
  for (const pot of pots) if (pot.clay) byClay.set(pot.clay, [...(byClay.get(pot.clay) ?? []), pot]);
  return [...byClay].flatMap(([name, members]) => {
    if (members.length < 3) return [];
    const mean = members.reduce((sum, p) => sum + p.weekUeq.mean, 0) / members.length;
    const sd = Math.sqrt(members.reduce((sum, p) => sum + (p.weekUeq.mean - mean) ** 2, 0) / (members.length - 1));
    return [{ name, pots: members.length, weekUeq: { mean, sd } }];
  });
}

function penNote(meters: Meters, zone: string): string | null {
  const pen = mainMeter(meters, 'pH');
  if (!pen) return null;
  const off = offWords(pen, zone);
  return off ? `${pen.name} ${off}` : null;
}

function sharesOf(s: Followed, next: NextMix, pour: PotToPour, waters: readonly WaterAtHand[]): PotDrift['shares'] {
  const days = s.watering.everyDays;
  const nature = natureOf(pour.belief, pour.water, pour.season);
  const shares = driftShares(mixAlone(next, s.pot.fillMl), pour.water, nature, days);
  const last = flushNow(s, waters).stages.at(-1);
  return { ...shares, flushWater: waters.find((w) => w.id === last?.waterId)?.name ?? null };
}

/** Under this pH hardly anything drops out of a feed. */
const DROPS_ABOVE_PH = 7.5;

/** What may drop out of the reservoir by the next visit. */
function lostOf(s: Followed, next: NextMix, pot: DriftPot): PotDrift['lost'] {
  const { ph, leftMl } = pot.atVisit;
  if (ph === null || ph <= DROPS_ABOVE_PH) return null;
  const { course, on } = s.standing;
  const day = Math.min(course.ph.length - 1, Math.max(0, daysBetween(on, s.due.dueOn)));
  const strength = strengthOf(next.mix.curve, course.ecUsCm[day]!);
  const body = anchoredAt(scaleComposition(next.mix.total, strength), ph);
  const lost = body && lostFeed(body);
  if (!lost) return null;
  // Salts that grew in since it was filled are in the reservoir and in the pores.
  const litres = (leftMl + s.known.water.poreMl) / 1000;
  const elements = (['P', 'Ca', 'Mg', 'Fe'] as const).flatMap((element) => {
    const mg = (lost.elements[element] ?? 0) * litres;
    return mg >= 0.05 ? [{ element, mg: Number(mg.toFixed(2)) }] : [];
  });
  const crustMg = (lost.calciteMgL + lost.brushiteMgL) * litres;
  return elements.length === 0 ? null : { ph, elements, crustMg: Number(crustMg.toFixed(1)) };
}

function comparedWords(soaks: readonly SoakFound[]): string | null {
  const told = soaks.filter((f) => f.result.ok && f.test);
  const [a, b] = told.slice(-2);
  if (!a?.test || !b?.test) return null;
  const toCompare = ({ test, result }: SoakFound) => ({
    kind: test!.kind,
    covered: test!.covered,
    minutes: test!.readings.at(-1)?.minutes ?? 0,
    result,
  });
  return compareSoaks(toCompare(a), toCompare(b)).words;
}

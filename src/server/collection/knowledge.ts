import { placeYear } from '../../contract/pots.ts';
import { knowAlone, knowInClay, POTS_AT_LARGE, priorOfClay, type Alone, type FillSeen, type PotBelief, type PotKnowledge } from '../../core/drift/index.ts';
import { PORES_PER_RESERVOIR, thirstByMonth, usualYear } from '../../core/reservoir/index.ts';
import type { Place, Pot } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { memo } from './memo.ts';
import { mixOf, waterMix } from './mixes.ts';
import type { PotEntry } from './pots.ts';
import { soaksFound } from './soak-found.ts';
import type { SoakLogged } from './soak-tests.ts';
import { pouredOnBetween, type Fill, type Visits } from './visits.ts';
import { plainWater } from './waters.ts';

/** Water that stays in a drained pot by what it grows in, mL for each mL of its reservoir. */
const PORES: Readonly<Record<string, number>> = { clay: PORES_PER_RESERVOIR, bark: 0.15, water: 0.02, basket: PORES_PER_RESERVOIR };
export const poresOf = (pot: Pick<Pot, 'medium' | 'reservoirMl'>) => Math.max(1, (PORES[pot.medium] ?? PORES_PER_RESERVOIR) * pot.reservoirMl);

/** How thirsty each month makes the pots on a place: as measured there, and where nobody did, as is usual for such a place. */
export const thirstOf = memo((place: Place, latitude: number): readonly number[] => {
  const usual = usualYear(place.light, latitude);
  const own = readJson(placeYear, place.year);
  const over = (figures: readonly number[], mine: readonly (number | null)[] | undefined) => figures.map((figure, i) => mine?.[i] ?? figure);
  return thirstByMonth({
    temperatureC: over(usual.temperatureC, own?.temperatureC),
    humidityPct: over(usual.humidityPct, own?.humidityPct),
    light: usual.light,
  });
});

/** A pot as its own log tells of it; undefined where that tells nothing. */
export const knownAlone = memo(({ pot, place, latitude, visits, soakTests, dried }: PotEntry): Alone | undefined =>
  aloneOf(visits, soakTests, dried, thirstOf(place, latitude), pot.medium, pot.reservoirMl, pot.repottedOn),
);

const aloneOf = memo(
  (
    visits: Visits,
    soakTests: readonly SoakLogged[],
    dried: readonly string[],
    thirst: readonly number[],
    medium: Pot['medium'],
    reservoirMl: number,
    repottedOn: string | null,
  ): Alone | undefined => {
    // Another clay is another nature: what was read before a repotting says nothing of it.
    const fills = visits.fills.filter((f) => repottedOn === null || f.on >= repottedOn);
    try {
      return knowAlone({
        poreMl: poresOf({ medium, reservoirMl }),
        thirst,
        fills: fills.map((fill, i) => fillSeen(fill, i > 0 && pouredOnBetween(visits.topUps, fills[i - 1]!, fill))),
        soaks: soaksFound(soakTests, dried).flatMap(({ soak, result, driedSince }) =>
          result.ok && (repottedOn === null || soak.on >= repottedOn) ? [{ ueq: result.firstHourUeq.middle, sdUeq: result.firstHourUeq.sd, driedSince }] : [],
        ),
      });
    } catch (error) {
      // Nothing is foretold of it; of the others everything is.
      console.error('A pot cannot be reckoned:', error);
      return undefined;
    }
  },
);

function fillSeen(fill: Fill, toppedUp: boolean): FillSeen {
  const { batch, water, payload, tainted, phOffset } = fill;
  const mix = batch ? mixOf(batch) : water && waterMix(water);
  // A pen known to be off by so much is put right by it; off by nobody knows how much, it teaches nothing.
  const ph = fill.cameOutPh === undefined || (tainted.includes('cameOutPh') && phOffset === 0) ? undefined : fill.cameOutPh - phOffset;
  return {
    on: fill.on,
    pouredMl: payload.pouredMl,
    mix,
    flushed: fill.flushed.map((stage) => ({ water: plainWater(stage.water).curve, ml: stage.ml })),
    toppedUp,
    leftMl: payload.oldReservoir.leftMl ?? undefined,
    cameOutEcUsCm: tainted.includes('cameOutPpm') ? undefined : fill.cameOutEcUsCm,
    cameOutPh: ph,
    runOffEcUsCm: fill.runOffEcUsCm,
    ppmMeterId: payload.ppmMeterId,
    phMeterId: payload.phMeterId,
  };
}

/** Clays are told apart by their names. */
const clayKey = (clay: string | null) => (clay ?? '').trim().toLowerCase();

/** Pots that are kept, by the clay they stand in. */
const byClay = memo((pots: ReadonlyMap<string, PotEntry>): ReadonlyMap<string, readonly PotEntry[]> => {
  const clays = new Map<string, PotEntry[]>();
  for (const entry of [...pots.values()].sort((a, b) => (a.pot.id < b.pot.id ? -1 : 1))) {
    if (entry.pot.retiredOn !== null) continue;
    const name = clayKey(entry.pot.clay);
    const mates = clays.get(name);
    if (mates) mates.push(entry);
    else clays.set(name, [entry]);
  }
  return clays;
});

/** What each clay says of a pot in it; the same object as long as it says the same. */
const priors = memo((pots: ReadonlyMap<string, PotEntry>): ReadonlyMap<string, PotBelief> => {
  const told = [...byClay(pots)].flatMap(([name, mates]): [string, PotBelief][] => {
    if (name === '') return [];
    const prior = priorOfClay(mates.flatMap((entry) => knownAlone(entry)?.belief ?? []));
    if (prior === POTS_AT_LARGE) return [];
    const { mean, covariance } = prior.alkali;
    return [[name, asTold(mean[0]!, mean[1]!, covariance[0]![0]!, covariance[1]![1]!)]];
  });
  return new Map(told);
});
const asTold = memo((...[m0, m1, v0, v1]: number[]): PotBelief => ({
  ...POTS_AT_LARGE,
  alkali: {
    mean: [m0!, m1!],
    covariance: [
      [v0!, 0],
      [0, v1!],
    ],
  },
}));

const inClay = memo(knowInClay);

/** What is known of a pot, with what it borrows from the others in its clay; undefined where it was never filled with a mix that is known. */
export function knownOf(entry: PotEntry, pots: ReadonlyMap<string, PotEntry>): PotKnowledge | undefined {
  const alone = knownAlone(entry);
  return alone && inClay(alone, priors(pots).get(clayKey(entry.pot.clay)) ?? POTS_AT_LARGE);
}

import type { EntityManager } from 'typeorm';
import type { DriftChoices, DriftPot, DriftRoom, PotDrift, PotModelWire } from '../../contract/drift.ts';
import { compareSoaks, driftShares, lostFeed, natureOf, strengthOf, type PotToPour } from '../../core/drift/index.ts';
import { ppmFromEc, volumeWords } from '../../core/quantity/index.ts';
import { daysBetween, localTimeOf, mixKey, plusDays } from '../../core/regimen/index.ts';
import { anchoredAt, scaleComposition, type Composition } from '../../core/solution/index.ts';
import { leftOfBatch, MIX_KEEPS_DAYS } from '../bench/batch-reader.ts';
import type { Batch } from '../database/entities.ts';
import { readPotStates } from '../pots/pot-states.ts';
import { offWords, type Meters } from '../shelf/meter-states.ts';
import { growersScale, mainMeter, penAtHand, readMeters } from '../shelf/shelf-reader.ts';
import { readSettings } from '../shell/settings.ts';
import { driedTimes, toDriftPot } from './drift-pot.ts';
import { modelOf } from './pot-model.ts';
import { flushNow, flushWaters, type WaterAtHand } from './flush-now.ts';
import { waterCurves } from './mixes.ts';
import { isKnown, litresFor, mixAlone, nextMixes, potsOfBatch, pourOf, type Known, type NextMix } from './next-pour.ts';
import { soakViewOf } from './soak-view.ts';
import { soaksOf, type SoakFound } from './soaks.ts';
import { treatmentsOf } from './treatments.ts';

/** Everything the room shows but the pot that is looked at. */
export async function readDriftRoom(manager: EntityManager, now: Date, today: string, zone: string): Promise<DriftRoom> {
  const meters = await readMeters(manager);
  const scale = growersScale(meters);
  const states = await readPotStates(manager, meters, today);
  const known = states.filter(isKnown);
  const waters = await flushWaters(manager, meters);
  const dried = await driedTimes(manager);
  const { units } = await readSettings(manager);
  const pots = known.map((s) => toDriftPot(s, waters, dried, today, scale, units));
  const soaks = await soaksOf(
    manager,
    meters,
    states.map((s) => s.pot.id),
  );
  const names = new Map(states.map((s) => [s.pot.id, s]));
  const running = [...soaks.values()].flat().filter(({ soak }) => soak.ended === undefined);
  return {
    now: now.toISOString(),
    today,
    scale,
    ppmMeter: penAtHand(meters, 'ppm'),
    phMeter: penAtHand(meters, 'pH'),
    penNote: penNote(meters, zone),
    pots,
    unknown: states.filter((s) => !isKnown(s)).map(({ pot }) => ({ id: pot.id, code: pot.code, name: pot.name || pot.plant })),
    clays: claysOf(pots),
    soaking: await Promise.all(running.map((found) => soakViewOf(manager, found, names.get(found.soak.potId)!.pot, scale))),
    treatments: await treatmentsOf(manager, meters, states, soaks),
  };
}

/** One pot: as it stands, the filling that comes, its tests and what was tried. @returns undefined for no such pot, or none that can be followed */
export async function readPotDrift(manager: EntityManager, potId: string, today: string): Promise<PotDrift | undefined> {
  const meters = await readMeters(manager);
  const scale = growersScale(meters);
  const { latitude, units } = await readSettings(manager);
  const states = await readPotStates(manager, meters, today);
  const s = states.find((state) => state.pot.id === potId);
  if (!s || !isKnown(s)) return undefined;
  const waters = await flushWaters(manager, meters);
  const key = mixKey(s.watering);
  const next = (await nextMixes(manager, meters, [s])).get(key);
  if (!next) return undefined;
  const curves = await waterCurves(manager, meters);
  const pour = pourOf(s, next, waters, curves, today, latitude);
  const soaks = (await soaksOf(manager, meters, [potId])).get(potId) ?? [];
  const together = potsOfBatch(states, key, s.due.dueOn > today ? s.due.dueOn : today);
  const [batch] = await manager.query<{ id: string; status: 'open' | 'poured' }[]>(
    `SELECT id, status FROM batch WHERE mixKey = ? AND status <> 'abandoned' AND emptied = 0 AND startedOn = ? ORDER BY startedAt DESC LIMIT 1`,
    [key, today],
  );
  const pot = toDriftPot(s, waters, await driedTimes(manager), today, scale, units);
  const { pourPhLow, pourPhHigh } = s.watering;
  return {
    pot,
    now: modelOf(s, { ...s.known, window: pour.window, freshShare: s.known.freshShare }, Math.max(0, daysBetween(s.known.filledOn, today))),
    next: {
      model: modelOf(s, { water: pour.water, belief: pour.belief, season: pour.season, window: pour.window, freshShare: pour.freshShare, phKnown: true }, 0),
      everyDays: s.watering.everyDays,
      mixKey: key,
      netPpm: ppmFromEc(s.watering.netEcUsCm, scale),
      litres: litresFor(together.length > 0 ? together : [s]),
      pots: Math.max(1, together.length),
      naturalPh: next.naturalPh,
      batch: batch ?? null,
      pourPh: { low: pourPhLow, high: pourPhHigh },
    },
    shares: sharesOf(s, next, pour, waters),
    lost: lostOf(s, next, pot),
    soaks: await Promise.all(soaks.map((found) => soakViewOf(manager, found, s.pot, scale))),
    compared: comparedWords(soaks),
  };
}

/** What a pot can be filled with for a test. */
export async function readChoices(manager: EntityManager, today: string, zone: string): Promise<DriftChoices> {
  const batches = await manager.query<Batch[]>(
    `SELECT * FROM batch WHERE status = 'poured' AND emptied = 0 AND startedOn >= ? AND "use" = 'feed' ORDER BY startedAt DESC LIMIT 12`,
    [plusDays(today, -MIX_KEEPS_DAYS)],
  );
  const { units } = await readSettings(manager);
  const left = await Promise.all(batches.map((batch) => leftOfBatch(manager, batch)));
  const waters = await manager.query<{ id: string; name: string }[]>('SELECT id, name FROM water WHERE retiredOn IS NULL ORDER BY position');
  return {
    batches: batches.flatMap((b, i) =>
      left[i]! >= LEAST_ML
        ? [
            {
              id: b.id,
              words: `${b.name}, ${b.startedOn === today ? `made ${localTimeOf(new Date(b.startedAt), zone)}` : b.startedOn}, ${volumeWords(left[i]!, units)} left`,
            },
          ]
        : [],
    ),
    waters,
  };
}

/** Less than so much fills no pot. */
const LEAST_ML = 50;

/** Models of every pot, for the bands of the whole collection. */
export async function readModels(manager: EntityManager, today: string): Promise<PotModelWire[]> {
  const states = await readPotStates(manager, await readMeters(manager), today);
  return states.filter(isKnown).map((s) => {
    const window = { low: s.drawing.phLow, high: s.drawing.phHigh };
    return modelOf(s, { ...s.known, window }, Math.max(0, daysBetween(s.known.filledOn, today)));
  });
}

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

function sharesOf(s: Known, next: NextMix, pour: PotToPour, waters: readonly WaterAtHand[]): PotDrift['shares'] {
  const days = s.watering.everyDays;
  const nature = natureOf(pour.belief, pour.water, pour.season);
  const shares = driftShares(mixAlone(next, s.pot.fillMl), pour.water, nature, days);
  const last = flushNow(s, waters).stages.at(-1);
  return { ...shares, flushWater: waters.find((w) => w.id === last?.waterId)?.name ?? null };
}

/** Under this pH hardly anything drops out of a feed. */
const DROPS_ABOVE_PH = 7.5;

/** What may drop out of the reservoir by the next visit. */
function lostOf(s: Known, next: NextMix, pot: DriftPot): PotDrift['lost'] {
  const { ph, leftMl } = pot.atVisit;
  if (ph === null || ph <= DROPS_ABOVE_PH) return null;
  const { course, filledOn } = s.known;
  const day = Math.min(course.ph.length - 1, Math.max(0, daysBetween(filledOn, s.due.dueOn)));
  const strength = strengthOf(next.mix.curve, course.ecUsCm[day]!);
  let body: Composition;
  try {
    body = anchoredAt(scaleComposition(next.mix.total, strength), ph);
  } catch {
    return null;
  }
  const lost = lostFeed(body);
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
  return compareSoaks({ kind: a.test.kind, result: a.result }, { kind: b.test.kind, result: b.result }).words;
}

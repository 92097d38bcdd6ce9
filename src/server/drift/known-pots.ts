import type { DataSource, EntityManager } from 'typeorm';
import { thirstByMonth, usualYear } from '../../core/reservoir/index.ts';
import { placeYear } from '../../contract/pots.ts';
import type { Place, Pot } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import type { Visits } from '../pots/visits.ts';
import type { Meters } from '../shelf/meter-states.ts';
import { mixesOf, waterCurves } from './mixes.ts';
import { clayKey, knowAlone, knowTogether, type Alone, type PotKnowledge } from './pot-knowledge.ts';
import { soaksOf } from './soaks.ts';

type Kept = { readonly visits: Visits; readonly by: string; readonly clay: string | null; readonly known: Alone | undefined };
type Cache = { readonly alone: Map<string, Kept>; latitude: number | undefined; together: Map<string, PotKnowledge> };
const caches = new WeakMap<DataSource, Cache>();

/**
 * What is known of every pot. Learning a pot replays its visits through the chemistry, some milliseconds each, so what was learned is kept
 * until something is logged of that pot, or of it and its place something was changed.
 * @param visits the very objects that are kept from look to look: another object is another history
 */
export async function knownPots(
  manager: EntityManager,
  meters: Meters,
  pots: readonly Pot[],
  places: ReadonlyMap<string, Place>,
  visits: ReadonlyMap<string, Visits>,
  latitude: number,
): Promise<ReadonlyMap<string, PotKnowledge>> {
  const cache = caches.get(manager.connection) ?? { alone: new Map<string, Kept>(), latitude, together: new Map<string, PotKnowledge>() };
  caches.set(manager.connection, cache);
  const missing = pots.filter((pot) => {
    const kept = cache.alone.get(pot.id);
    return !kept || kept.visits !== visits.get(pot.id) || kept.by !== keyOf(pot, places.get(pot.placeId), latitude);
  });
  const gone = cache.alone.size > pots.length;
  if (missing.length === 0 && !gone) return cache.together;
  const live = new Set(pots.map((pot) => pot.id));
  // A clay lends anew where one of its pots was learned anew, came, or went; of the others everything stands.
  const changed = new Set(missing.flatMap((pot) => [clayKey(pot.clay), clayKey(cache.alone.get(pot.id)?.clay ?? pot.clay)]));
  for (const [id, { clay }] of cache.alone)
    if (!live.has(id)) {
      changed.add(clayKey(clay));
      cache.alone.delete(id);
    }
  const withVisits = missing.flatMap((pot) => {
    const of = visits.get(pot.id);
    return of ? [{ pot, of }] : [];
  });
  const mixes = await mixesOf(
    manager,
    meters,
    withVisits.flatMap(({ of }) => of.fills.flatMap((f) => (f.payload.batchId ? [f.payload.batchId] : []))),
  );
  const waters = await waterCurves(manager, meters);
  const soaks = await soaksOf(
    manager,
    meters,
    missing.map((pot) => pot.id),
  );
  for (const { pot, of } of withVisits) {
    const place = places.get(pot.placeId);
    let known: Alone | undefined;
    try {
      known = knowAlone({ pot, fills: of.fills, topUps: of.topUps, thirst: thirstOf(place, latitude), soaks: soaks.get(pot.id) ?? [] }, mixes, waters, meters);
    } catch (error) {
      // Nothing is foretold of it; of the others everything is.
      console.error(`${pot.code} cannot be reckoned:`, error);
    }
    cache.alone.set(pot.id, { visits: of, by: keyOf(pot, place, latitude), clay: pot.clay, known });
  }
  cache.together = knowTogether(
    new Map([...cache.alone].flatMap(([id, { clay, known }]): [string, { clay: string | null; known: Alone }][] => (known ? [[id, { clay, known }]] : []))),
    cache.together,
    changed,
  );
  return cache.together;
}

/** Put together by hand: every look at the round asks it of every pot. */
const keyOf = (pot: Pot, place: Place | undefined, latitude: number) =>
  `${pot.medium}|${pot.reservoirMl}|${pot.clay ?? ''}|${pot.repottedOn ?? ''}|${place?.light ?? ''}|${place?.year ?? ''}|${latitude}`;

/** How thirsty each month makes the pots on a place: as measured there, and where nobody did, as is usual for such a place. */
export function thirstOf(place: Pick<Place, 'light' | 'year'> | undefined, latitude: number): number[] {
  const usual = usualYear(place?.light ?? null, latitude);
  const own = readJson(placeYear, place?.year);
  const over = (figures: readonly number[], mine: readonly (number | null)[] | undefined) => figures.map((figure, i) => mine?.[i] ?? figure);
  return thirstByMonth({
    temperatureC: over(usual.temperatureC, own?.temperatureC),
    humidityPct: over(usual.humidityPct, own?.humidityPct),
    light: usual.light,
  });
}

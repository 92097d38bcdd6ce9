import type { EntityManager } from 'typeorm';
import type { RoundMix } from '../../contract/round.ts';
import { ppmFromEc, upperFirst } from '../../core/quantity/index.ts';
import {
  couldBeOne,
  daysBetween,
  gatherMixes,
  isDue,
  litresWithSpare,
  localTimeOf,
  plusDays,
  serves,
  soakKey,
  soakOf,
  soakToMake,
  staggerSoaks,
  type PlannedSoak,
  type RoundMix as GatheredMix,
} from '../../core/regimen/index.ts';
import { feedAim, FEED_BAND, type Aim } from '../../core/strength/index.ts';
import { leftOfBatch, MIX_KEEPS_DAYS } from '../bench/batch-reader.ts';
import type { Batch } from '../database/entities.ts';
import type { FlushNow } from '../drift/flush-now.ts';
import type { PotState } from '../pots/pot-states.ts';
import { SOAK_WORDS, WHAT_WORDS } from '../pots/regimen-values.ts';

/** Less than this is not worth carrying over. */
const LEAST_LEFT_ML = 100;
const LETTERS = 'ABCDEFGHJKLMNPQRSTUVWXYZ';
/** Silicate in every feed: 5 mL in 10 L of a product of unknown strength, and a trace of magnesium, net ppm (common practice). */
const SILICATE_PER_L = 0.5;
const TRACE_OF_MAGNESIUM_PPM = 10;
/** A leaf spray that runs off, mL for a basket. House rule. */
const SPRAY_ML = 50;
/** To the brim where nobody measured it, times the reservoir. House rule. */
const BRIM_PER_RESERVOIR = 2.6;

/** A supplement a pot is due, and how it gets it: a basket cannot be filled, so its leaves are sprayed. */
export type PotSoak = { readonly soak: PlannedSoak; readonly key: string; readonly way: 'soak' | 'spray'; readonly pouredMl: number; readonly given: boolean };

/** What is due before a pot is filled; undefined where nothing is, or where a basket's is not to be sprayed. */
export function potSoak(s: PotState, today: string): PotSoak | undefined {
  const givenToday = s.supplements.filter((x) => x.on === today && x.endedAt !== null && !(s.lastFill && s.lastFill.at > x.at)).at(-1);
  const soak = soakToMake(s.soaksDue);
  const basket = s.pot.medium === 'basket';
  const way = givenToday?.payload.way ?? s.inSoak?.payload.way ?? (basket ? 'spray' : 'soak');
  if (!soak) {
    const of = s.inSoak ?? givenToday;
    if (!of) return undefined;
    const own = soakOf(s.regimen.params, of.payload.what);
    const as = soakToMake([{ soak: own, first: false, dueFrom: today }])!;
    return { soak: as, key: soakKey(as, way), way, pouredMl: of.payload.pouredMl, given: givenToday !== undefined };
  }
  if (basket && !soak.sprayBaskets) return undefined;
  return {
    soak,
    key: soakKey(soak, way),
    way,
    pouredMl: way === 'spray' ? SPRAY_ML : Math.round((s.pot.brimMl ?? BRIM_PER_RESERVOIR * s.pot.reservoirMl) / 10) * 10,
    given: false,
  };
}

/** Mixes of the round, feeds first, soaks after them in the order they are carried out. */
export async function roundMixes(
  manager: EntityManager,
  onRound: readonly PotState[],
  soaks: ReadonlyMap<string, PotSoak>,
  flushes: ReadonlyMap<string, FlushNow>,
  { today, zone, scale }: { today: string; zone: string; scale: number },
): Promise<RoundMix[]> {
  const ppm = (ec: number) => ppmFromEc(ec, scale);
  const toFill = onRound.map((s) => ({ potId: s.pot.id, dueOn: s.due.dueOn, fillMl: s.pot.fillMl, reservoirMl: s.pot.reservoirMl, watering: s.watering }));
  const gathered = gatherMixes(toFill);
  const pairs = couldBeOne(gathered, FEED_BAND);
  const letterOf = (key: string) => LETTERS[gathered.findIndex((m) => m.key === key)] ?? '?';
  const mixes: RoundMix[] = [];
  for (const mix of gathered) {
    const left = onRound.filter((s) => mix.potIds.includes(s.pot.id) && isDue(s.due));
    const pair = pairs.find((p) => p.keys.includes(mix.key));
    const other = pair?.keys.find((key) => key !== mix.key);
    const fillOf = (key: string) =>
      onRound.filter((s) => isDue(s.due) && gathered.find((m) => m.key === key)!.potIds.includes(s.pot.id)).reduce((sum, s) => sum + s.pot.fillMl, 0);
    const made = await batchAndLeft(
      manager,
      mix.key,
      left.reduce((sum, s) => sum + s.pot.fillMl, 0),
      today,
      zone,
      ppm,
    );
    const plain = mix.what === 'plain';
    mixes.push({
      ...made,
      litresToMix: plain ? 0 : made.litresToMix,
      leftover: made.batch || left.length === 0 || mix.what !== 'feed' ? null : await leftoverFor(manager, feedAim(mix.netEcUsCm), today, scale),
      key: mix.key,
      letter: letterOf(mix.key),
      name: nameOf(mix, ppm),
      use: plain ? 'water' : 'feed',
      noMixing: plain,
      parts: partsOf(mix, ppm),
      holdMinutes: null,
      fillWith: mix.fillWith,
      netPpm: ppm(mix.netEcUsCm),
      phLow: mix.pourPhLow,
      phHigh: mix.pourPhHigh,
      potIds: [...mix.potIds],
      pots: mix.potIds.length,
      potsLeft: left.length,
      flushL: left.reduce((sum, s) => sum + flushes.get(s.pot.id)!.totalMl, 0) / 1000,
      stagger: [],
      oneWith:
        pair && other && left.length > 0 && fillOf(other) > 0 && !made.batch
          ? {
              key: other,
              letter: letterOf(other),
              netPpm: ppm(pair.netEcUsCm),
              phLow: pair.pourPhLow,
              phHigh: pair.pourPhHigh,
              litres: litresWithSpare(fillOf(mix.key) + fillOf(other)),
            }
          : null,
    });
  }
  const keys = [...new Set([...soaks.values()].map((x) => x.key))];
  for (const [i, key] of keys.entries()) {
    const members = onRound.filter((s) => soaks.get(s.pot.id)?.key === key);
    const { soak, way } = soaks.get(members[0]!.pot.id)!;
    const toDo = members.filter((s) => isDue(s.due) && !soaks.get(s.pot.id)!.given && !s.inSoak);
    const made = await batchAndLeft(
      manager,
      key,
      toDo.reduce((sum, s) => sum + soaks.get(s.pot.id)!.pouredMl, 0),
      today,
      zone,
      ppm,
    );
    const times = way === 'soak' ? staggerSoaks(toDo.map(() => soak.holdMinutes)) : [];
    mixes.push({
      ...made,
      leftover: null,
      key,
      letter: LETTERS[gathered.length + i] ?? '?',
      name: soakName(soak, way, ppm),
      use: way,
      noMixing: false,
      parts: soakParts(soak, ppm),
      holdMinutes: way === 'soak' ? soak.holdMinutes : null,
      fillWith: null,
      netPpm: soak.netEcUsCm === null ? 0 : ppm(soak.netEcUsCm),
      phLow: soak.pourPhLow,
      phHigh: soak.pourPhHigh,
      potIds: members.map((s) => s.pot.id),
      pots: members.length,
      potsLeft: toDo.length,
      flushL: 0,
      stagger: toDo.length > 1 ? times.map((t, n) => ({ potId: toDo[n]!.pot.id, code: toDo[n]!.pot.code, ...t })) : [],
      oneWith: null,
    });
  }
  return mixes;
}

const nameOf = (mix: GatheredMix, ppm: (ec: number) => number) =>
  mix.what === 'plain' ? 'Plain water only' : `${upperFirst(WHAT_WORDS[mix.what])}, ${Math.round(ppm(mix.netEcUsCm))} over base`;

export function soakName(soak: PlannedSoak, way: 'soak' | 'spray', ppm: (ec: number) => number): string {
  const strength = [
    soak.netEcUsCm === null ? '' : `${Math.round(ppm(soak.netEcUsCm))} over`,
    soak.sio2MgL === null ? '' : `${Math.round(soak.sio2MgL)} mg/L SiO2`,
  ];
  const words = way === 'spray' ? `${upperFirst(SOAK_WORDS[soak.what]).replace(/ soak$/, '')} spray` : upperFirst(SOAK_WORDS[soak.what]);
  return `${words}, ${strength.filter(Boolean).join(' + ')}`;
}

function partsOf(mix: GatheredMix, ppm: (ec: number) => number): RoundMix['parts'] {
  const net = { kind: 'net' as const, ppm: Math.max(1, Math.round(ppm(mix.netEcUsCm))) };
  switch (mix.what) {
    case 'plain':
      return [];
    case 'feed':
      return [{ kind: 'feed', aim: net }];
    case 'calmag':
      return [{ kind: 'calmag', aim: net }];
    case 'feedSilicate':
      return [
        { kind: 'silicate', aim: { kind: 'perL', units: SILICATE_PER_L } },
        { kind: 'feed', aim: net },
        { kind: 'magnesium', aim: { kind: 'net', ppm: TRACE_OF_MAGNESIUM_PPM } },
      ];
  }
}

function soakParts(soak: PlannedSoak, ppm: (ec: number) => number): RoundMix['parts'] {
  return [
    ...(soak.sio2MgL === null ? [] : [{ kind: 'silicate' as const, aim: { kind: 'element' as const, element: 'SiO2' as const, mgL: soak.sio2MgL } }]),
    ...(soak.netEcUsCm === null ? [] : [{ kind: 'magnesium' as const, aim: { kind: 'net' as const, ppm: Math.round(ppm(soak.netEcUsCm)) } }]),
  ];
}

/** The batch that serves a mix, and the litres still to make. */
async function batchAndLeft(
  manager: EntityManager,
  key: string,
  wantedMl: number,
  today: string,
  zone: string,
  ppm: (ec: number) => number,
): Promise<Pick<RoundMix, 'batch' | 'litresToMix'>> {
  const batch = await batchForMix(manager, key, today);
  const readyMl = batch?.status === 'poured' ? await leftOfBatch(manager, batch) : 0;
  return {
    litresToMix: readyMl >= wantedMl ? 0 : litresWithSpare(wantedMl - readyMl),
    batch: batch
      ? {
          id: batch.id,
          status: batch.status === 'open' ? 'open' : 'poured',
          startedAt: batch.startedAt,
          time: localTimeOf(new Date(batch.pouredAt ?? batch.startedAt), zone),
          readsPpm: batch.pouredEcUsCm === null ? null : ppm(batch.pouredEcUsCm),
          ph: batch.pouredPh,
          leftMl: readyMl,
          today: batch.startedOn === today,
        }
      : null,
  };
}

/** The newest feed left over that reads in the mix's band over its water and is still good; null where there is none. */
async function leftoverFor(manager: EntityManager, aim: Aim, today: string, scale: number): Promise<RoundMix['leftover']> {
  const batches = await manager.query<(Batch & { baseEcUsCm: number | null })[]>(
    `SELECT b.*, (SELECT json_extract(e.payload, '$.reading.value') / m.scale FROM care_event e JOIN meter m ON m.id = b.ppmMeterId
       WHERE e.batchId = b.id AND e.kind = 'batchBase' AND e.voidedBy IS NULL ORDER BY e.seq DESC LIMIT 1) AS baseEcUsCm
     FROM batch b WHERE b.status = 'poured' AND b."use" = 'feed' AND b.emptied = 0 AND b.pouredEcUsCm IS NOT NULL AND b.startedOn >= ? ORDER BY b.startedAt DESC LIMIT 8`,
    [plusDays(today, -MIX_KEEPS_DAYS)],
  );
  for (const batch of batches) {
    const net = batch.pouredEcUsCm! - (batch.baseEcUsCm ?? 0);
    const leftMl = net >= aim.lowEcUsCm && net <= aim.highEcUsCm ? await leftOfBatch(manager, batch) : 0;
    if (leftMl >= LEAST_LEFT_ML) return { id: batch.id, name: batch.name, leftMl, readsPpm: ppmFromEc(batch.pouredEcUsCm!, scale) };
  }
  return null;
}

/** The batch that serves a mix: the newest one that is being made, or poured with something left. */
async function batchForMix(manager: EntityManager, key: string, today: string): Promise<Batch | undefined> {
  const batches = await manager.query<Batch[]>(
    `SELECT * FROM batch WHERE instr(mixKey, ?) > 0 AND status <> 'abandoned' AND emptied = 0 AND startedOn >= ? ORDER BY startedAt DESC LIMIT 8`,
    [key, plusDays(today, -MIX_KEEPS_DAYS)],
  );
  const fresh = batches.filter((b) => serves(b.mixKey, key) && daysBetween(b.startedOn, today) <= MIX_KEEPS_DAYS);
  const newest = fresh[0];
  if (newest?.status === 'open') return newest;
  for (const batch of fresh) if (batch.status === 'poured' && (batch.startedOn === today || (await leftOfBatch(manager, batch)) >= 50)) return batch;
  return undefined;
}

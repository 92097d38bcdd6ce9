import type { RoundMix } from '../../contract/round.ts';
import { ppmFromEc, upperFirst } from '../../core/quantity/index.ts';
import {
  couldBeOne,
  daysBetween,
  doseWords,
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
  SOAKS,
} from '../../core/regimen/index.ts';
import { feedAim, FEED_BAND, type Aim } from '../../core/strength/index.ts';
import {
  batchesSince,
  growersScale,
  grouped,
  leftOf,
  mixAimOf,
  pourableMl,
  MIX_KEEPS_DAYS,
  WHAT_WORDS,
  type BatchEntry,
  type Collection,
  type FlushNow,
  type PotState,
} from '../collection/index.ts';

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
export type PotSoak = {
  readonly soak: PlannedSoak;
  readonly key: string;
  readonly way: 'soak' | 'spray';
  readonly pouredMl: number;
  readonly given: boolean;
};

/** What is due before a pot is filled; undefined where nothing is, or where a basket's is not to be sprayed. */
export function potSoak(s: PotState, today: string): PotSoak | undefined {
  const givenToday = s.supplements
    .filter((x) => x.on === today && x.endedAt !== null && !(s.lastFill && s.lastFill.at > x.at))
    .at(-1);
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
    pouredMl:
      way === 'spray' ? SPRAY_ML : Math.round((s.pot.brimMl ?? BRIM_PER_RESERVOIR * s.pot.reservoirMl) / 10) * 10,
    given: false,
  };
}

/** Mixes of the round, feeds first, soaks after them in the order they are carried out. */
export function roundMixes(
  collection: Collection,
  onRound: readonly PotState[],
  soaks: ReadonlyMap<string, PotSoak>,
  flushes: ReadonlyMap<string, FlushNow>,
  today: string,
): RoundMix[] {
  const scale = growersScale(collection.meters);
  const ppm = (ec: number) => ppmFromEc(ec, scale);
  const toFill = onRound.map((s) => ({
    potId: s.pot.id,
    dueOn: s.due.dueOn,
    fillMl: s.pot.fillMl,
    reservoirMl: s.pot.reservoirMl,
    watering: s.watering,
  }));
  const gathered = gatherMixes(toFill);
  const pairs = couldBeOne(gathered, FEED_BAND);
  const letterOf = (key: string) => LETTERS[gathered.findIndex((m) => m.key === key)] ?? '?';
  // Still to be filled, by mix.
  const keyOf = new Map(gathered.flatMap(({ key, potIds }) => potIds.map((id) => [id, key])));
  const toDo = grouped(
    onRound.filter((s) => isDue(s.due)),
    (s) => keyOf.get(s.pot.id) ?? '',
  );
  const on: OnRound = { collection, today, ppm, scale };
  const keys = [...new Set([...soaks.values()].map((x) => x.key))];
  return [
    ...gathered.map((mix) => {
      const pair = pairs.find((p) => p.keys.includes(mix.key));
      const other = pair?.keys.find((key) => key !== mix.key);
      return {
        ...feedMix(on, mix, toDo.get(mix.key) ?? [], flushes),
        letter: letterOf(mix.key),
        oneWith: pair && other ? oneWith(on, pair, mix.key, other, toDo, letterOf) : null,
      };
    }),
    ...keys.map((key, i) => ({
      ...soakMix(on, key, onRound, soaks),
      letter: LETTERS[gathered.length + i] ?? '?',
      oneWith: null,
    })),
  ];
}

type OnRound = {
  readonly collection: Collection;
  readonly today: string;
  readonly ppm: (ecUsCm: number) => number;
  readonly scale: number;
};
type Mixed = Omit<RoundMix, 'letter' | 'oneWith'>;

const fillMl = (states: readonly PotState[] = []) => states.reduce((sum, s) => sum + s.pot.fillMl, 0);

/** A mix that fills pots. @param left those still to be filled */
function feedMix(
  { collection, today, ppm, scale }: OnRound,
  mix: GatheredMix,
  left: readonly PotState[],
  flushes: ReadonlyMap<string, FlushNow>,
): Mixed {
  const made = batchAndLeft(collection, mix.key, fillMl(left), today, ppm);
  const plain = mix.what === 'plain';
  const wanted = !made.batch && left.length > 0 && mix.what === 'feed' && !mix.dose;
  return {
    ...made,
    litresToMix: plain ? 0 : made.litresToMix,
    leftover: wanted ? leftoverFor(collection, feedAim(mix.netEcUsCm), today, scale) : null,
    key: mix.key,
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
  };
}

/** Another mix that one bucket with it would serve, while both are still to be made. */
function oneWith(
  { collection, today, ppm }: OnRound,
  pair: ReturnType<typeof couldBeOne>[number],
  key: string,
  other: string,
  toDo: ReadonlyMap<string, readonly PotState[]>,
  letterOf: (key: string) => string,
): RoundMix['oneWith'] {
  const [mine, theirs] = [fillMl(toDo.get(key)), fillMl(toDo.get(other))];
  if (!toDo.get(key)?.length || theirs === 0 || batchAndLeft(collection, key, mine, today, ppm).batch) return null;
  return {
    key: other,
    letter: letterOf(other),
    netPpm: ppm(pair.netEcUsCm),
    phLow: pair.pourPhLow,
    phHigh: pair.pourPhHigh,
    litres: litresWithSpare(mine + theirs),
  };
}

/** A mix for soaks or sprays of one kind. */
function soakMix(
  { collection, today, ppm }: OnRound,
  key: string,
  onRound: readonly PotState[],
  soaks: ReadonlyMap<string, PotSoak>,
): Mixed {
  const members = onRound.filter((s) => soaks.get(s.pot.id)?.key === key);
  const { soak, way } = soaks.get(members[0]!.pot.id)!;
  const toDo = members.filter((s) => isDue(s.due) && !soaks.get(s.pot.id)!.given && !s.inSoak);
  const wantedMl = toDo.reduce((sum, s) => sum + soaks.get(s.pot.id)!.pouredMl, 0);
  const times = way === 'soak' ? staggerSoaks(toDo.map(() => soak.holdMinutes)) : [];
  return {
    ...batchAndLeft(collection, key, wantedMl, today, ppm),
    leftover: null,
    key,
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
  };
}

const nameOf = (mix: GatheredMix, ppm: (ec: number) => number) =>
  mix.what === 'plain'
    ? 'Plain water only'
    : `${upperFirst(WHAT_WORDS[mix.what])}, ${mix.dose ? doseWords(mix.dose) : `${Math.round(ppm(mix.netEcUsCm))} over base`}`;

export function soakName(soak: PlannedSoak, way: 'soak' | 'spray', ppm: (ec: number) => number): string {
  const strength = [
    soak.netEcUsCm === null ? '' : `${Math.round(ppm(soak.netEcUsCm))} over`,
    soak.sio2MgL === null ? '' : `${Math.round(soak.sio2MgL)} mg/L SiO2`,
  ];
  const words =
    way === 'spray'
      ? `${upperFirst(SOAKS[soak.what].name).replace(/ soak$/, '')} spray`
      : upperFirst(SOAKS[soak.what].name);
  return `${words}, ${strength.filter(Boolean).join(' + ')}`;
}

function partsOf(mix: GatheredMix, ppm: (ec: number) => number): RoundMix['parts'] {
  const net = mixAimOf(mix, ppm);
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
  const { byPen } = SOAKS[soak.what];
  return [
    ...(soak.sio2MgL === null
      ? []
      : [
          { kind: 'silicate' as const, aim: { kind: 'element' as const, element: 'SiO2' as const, mgL: soak.sio2MgL } },
        ]),
    ...(byPen === null || soak.netEcUsCm === null
      ? []
      : [{ kind: byPen, aim: { kind: 'net' as const, ppm: Math.round(ppm(soak.netEcUsCm)) } }]),
  ];
}

/** The batch that serves a mix, and the litres still to make. */
function batchAndLeft(
  collection: Collection,
  key: string,
  wantedMl: number,
  today: string,
  ppm: (ec: number) => number,
): Pick<RoundMix, 'batch' | 'litresToMix'> {
  const batch = batchForMix(collection, key, today);
  const readyMl = batch?.row.status === 'poured' ? leftOf(batch, collection.drawn) : 0;
  return {
    litresToMix: readyMl >= wantedMl ? 0 : litresWithSpare(wantedMl - readyMl),
    batch: batch ? toMixBatch(batch, readyMl, today, collection.settings.zone, ppm) : null,
  };
}

function toMixBatch(
  { row }: BatchEntry,
  leftMl: number,
  today: string,
  zone: string,
  ppm: (ec: number) => number,
): RoundMix['batch'] {
  return {
    id: row.id,
    status: row.status === 'open' ? 'open' : 'poured',
    startedAt: row.startedAt,
    time: localTimeOf(new Date(row.pouredAt ?? row.startedAt), zone),
    readsPpm: row.pouredEcUsCm === null ? null : ppm(row.pouredEcUsCm),
    ph: row.pouredPh,
    leftMl,
    pourableMl: row.emptied ? 0 : pourableMl(row, leftMl),
    today: row.startedOn === today,
  };
}

/** The newest feed left over that reads in the mix's band over its water and is still good; null where there is none. */
function leftoverFor(collection: Collection, aim: Aim, today: string, scale: number): RoundMix['leftover'] {
  const batches = batchesSince(collection.batches, plusDays(today, -MIX_KEEPS_DAYS)).filter(
    ({ row }) => row.status === 'poured' && row.use === 'feed' && !row.emptied && row.pouredEcUsCm !== null,
  );
  for (const batch of batches) {
    const net = batch.row.pouredEcUsCm! - (batch.baseEcUsCm ?? 0);
    const leftMl = net >= aim.lowEcUsCm && net <= aim.highEcUsCm ? leftOf(batch, collection.drawn) : 0;
    if (leftMl >= LEAST_LEFT_ML)
      return { id: batch.row.id, name: batch.row.name, leftMl, readsPpm: ppmFromEc(batch.row.pouredEcUsCm!, scale) };
  }
  return null;
}

/** The batch that serves a mix: the newest one that is being made, or poured with something left. */
function batchForMix(collection: Collection, key: string, today: string): BatchEntry | undefined {
  const fresh = batchesSince(collection.batches, plusDays(today, -MIX_KEEPS_DAYS)).filter(
    ({ row }) =>
      row.status !== 'abandoned' &&
      !row.emptied &&
      row.mixKey !== null &&
      serves(row.mixKey, key) &&
      daysBetween(row.startedOn, today) <= MIX_KEEPS_DAYS,
  );
  if (fresh[0]?.row.status === 'open') return fresh[0];
  return fresh.find(
    (batch) =>
      batch.row.status === 'poured' &&
      (batch.row.startedOn === today || leftOf(batch, collection.drawn) >= LEAST_WORTH_ML),
  );
}

/** Less of a mix of an earlier day is not worth pouring. */
const LEAST_WORTH_ML = 50;

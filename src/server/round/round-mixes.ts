import type { RoundMix } from '../../contract/round.ts';
import { ppmFromEc, upperFirst } from '../../core/quantity/index.ts';
import {
  couldBeOne,
  doseWords,
  gatherMixes,
  isDue,
  litresWithSpare,
  soakKey,
  soakOf,
  soakPourMl,
  soakToMake,
  staggerSoaks,
  type PlannedSoak,
  type RoundMix as GatheredMix,
  SOAKS,
} from '../../core/regimen/index.ts';
import { feedAim, FEED_BAND } from '../../core/strength/index.ts';
import {
  growersScale,
  grouped,
  mixAimOf,
  WHAT_WORDS,
  type Collection,
  type FlushNow,
  type PotState,
} from '../collection/index.ts';
import { batchAndLeft, leftoverFor } from './mix-batch.ts';

const LETTERS = 'ABCDEFGHJKLMNPQRSTUVWXYZ';
/** Silicate in every feed: 5 mL in 10 L of a product of unknown strength, and a trace of magnesium, net ppm (common practice). */
const SILICATE_PER_L = 0.5;
const TRACE_OF_MAGNESIUM_PPM = 10;

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
    pouredMl: soakPourMl(s.pot, way),
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

const fillsMl = (states: readonly PotState[] = []) => states.map((s) => s.pot.fillMl);

/** A mix that fills pots. @param left those still to be filled */
function feedMix(
  { collection, today, ppm, scale }: OnRound,
  mix: GatheredMix,
  left: readonly PotState[],
  flushes: ReadonlyMap<string, FlushNow>,
): Mixed {
  const made = batchAndLeft(collection, mix.key, fillsMl(left), today, ppm);
  const plain = mix.what === 'plain';
  const wanted = !made.batch && left.length > 0 && mix.what === 'feed' && !mix.dose;
  return {
    ...made,
    litresToMix: plain ? 0 : made.litresToMix,
    leftover: wanted ? leftoverFor(collection, feedAim(mix.netEcUsCm), fillsMl(left), today, scale) : null,
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
  const [mine, theirs] = [fillsMl(toDo.get(key)), fillsMl(toDo.get(other))];
  if (mine.length === 0 || theirs.length === 0 || batchAndLeft(collection, key, mine, today, ppm).batch) return null;
  return {
    key: other,
    letter: letterOf(other),
    netPpm: ppm(pair.netEcUsCm),
    phLow: pair.pourPhLow,
    phHigh: pair.pourPhHigh,
    litres: litresWithSpare([...mine, ...theirs].reduce((sum, ml) => sum + ml, 0)),
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
  const poursMl = toDo.map((s) => soaks.get(s.pot.id)!.pouredMl);
  const times = way === 'soak' ? staggerSoaks(toDo.map(() => soak.holdMinutes)) : [];
  return {
    ...batchAndLeft(collection, key, poursMl, today, ppm),
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

import type { SeasonLane, SeasonView } from '../../contract/season.ts';
import { cutIntoLots, soonestDays, type FixedAct, type Lot, type PlanProblem } from '../../core/plan/index.ts';
import { ppmFromEc, upperFirst } from '../../core/quantity/index.ts';
import {
  daysBetween,
  doseWords,
  mixKey,
  openMonths,
  plusDays,
  SOAKS,
  type SoakWhat,
  SPARE_SHARE,
  soakPourMl,
  wateringOf,
  type Watering,
} from '../../core/regimen/index.ts';
import {
  daysUntilDry,
  flushNow,
  flushWaters,
  growersScale,
  inUse,
  potStates,
  stillAtHand,
  stockOfTank,
  stillWaters,
  WHAT_WORDS,
  type Collection,
  type StillAtHand,
  type PotPlan,
  type PotState,
} from '../collection/index.ts';
import { minutesOf, NOTHING_LEARNED, type Learned } from './learned.ts';
import { soakWindows, type SoakWindow } from './soak-windows.ts';
import { planKey, standingPlan } from './standing-plan.ts';

/** Six weeks. */
export const PLAN_DAYS = 42;

/** What the plan knows of the coming weeks. */
export function seasonOf(
  collection: Collection,
  today: string,
  fixed: readonly FixedAct[] = [],
  learned: Learned = NOTHING_LEARNED,
): SeasonView {
  const states = potStates(collection, today);
  const stills = stillWaters(collection);
  const stock = stillAtHand(collection, today);
  const ppm = (ec: number) => ppmFromEc(ec, growersScale(collection.meters));
  const trays = traysOf(states, collection, today);
  const lots = trays.flatMap((tray) => lotsOf(tray, stock?.capL ?? null, learned.litres, today));
  const mixes = new Map(trays.flatMap((tray) => mixNames(tray, ppm)));
  const problem: PlanProblem = {
    days: PLAN_DAYS,
    works: Array.from({ length: PLAN_DAYS }, (_, t) => worksOn(collection, plusDays(today, t))),
    minutesADay: collection.season?.minutesADay ?? null,
    tank: stock && {
      startL: stock.litres,
      capL: stock.capL,
      // What is made after a day's work is the next day's.
      madeL: Array.from({ length: PLAN_DAYS }, (_, t) => stock.madeOn(plusDays(today, t + 1))),
    },
    lots: lots.map(({ lot }) => lot),
    leaches: [],
    fixed: [...fixed],
    minutes: minutesOf(learned.minutes),
  };
  return {
    on: today,
    pots: states.length,
    problem: problem as SeasonView['problem'],
    lanes: lanesOf(lots, today),
    codes: Object.fromEntries(states.map((s) => [s.pot.id, s.pot.code])),
    mixes: Object.fromEntries(mixes),
    benches: Object.fromEntries(trays.flatMap((tray) => benchesOf(tray, ppm))),
    still: stills.length === 0 ? null : stills.map(({ name }) => name).join(' and '),
    butt: buttOf(collection, today),
    unknown: unknownOf(stills.length > 0, stock),
    learned,
    away: collection.away
      .filter(({ untilDate }) => untilDate >= today)
      .map(({ id, fromDate, untilDate }) => ({ id, fromDate, untilDate })),
    kept: standingPlan(collection, lots, today),
  };
}

/** The first rain water on the Shelf that somebody looked into. */
function buttOf({ waters, tanks, madeOn }: Collection, today: string): SeasonView['butt'] {
  for (const { row } of inUse(waters)) {
    const stock = row.kind === 'rain' ? stockOfTank(row, tanks.get(row.id), today, madeOn.get(row.id)) : null;
    if (stock) return { name: row.name, startL: stock.litres, capL: row.tankL, perDayL: row.perDayL ?? 0 };
  }
  return null;
}

/** A working day, and nobody is away. */
const worksOn = ({ settings, away }: Collection, day: string): boolean =>
  settings.workingDays.includes(((new Date(`${day}T12:00:00Z`).getUTCDay() + 6) % 7) + 1) &&
  !away.some(({ fromDate, untilDate }) => fromDate <= day && day <= untilDate);

/** A soak whose day the grower chose has that day alone for its window. */
function chosenWithin({ what, from, until }: SoakWindow, pins: PotPlan['pins'], today: string) {
  const pin = pins.find(({ on, soak }) => soak === what && on >= plusDays(today, from) && on <= plusDays(today, until));
  if (!pin) return { from, until, pinned: false };
  const day = daysBetween(today, pin.on);
  return { from: day, until: day, pinned: true };
}

/** Days of the plan among calendar days. */
const daysAhead = (days: readonly string[] | undefined, today: string): number[] =>
  (days ?? []).map((on) => daysBetween(today, on)).filter((t) => t >= 0 && t < PLAN_DAYS);

function unknownOf(hasStill: boolean, stock: StillAtHand | null): SeasonView['unknown'] {
  if (!hasStill) return [];
  if (!stock)
    return [
      { words: 'Nobody looked into the tank yet, so that the plan takes still water as no bound.', to: '/shelf' },
    ];
  return !stock.madeKnown
    ? [{ words: 'What is made a day is not known: the tank is taken as never filling.', to: '/shelf' }]
    : [];
}

type Tray = {
  readonly key: string;
  readonly states: readonly PotState[];
  readonly collection: Collection;
  readonly windows: readonly SoakWindow[];
};

/** Pots of one place, regimen and phase that are due the same. */
function traysOf(states: readonly PotState[], collection: Collection, today: string): Tray[] {
  const groups = new Map<string, PotState[]>();
  for (const s of states) {
    const key = [
      s.place.id,
      s.regimen.id,
      s.own.dueOn,
      planKey(s, today),
      s.history.turn,
      mixKey(s.watering),
      s.pot.medium === 'basket',
      s.plant.stage,
      JSON.stringify([s.history.lastSoaks, s.history.asked ?? []]),
    ].join('|');
    groups.set(key, [...(groups.get(key) ?? []), s]);
  }
  return [...groups].map(([key, group]) => ({
    key,
    states: group,
    collection,
    windows: soakWindows(group[0]!, today, PLAN_DAYS),
  }));
}

type PlacedLot = { readonly lot: PlannedLot; readonly tray: Tray; readonly states: readonly PotState[] };
/** A lot, its soaks named. */
type PlannedLot = Lot & SeasonView['problem']['lots'][number];

function lotsOf(tray: Tray, tankL: number | null, litres: Learned['litres'], today: string): PlacedLot[] {
  // What was drawn for every litre foretold so far is drawn of the next ones too.
  const times = litres?.times ?? 1;
  const pots = tray.states.map((state) => ({ state, ...drawOf(state, tray) }));
  return cutIntoLots(pots, tankL).map((members, n) => {
    const [{ state: first }] = members as [(typeof members)[number]];
    const sumOf = (of: (pot: (typeof members)[number]) => number) => members.reduce((sum, pot) => sum + of(pot), 0);
    const { pins = [], nots } = first.entry.plan ?? {};
    const dry = members.map(({ state }) => dryOf(state, today));
    const least = (of: (one: (typeof dry)[number]) => number | null) =>
      dry.reduce<number | null>((min, one) => lesser(min, of(one)), null);
    const rota = first.regimen.params.feeds;
    const feeds = rota.map((feed, turn) => {
      const watering = wateringOf(first.regimen.params, first.plant, turn);
      return {
        mix: watering.what === 'plain' ? '' : mixKey(watering),
        stillL: times * sumOf((pot) => pot.fillL(watering).stillL),
        buttL: sumOf((pot) => pot.fillL(watering).buttL),
        mixL: watering.what === 'plain' ? 0 : sumOf(({ state }) => (1 + SPARE_SHARE) * state.pot.fillMl) / 1000,
        everyDays: feed.days,
      };
    });
    const everyDays = feeds[first.history.turn % feeds.length]!.everyDays;
    const lot = {
      id: `${tray.key}#${n}`,
      tray: tray.key,
      potIds: members.map(({ state }) => state.pot.id),
      lastOn: first.history.lastFilledOn === undefined ? null : daysBetween(today, first.history.lastFilledOn),
      dueOn: daysBetween(today, first.own.dueOn),
      turn: first.history.turn % feeds.length,
      feeds,
      soonestDays: soonestDays(everyDays),
      latestDays: first.regimen.params.latestDays,
      dryOn: least((one) => one.on),
      dryDays: least((one) => one.days),
      soaks: tray.windows.map((window) => ({
        mix: window.key,
        what: window.what,
        stillL: times * sumOf(({ state }) => soakPourMl(state.pot, window.way) / 1000),
        ...chosenWithin(window, pins, today),
        apartDays: window.apartDays,
      })),
      pinned: [
        ...new Set(
          daysAhead(
            pins.map(({ on }) => on),
            today,
          ),
        ),
      ],
      not: daysAhead(nots, today),
    };
    return { lot, tray, states: members.map(({ state }) => state) };
  });
}

const lesser = (one: number | null, other: number | null) =>
  one === null ? other : other === null ? one : Math.min(one, other);

/** What a pot draws of the still water: its fill with the spare, and the still part of its flush. */
function drawOf(s: PotState, { collection, windows }: Tray) {
  const waters = flushWaters(collection.waters);
  const scarce = new Set(waters.filter((w) => w.scarce).map((w) => w.id));
  const { stages } = flushNow(s, waters);
  const flushOf = (is: (waterId: string) => boolean) =>
    stages.reduce((sum, stage) => sum + (is(stage.waterId) ? stage.ml : 0), 0);
  const flushMl = flushOf((id) => scarce.has(id));
  const rainMl = flushOf((id) => collection.waters.get(id)?.row.kind === 'rain');
  const hasStill = stillWaters(collection).length > 0;
  const mixedWith = s.fills.findLast((fill) => fill.batch)?.batch?.water.kind ?? (hasStill ? 'still' : 'tap');
  const fillL = ({ what, fillWith, flushTimesReservoir }: Watering) => {
    const stillFill = fillWith === 'still' || (fillWith === null && mixedWith === 'still');
    const spare = what === 'plain' ? 1 : 1 + SPARE_SHARE;
    const ofButt = !stillFill && fillWith === null && mixedWith === 'rain';
    const flushes = flushTimesReservoir > 0;
    const fillMl = spare * s.pot.fillMl;
    return {
      stillL: ((stillFill ? fillMl : 0) + (flushes ? flushMl : 0)) / 1000,
      buttL: ((ofButt ? fillMl : 0) + (flushes ? rainMl : 0)) / 1000,
    };
  };
  const soakL = Math.max(0, ...windows.map(({ way }) => soakPourMl(s.pot, way) / 1000));
  return { fillL, mostL: fillL(s.watering).stillL + soakL };
}

/** When it is dry as it stands, and how long it lasts filled anew, days: down to the last that Drift warns of, which is before it is bare. */
function dryOf(s: PotState, today: string): { on: number | null; days: number | null } {
  const left = daysUntilDry(s, today);
  if (left === undefined || s.history.lastFilledOn === undefined) return { on: null, days: null };
  const since = daysBetween(s.history.lastFilledOn, today);
  const days = Math.max(1, since + left);
  return { on: days - since, days };
}

function mixNames({ states: [s], windows }: Tray, ppm: (ec: number) => number): [string, string][] {
  const { params } = s!.regimen;
  return [
    ...params.feeds.map((_, turn): [string, string] => {
      const watering = wateringOf(params, s!.plant, turn);
      const { what, dose, netEcUsCm } = watering;
      const strength = dose ? doseWords(dose) : `${Math.round(ppm(netEcUsCm))} over base`;
      return [
        what === 'plain' ? '' : mixKey(watering),
        what === 'plain' ? 'plain water' : `${upperFirst(WHAT_WORDS[what])}, ${strength}`,
      ];
    }),
    ...windows.map(({ key, what, way }): [string, string] => [
      key,
      upperFirst(way === 'spray' ? `${SOAKS[what].name}, as a spray` : SOAKS[what].name),
    ]),
  ];
}

/** The ends of the bench's address for the feeds of a tray, by their keys. */
function benchesOf({ states: [s] }: Tray, ppm: (ec: number) => number): [string, string][] {
  const { params } = s!.regimen;
  return params.feeds.flatMap((_, turn): [string, string][] => {
    const watering = wateringOf(params, s!.plant, turn);
    const { what, dose, netEcUsCm, pourPhLow, pourPhHigh } = watering;
    if (what === 'plain') return [];
    const aim = !dose
      ? `net=${Math.round(ppm(netEcUsCm))}`
      : dose.by === 'perL'
        ? `perL=${dose.units}`
        : `label=${dose.share}`;
    return [[mixKey(watering), `${aim}&ph=${((pourPhLow + pourPhHigh) / 2).toFixed(1)}`]];
  });
}

/** One lane for each regimen on a place, and one for each kind of soak there. */
function lanesOf(lots: readonly PlacedLot[], today: string): SeasonLane[] {
  const lanes = new Map<string, SeasonLane>();
  const add = (id: string, lane: Omit<SeasonLane, 'id' | 'lots'>, lotId: string) => {
    const known = lanes.get(id);
    const mixes = [...new Set([...(known?.mixes ?? []), ...lane.mixes])];
    lanes.set(id, { ...lane, id, mixes, lots: [...(known?.lots ?? []), lotId] });
  };
  const waterings = [...lots].sort((a, b) => placeOf(a) - placeOf(b));
  for (const { lot, tray } of waterings) {
    const { place, regimen, site } = tray.states[0]!;
    const id = `${place.id}|${regimen.id}`;
    add(id, { place: place.name, what: regimen.name, kind: 'visit', mixes: [], months: [], closed: [] }, lot.id);
    for (const soak of regimen.params.soaks) {
      const months = openMonths(soak, site);
      // A soak that holds both stands in the lane of either.
      const shows = (what: SoakWhat) => SOAKS[soak.what].brings.every((one) => SOAKS[what].brings.includes(one));
      const mixes = tray.windows.filter((window) => shows(window.what)).map((window) => window.key);
      const lane = { place: place.name, what: SOAKS[soak.what].name, kind: 'soak' as const, mixes, months };
      add(`${place.id}|soak|${soak.what}|${months.join()}`, { ...lane, closed: closedIn(months, today) }, lot.id);
    }
  }
  return [...lanes.values()];
}
const placeOf = ({ tray }: PlacedLot) => tray.states[0]!.place.position;

/** Stretches of the plan in which none of the months is open. */
function closedIn(months: readonly number[], today: string): SeasonLane['closed'] {
  const closed: { from: number; to: number }[] = [];
  for (let t = 0; t < PLAN_DAYS; t++) {
    if (months.includes(Number(plusDays(today, t).slice(5, 7)))) continue;
    const last = closed.at(-1);
    if (last && last.to === t - 1) last.to = t;
    else closed.push({ from: t, to: t });
  }
  return closed;
}

import { freeDays } from './fewest-mixes.ts';
import { type Columns, type Ground, type Terms } from './linear-model.ts';
import type { Lot, PlanProblem, PlanWeights } from './problem.ts';

/** A lot's waterings and soaks by their days, what it is late and dry, and its share of each day's water and minutes. */
export function lotColumns(problem: PlanProblem, lot: Lot, w: PlanWeights, ground: Ground) {
  const { days, minutes } = problem;
  const { columns, loads, trips, mixOn } = ground;
  const pots = lot.potIds.length;
  const free = freeDays(problem, lot);
  const feedMixes = [...new Set(lot.feeds.map(({ mix }) => mix))];
  // Of several feeds the one that draws least: less than it can be is no lie.
  const leastL = Math.min(...lot.feeds.map(({ stillL }) => stillL));
  const cost = (t: number) =>
    Math.min(...lot.feeds.map((feed) => feed.stillL * (1 - lentShare(lot, feed.everyDays, t, days))));
  const visits = new Map(free.map((t) => [t, columns.add(w.usedL * cost(t), 1)]));
  for (const [t, y] of visits) {
    if (lot.pinned.includes(t)) columns.model.lower[y] = 1;
    loads.litres[t]!.push([y, leastL]);
    loads.minutes[t]!.push([y, pots * minutes.pot]);
    if (!feedMixes.includes(''))
      columns.row(0, Infinity, [...feedMixes.map((mix) => [mixOn(mix, t), 1] as const), [y, -1]]);
    else
      columns.row(0, Infinity, [
        [trips[t]!, 1],
        [y, -1],
      ]);
  }
  if (lot.pinned.length === 0) tooSoon(columns, visits, lot, days);
  const waitDays = Math.max(...lot.feeds.map(({ everyDays }) => everyDays));
  const late = waits(
    columns,
    visits,
    days,
    Math.min(waitDays, lot.latestDays ?? Infinity),
    dueOf(lot),
    w.latePotDay * pots,
  );
  const dry = waits(columns, visits, days, lot.dryDays ?? Infinity, lot.dryOn ?? Infinity, w.dryPotDay * pots);
  const soaks = lot.soaks.map((soak, s) => {
    const map = new Map<number, number>();
    for (const t of free)
      if (t >= soak.from && t <= soak.until) {
        const column = columns.add(w.usedL * soak.stillL, 1);
        map.set(t, column);
        columns.row(0, Infinity, [
          [visits.get(t)!, 1],
          [column, -1],
        ]);
        columns.row(0, Infinity, [
          [mixOn(soak.mix, t), 1],
          [column, -1],
        ]);
        loads.litres[t]!.push([column, soak.stillL]);
        loads.minutes[t]!.push([column, pots * Math.max(0, minutes.soakedPot - minutes.pot)]);
      }
    const missed = soak.until < days ? columns.add(w.missedSoakPot * pots, 1) : undefined;
    const once: Terms = [...map.values()].map((column) => [column, 1]);
    columns.row(missed === undefined ? 0 : 1, 1, missed === undefined ? once : [...once, [missed, 1]]);
    return { map, missed, s };
  });
  apart(
    columns,
    lot,
    soaks.map(({ map }) => map),
  );
  return {
    visits,
    soaks: soaks.map(({ map }) => map),
    fill: (values: number[], on: readonly number[], given: readonly number[]) => {
      for (const t of on) values[visits.get(t)!] = 1;
      for (const { map, missed, s } of soaks) {
        if (given[s]! >= 0) values[map.get(given[s]!)!] = 1;
        else if (missed !== undefined) values[missed] = 1;
      }
      for (const wait of [late, dry])
        for (const [column, days_] of wait) values[column] = days_.some((t) => on.includes(t)) ? 0 : 1;
    },
  };
}

/** As a plan's own reckoning has it: a watering near the end serves days past it. */
function lentShare(lot: Lot, everyDays: number, t: number, days: number): number {
  const dueOn = t + Math.min(everyDays, lot.latestDays ?? Infinity);
  return dueOn > days ? (dueOn - days) / everyDays : 0;
}

const dueOf = (lot: Lot): number =>
  Math.max(
    0,
    Math.min(lot.dueOn, lot.lastOn === null || lot.latestDays === null ? Infinity : lot.lastOn + lot.latestDays),
  );

/** Late on a day is a lot without a watering in the days before it that it may wait. @returns each day's column, and the days one of which would have kept it from being late */
function waits(
  columns: Columns,
  visits: ReadonlyMap<number, number>,
  days: number,
  waitDays: number,
  first: number,
  cost: number,
): Map<number, readonly number[]> {
  const found = new Map<number, readonly number[]>();
  for (let t = Math.max(0, first); t < days; t++) {
    const within = [...visits.keys()].filter((day) => day <= t && day > t - waitDays);
    const column = columns.add(cost, 1);
    found.set(column, within);
    columns.row(1, Infinity, [...within.map((day) => [visits.get(day)!, 1] as const), [column, 1]]);
  }
  return found;
}

function tooSoon(columns: Columns, visits: ReadonlyMap<number, number>, lot: Lot, days: number): void {
  const { soonestDays, lastOn } = lot;
  for (const [t, y] of visits) if (lastOn !== null && t < lastOn + soonestDays) columns.model.upper[y] = 0;
  if (soonestDays <= 1) return;
  for (let t = 0; t + soonestDays <= days; t++) {
    const within = [...visits].filter(([day]) => day >= t && day < t + soonestDays).map(([, y]) => [y, 1] as const);
    if (within.length > 1) columns.row(-Infinity, 1, within);
  }
}

/** Soaks keep their distance, each from the one before it. */
function apart(columns: Columns, lot: Lot, soaks: readonly ReadonlyMap<number, number>[]): void {
  for (let s = 1; s < soaks.length; s++)
    for (const [day, column] of soaks[s]!) {
      const tooNear = [...soaks[s - 1]!].filter(([before]) => day < before + lot.soaks[s]!.apartDays);
      if (tooNear.length > 0) columns.row(-Infinity, 1, [[column, 1], ...tooNear.map(([, one]) => [one, 1] as const)]);
    }
}

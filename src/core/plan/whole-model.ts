import type { Lot, PlanLeach, PlanProblem, PlanWeights, SeasonPlan } from './problem.ts';
import { leachDueOn, Liver } from './live.ts';

/*
 * The whole season as a linear model, for a solver: what it proves no plan can be better than, and what it finds better. Its cost is what a plan lived day by day
 * comes to, or less: rotas of several feeds are let off their order. So what is proven of it holds for every plan.
 * The formulation is a rolling window per lot and day: late on a day is who had no watering in the days it may wait.
 */

/** Least in cost over columns within their bounds, rows within theirs. */
export type LinearModel = {
  readonly cost: number[];
  readonly lower: number[];
  readonly upper: number[];
  readonly integer: boolean[];
  readonly rows: { readonly low: number; readonly high: number; readonly terms: (readonly [number, number])[] }[];
};

/** A day's choices that a solver may be let free in, or held to a plan. */
export type DayColumn = { readonly column: number; readonly day: number };

export type WholeModel = {
  readonly model: LinearModel;
  /** Comes to the cost besides: what stands whatever is planned. */
  readonly constant: number;
  /** Waterings, soaks and changes of clay's water by their day. */
  readonly choices: readonly DayColumn[];
  /** A plan of what a solver says; it may want fitting. */
  planOf(values: ArrayLike<number>): SeasonPlan;
  /** What a plan is in the model's columns: a solver begins with it. */
  valuesOf(plan: SeasonPlan): number[];
};

type Terms = (readonly [number, number])[];

class Columns {
  readonly model: LinearModel = { cost: [], lower: [], upper: [], integer: [], rows: [] };
  add(cost: number, upper = Infinity, integer = false): number {
    const { model } = this;
    model.lower.push(0);
    model.upper.push(upper);
    model.integer.push(integer);
    return model.cost.push(cost) - 1;
  }
  row(low: number, high: number, terms: Terms): void {
    if (terms.length > 0) this.model.rows.push({ low, high, terms });
  }
}

const daysOf = (n: number) => Array.from({ length: n }, (_, t) => t);

/** What waits on each day: the columns that draw still water, and those that take minutes. */
type Loads = { readonly litres: Terms[]; readonly minutes: Terms[] };

export function wholeModel(problem: PlanProblem, w: PlanWeights): WholeModel {
  const { days, lots, leaches } = problem;
  const columns = new Columns();
  const loads: Loads = { litres: daysOf(days).map(() => []), minutes: daysOf(days).map(() => []) };
  const { value, constant } = constantOf(problem, w);
  const trips = daysOf(days).map((t) => columns.add(value.minutes[t]! > 0 ? 0 : w.trip, 1));
  const mixes = new Map<string, number[]>();
  const mixOn = (mix: string, t: number): number => {
    const known = mixes.get(mix) ?? daysOf(days).map(() => -1);
    mixes.set(mix, known);
    if (known[t] === -1) {
      known[t] = columns.add(w.mix, 1);
      loads.minutes[t]!.push([known[t], problem.minutes.mix]);
      columns.row(0, Infinity, [
        [trips[t]!, 1],
        [known[t], -1],
      ]);
    }
    return known[t]!;
  };
  const made = lots.map((lot) => lotColumns(problem, lot, w, { columns, loads, trips, mixOn }));
  const changes = leaches.map((leach) => leachColumns(problem, leach, w, { columns, loads, trips }));
  const tank = tankColumns(problem, w, columns, loads);
  const over = minuteColumns(problem, w, columns, loads);
  const choices = [...made.flatMap(({ visits, soaks }) => [visits, ...soaks]), ...changes.map(({ on }) => on)].flatMap(
    (map) => [...map].map(([day, column]) => ({ column, day })),
  );
  return {
    model: columns.model,
    constant,
    choices,
    planOf: (values) => {
      const chosen = (map: ReadonlyMap<number, number>) =>
        [...map].filter(([, column]) => values[column]! > 0.5).map(([day]) => day);
      return {
        visits: made.map(({ visits }) => chosen(visits).sort((a, b) => a - b)),
        soaks: made.map(({ soaks }) => soaks.map((map) => chosen(map)[0] ?? -1)),
        leaches: changes.map(({ on }) => chosen(on).sort((a, b) => a - b)),
      };
    },
    valuesOf: (plan) => {
      const values = columns.model.cost.map(() => 0);
      const lived = new Liver(problem).live(plan);
      made.forEach((lot, l) => lot.fill(values, plan.visits[l]!, plan.soaks[l]!));
      changes.forEach((leach, b) => leach.fill(values, plan.leaches[b]!));
      for (const [t, day] of lived.days.entries()) {
        if (day.minutes - value.minutes[t]! > 1e-9) values[trips[t]!] = 1;
        for (const mix of day.mixes) {
          const column = mixes.get(mix)?.[t] ?? -1;
          if (column >= 0) values[column] = 1;
        }
        tank?.fill(values, t, day);
        if (over) values[over[t]!] = day.overMinutes;
      }
      return values;
    },
  };
}

/** What stands on its day whatever is planned. */
function constantOf({ fixed, days }: PlanProblem, w: PlanWeights) {
  const value = { litres: daysOf(days).map(() => 0), minutes: daysOf(days).map(() => 0) };
  for (const { day, stillL, minutes } of fixed) {
    value.litres[day]! += stillL;
    value.minutes[day]! += minutes;
  }
  const constant =
    w.usedL * value.litres.reduce((sum, l) => sum + l, 0) + w.trip * value.minutes.filter((m) => m > 0).length;
  return { value, constant };
}

type Ground = {
  readonly columns: Columns;
  readonly loads: Loads;
  readonly trips: readonly number[];
  readonly mixOn: (mix: string, t: number) => number;
};

function lotColumns(problem: PlanProblem, lot: Lot, w: PlanWeights, ground: Ground) {
  const { days, works, minutes } = problem;
  const { columns, loads, trips, mixOn } = ground;
  const pots = lot.potIds.length;
  const free = daysOf(days).filter(
    (t) => (works[t]! || lot.pinned.includes(t)) && !lot.not.includes(t) && (lot.lastOn === null || t > lot.lastOn),
  );
  const feedMixes = [...new Set(lot.feeds.map(({ mix }) => mix))];
  // Of several feeds the one that draws least: less than it can be is no lie.
  const leastL = Math.min(...lot.feeds.map(({ stillL }) => stillL));
  const cost = (t: number) =>
    Math.min(...lot.feeds.map((feed) => feed.stillL * (1 - lentShare(lot, feed.everyDays, t, days))));
  const visits = new Map(free.map((t) => [t, columns.add(w.usedL * cost(t), 1, true)]));
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
        const column = columns.add(w.usedL * soak.stillL, 1, true);
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

function leachColumns(
  { days, works, minutes }: PlanProblem,
  leach: PlanLeach,
  w: PlanWeights,
  { columns, loads, trips }: Pick<Ground, 'columns' | 'loads' | 'trips'>,
) {
  const on = new Map<number, number>();
  for (let t = Math.max(0, leach.dueOn); t < days; t++) {
    if (!works[t]) continue;
    const column = columns.add(w.usedL * leach.changeL, 1, true);
    on.set(t, column);
    loads.litres[t]!.push([column, leach.changeL]);
    loads.minutes[t]!.push([column, minutes.leach]);
    columns.row(0, Infinity, [
      [trips[t]!, 1],
      [column, -1],
    ]);
  }
  for (let t = 0; t + leach.gapDays <= days; t++) {
    const within = [...on].filter(([day]) => day >= t && day < t + leach.gapDays).map(([, z]) => [z, 1] as const);
    if (within.length > 1) columns.row(-Infinity, 1, within);
  }
  const until = (t: number) => [...on].filter(([day]) => day <= t).map(([, z]) => [z, 1] as const);
  columns.row(-Infinity, leach.changes, until(days));
  // Late is every change that is not made by its day, each day it is not.
  const late = daysOf(days).flatMap((t) => {
    const due = daysOf(leach.changes).filter((n) => leachDueOn(leach, n) <= t).length;
    if (due === 0) return [];
    const column = columns.add(w.leachLateDay, due);
    columns.row(due, Infinity, [...until(t), [column, 1]]);
    return [{ t, due, column }];
  });
  return {
    on,
    fill: (values: number[], done: readonly number[]) => {
      for (const t of done) values[on.get(t)!] = 1;
      for (const { t, due, column } of late) values[column] = Math.max(0, due - done.filter((day) => day <= t).length);
    },
  };
}

type LivedTank = {
  readonly startL: number;
  readonly afterL: number;
  readonly overL: number;
  readonly carriedL: number;
};

/** The tank: the round first, then the day's still water. */
function tankColumns({ tank, days, fixed }: PlanProblem, w: PlanWeights, columns: Columns, { litres }: Loads) {
  if (!tank) return undefined;
  const cap = tank.capL ?? Infinity;
  const start = daysOf(days).map((t) => columns.add(0, t === 0 ? Infinity : cap));
  const after = daysOf(days).map(() => columns.add(0));
  const over = daysOf(days).map(() => columns.add(w.overL));
  const carried = daysOf(days).map(() => columns.add(w.carriedL));
  columns.row(tank.startL, tank.startL, [[start[0]!, 1]]);
  for (let t = 0; t < days; t++) {
    const fixedL = fixed.reduce((sum, act) => sum + (act.day === t ? act.stillL : 0), 0);
    columns.row(-fixedL, -fixedL, [[after[t]!, 1], [start[t]!, -1], [carried[t]!, -1], ...litres[t]!]);
    const made = tank.madeL[t]!;
    if (t + 1 < days)
      columns.row(made, made, [
        [start[t + 1]!, 1],
        [after[t]!, -1],
        [over[t]!, 1],
      ]);
    else if (cap !== Infinity)
      columns.row(-Infinity, cap - made, [
        [after[t]!, 1],
        [over[t]!, -1],
      ]);
  }
  return {
    fill: (values: number[], t: number, day: LivedTank) => {
      values[start[t]!] = day.startL;
      values[after[t]!] = day.afterL;
      values[over[t]!] = day.overL;
      values[carried[t]!] = day.carriedL;
    },
  };
}

function minuteColumns(
  { minutesADay, days, fixed }: PlanProblem,
  w: PlanWeights,
  columns: Columns,
  { minutes }: Loads,
) {
  if (minutesADay === null) return undefined;
  return daysOf(days).map((t) => {
    const over = columns.add(w.overMinute);
    const fixedMin = fixed.reduce((sum, act) => sum + (act.day === t ? act.minutes : 0), 0);
    columns.row(-Infinity, minutesADay - fixedMin, [...minutes[t]!, [over, -1]]);
    return over;
  });
}

import { Columns, daysOf, type Ground, type LinearModel, type Loads } from './linear-model.ts';
import { leachDueOn, Liver } from './live.ts';
import type { PlanLeach, PlanProblem, PlanWeights, SeasonPlan } from './problem.ts';
import { lotColumns } from './whole-lots.ts';

/*
 * The whole season as a linear model, for a solver: what it proves no plan can be better than, and what it finds better. Its cost is what a plan lived day by day
 * comes to, or less: rotas of several feeds are let off their order. So what is proven of it holds for every plan.
 * The formulation is a rolling window per lot and day: late on a day is who had no watering in the days it may wait.
 */

export type WholeModel = {
  readonly model: LinearModel;
  /** Comes to the cost besides: what stands whatever is planned. */
  readonly constant: number;
  /** Where a plan stands in the model: it must be a point of it, at no more than it costs lived. */
  valuesOf(plan: SeasonPlan): number[];
};

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
  return {
    model: columns.model,
    constant,
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

function leachColumns(
  { days, works, minutes }: PlanProblem,
  leach: PlanLeach,
  w: PlanWeights,
  { columns, loads, trips }: Pick<Ground, 'columns' | 'loads' | 'trips'>,
) {
  const on = new Map<number, number>();
  for (let t = Math.max(0, leach.dueOn); t < days; t++) {
    if (!works[t]) continue;
    const column = columns.add(w.usedL * leach.changeL, 1);
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

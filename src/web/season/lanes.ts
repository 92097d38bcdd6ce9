import type { SeasonLane, SeasonView } from '../../contract/season.ts';
import type { PlanAct, SeasonPlan } from '../../core/plan/index.ts';

/** What is done of a lane on a day. `lots`: by number in the problem. */
export type LaneDay = {
  readonly day: number;
  readonly potIds: readonly string[];
  readonly litres: number;
  readonly lots: readonly number[];
  /** What was planned by hand, in words. */
  readonly words?: readonly string[];
};
export type Lane = Omit<SeasonLane, 'kind'> & { readonly kind: SeasonLane['kind'] | 'clay' | 'fixed' };
export type LaneRow = { readonly lane: Lane; readonly days: readonly LaneDay[] };

/** The act a lane's day stands for; undefined where it is none that can be moved here. */
export const actOf = ({ lane }: LaneRow, { lots, day }: LaneDay): PlanAct | undefined =>
  lane.kind === 'visit' || lane.kind === 'soak' ? { kind: lane.kind, lots, day } : undefined;

const NOTHING: Omit<Lane, 'id' | 'place' | 'what' | 'kind'> = { lots: [], mixes: [], months: [], closed: [] };

/** The lanes of a plan, each with its days in order. */
export function laneRows({ problem, lanes }: SeasonView, plan: SeasonPlan): LaneRow[] {
  const number = new Map(problem.lots.map((lot, l) => [lot.id, l]));
  const rows = lanes.map((lane): LaneRow => {
    const days = new Map<number, LaneDay>();
    const add = (day: number, l: number, litres: number) => {
      const known = days.get(day) ?? { day, potIds: [], litres: 0, lots: [] };
      const potIds = [...known.potIds, ...problem.lots[l]!.potIds];
      days.set(day, { day, potIds, litres: known.litres + litres, lots: [...known.lots, l] });
    };
    for (const id of lane.lots) {
      const l = number.get(id)!;
      const lot = problem.lots[l]!;
      if (lane.kind === 'visit')
        plan.visits[l]!.forEach((day, i) => add(day, l, lot.feeds[(lot.turn + i) % lot.feeds.length]!.stillL));
      else
        plan.soaks[l]!.forEach((day, s) => {
          if (day >= 0 && lane.mixes.includes(lot.soaks[s]!.mix)) add(day, l, lot.soaks[s]!.stillL);
        });
    }
    return { lane, days: [...days.values()].sort((a, b) => a.day - b.day) };
  });
  return [...rows, ...clayRows(problem, plan), ...fixedRow(problem)];
}

const clayRows = (problem: SeasonView['problem'], plan: SeasonPlan): LaneRow[] =>
  problem.leaches.map(({ id, name, changeL }, b) => ({
    lane: { id: `clay|${id}`, place: 'New clay', what: `changes, ${name}`, kind: 'clay', ...NOTHING },
    days: plan.leaches[b]!.map((day) => ({ day, potIds: [], litres: changeL, lots: [] })),
  }));

function fixedRow({ fixed }: SeasonView['problem']): LaneRow[] {
  if (fixed.length === 0) return [];
  const days = [...new Set(fixed.map(({ day }) => day))].sort((a, b) => a - b);
  const on = (day: number) => fixed.filter((act) => act.day === day);
  return [
    {
      lane: { id: 'by-hand', place: 'Planned by hand', what: 'on its own day', kind: 'fixed', ...NOTHING },
      days: days.map((day) => ({
        day,
        potIds: [],
        lots: [],
        litres: on(day).reduce((sum, act) => sum + act.stillL, 0),
        words: on(day).map((act) => act.words),
      })),
    },
  ];
}

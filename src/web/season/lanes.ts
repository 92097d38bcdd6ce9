import type { SeasonLane, SeasonView } from '../../contract/season.ts';
import type { SeasonPlan } from '../../core/plan/index.ts';

/** What is done of a lane on a day. */
export type LaneDay = { readonly day: number; readonly potIds: readonly string[]; readonly litres: number };
export type LaneRow = { readonly lane: SeasonLane; readonly days: readonly LaneDay[] };

/** The lanes of a plan, each with its days in order. */
export function laneRows({ problem, lanes }: SeasonView, plan: SeasonPlan): LaneRow[] {
  const number = new Map(problem.lots.map((lot, l) => [lot.id, l]));
  return lanes.map((lane) => {
    const days = new Map<number, { potIds: string[]; litres: number }>();
    const add = (day: number, potIds: readonly string[], litres: number) => {
      const known = days.get(day) ?? { potIds: [], litres: 0 };
      days.set(day, { potIds: [...known.potIds, ...potIds], litres: known.litres + litres });
    };
    for (const id of lane.lots) {
      const l = number.get(id)!;
      const lot = problem.lots[l]!;
      if (lane.kind === 'visit')
        plan.visits[l]!.forEach((day, i) => add(day, lot.potIds, lot.feeds[(lot.turn + i) % lot.feeds.length]!.stillL));
      else
        plan.soaks[l]!.forEach((day, s) => {
          if (day >= 0 && lane.mixes.includes(lot.soaks[s]!.mix)) add(day, lot.potIds, lot.soaks[s]!.stillL);
        });
    }
    const sorted = [...days].sort(([a], [b]) => a - b);
    return { lane, days: sorted.map(([day, of]) => ({ day, ...of })) };
  });
}

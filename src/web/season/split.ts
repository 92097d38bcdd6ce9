import type { SeasonView } from '../../contract/season.ts';
import type { PlanAct, SeasonPlan } from '../../core/plan/index.ts';

type ViewLot = SeasonView['problem']['lots'][number];

/** A share of a lot: some of its pots with what they take of what all take. The exact litres come from the server again, pot by pot. */
function part(lot: ViewLot, potIds: readonly string[], id: string): ViewLot {
  const share = potIds.length / lot.potIds.length;
  return {
    ...lot,
    id,
    potIds: [...potIds],
    feeds: lot.feeds.map((feed) => ({ ...feed, stillL: share * feed.stillL, mixL: share * feed.mixL })),
    soaks: lot.soaks.map((soak) => ({ ...soak, stillL: share * soak.stillL })),
  };
}

/**
 * Some pots of an act cut out of their lots, so that they can be given a day of their own.
 * @returns what is planned then, and the act of those pots alone; their lots stand after all others
 */
export function splitAct(
  view: SeasonView,
  plan: SeasonPlan,
  act: PlanAct,
  potIds: ReadonlySet<string>,
): { readonly view: SeasonView; readonly plan: SeasonPlan; readonly act: PlanAct } {
  const lots = [...view.problem.lots];
  const visits = [...plan.visits];
  const soaks = [...plan.soaks];
  const chosen: number[] = [];
  const cutOf = new Map<string, string>();
  for (const l of act.lots) {
    const lot = lots[l]!;
    const some = lot.potIds.filter((id) => potIds.has(id));
    if (some.length === 0) continue;
    if (some.length === lot.potIds.length) {
      chosen.push(l);
      continue;
    }
    const id = `${lot.id}/${some[0]}`;
    cutOf.set(lot.id, id);
    chosen.push(lots.length);
    lots.push(part(lot, some, id));
    visits.push(visits[l]!);
    soaks.push(soaks[l]!);
    lots[l] = part(
      lot,
      lot.potIds.filter((one) => !potIds.has(one)),
      lot.id,
    );
  }
  const lanes = view.lanes.map((lane) => ({
    ...lane,
    lots: lane.lots.flatMap((id) => (cutOf.has(id) ? [id, cutOf.get(id)!] : [id])),
  }));
  return {
    view: { ...view, problem: { ...view.problem, lots }, lanes },
    plan: { ...plan, visits, soaks },
    act: { ...act, lots: chosen },
  };
}

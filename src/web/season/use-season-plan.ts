import { useEffect, useMemo, useState } from 'react';
import type { AskedPlan, PlanDid, SeasonAct, SeasonView } from '../../contract/season.ts';
import {
  movedBetween,
  PLAN_AIMS,
  plannedPots,
  type Moved,
  type PlanAct,
  type PlanAim,
  type PlanProblem,
  type SeasonPlan,
} from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { useAct } from '../shell/use-act.ts';
import { forbidAct, freeAct, moveAct, type Edited } from './edits.ts';
import { foretoldOf } from './foretold.ts';
import { splitAct } from './split.ts';
import { usePlans, type PlansState } from './use-plans.ts';

/** What a grower just did to the plan, until the rest is mended round it and both are kept. */
type Draft = Edited & { readonly of: SeasonView; readonly aim: PlanAim; readonly did: PlanDid; readonly words: string };

export type SeasonPlanState = PlansState & {
  /** What is shown: as it was asked, with what was just done to it. */
  readonly view: SeasonView;
  readonly aim: PlanAim;
  setAim(aim: PlanAim): void;
  /** Waterings the mended plan puts on other days than the one that stands. */
  readonly moved: readonly Moved[];
  /** Something was done and is being kept. */
  readonly busy: boolean;
  readonly wrong: string | undefined;
  keep(did: PlanDid, words: string): void;
  move(act: PlanAct, to: number, told: Told): void;
  free(act: PlanAct, told: Told): void;
  forbid(act: PlanAct, told: Told): void;
  /** How many minutes there are on a day; null where nobody counts them. */
  setMinutes(minutes: number | null): void;
  letGo(): void;
};
/** What an act is called, and which of its pots are meant: where those are some of them, they are parted from the rest. */
export type Told = { readonly what: string; readonly potIds: readonly string[] };

const NO_MOVES: readonly Moved[] = [];

/** The plan of the coming weeks as it stands, as it is sought, and what its grower does to it. @param view with the clay's changes in it */
export function useSeasonPlan(view: SeasonView): SeasonPlanState {
  // What comes again from the server is the same question while it says the same.
  const text = JSON.stringify([view.problem, view.kept]);
  const { problem, stands } = useMemo(() => {
    const [asked, kept] = JSON.parse(text) as [PlanProblem, SeasonView['kept']];
    return { problem: asked, stands: kept ? { aim: kept.aim, plan: keptPlan(asked, kept) } : undefined };
  }, [text]);
  const [draft, setDraft] = useState<Draft>();
  const [chosen, setAim] = useState<PlanAim>();
  const aim = draft?.aim ?? chosen ?? stands?.aim ?? 'nobodyLate';
  const asked = useMemo(
    () => (draft ? { problem: draft.problem, stands: { aim: draft.aim, plan: draft.plan } } : { problem, stands }),
    [draft, problem, stands],
  );
  // Until what was done is kept, the lanes are those it was done in, whatever comes from the server.
  const shown = useMemo(
    () => ({ ...(draft?.of ?? view), problem: asked.problem as SeasonView['problem'] }),
    [draft, view, asked],
  );
  const state = usePlans(asked);
  const { send, problems, busy } = useAct('/api/season/plan');
  const { send: sendAct } = useAct('/api/season/acts');

  const keep = async (of: PlanProblem, plan: SeasonPlan, to: PlanAim, did: PlanDid, words: string) => {
    // What was done was done to the plan it was seen in: where another stands by now, it is refused and said.
    const clay = of.leaches.map(({ id }, b) => [id, plan.leaches[b]!.map((day) => plusDays(shown.on, day))]);
    const body: AskedPlan = {
      ...{ basis: shown.kept?.madeAt ?? null, aim: to, minutesADay: of.minutesADay, did },
      pots: plannedPots(of, plan, shown.on),
      clay: Object.fromEntries(clay) as AskedPlan['clay'],
      foretold: foretoldOf(of, plan, shown),
    };
    await send(body, words);
    setDraft(undefined);
    setAim(undefined);
  };
  const mended = draft && state.sought.includes(draft.aim) ? state.plans[draft.aim].plan : undefined;
  useEffect(() => {
    if (draft && mended) void keep(draft.problem, mended, draft.aim, draft.did, draft.words);
    // Once for what was done: keeping it makes another draft of it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [draft, mended]);

  const now = state.plans[aim].plan;
  const moved = useMemo(
    () =>
      stands && !draft && state.sought.includes(stands.aim)
        ? movedBetween(stands.plan, state.plans[stands.aim].plan)
        : NO_MOVES,
    [stands, draft, state.sought, state.plans],
  );
  return {
    ...state,
    view: shown,
    aim,
    setAim,
    moved,
    busy: busy || draft !== undefined,
    wrong: Object.values(problems)[0],
    keep: (of, words) => void keep(asked.problem, now, aim, of, words),
    ...editsOf(shown, now, aim, (of, edited, did, words) => setDraft({ ...edited, of, aim, did, words })),
    setMinutes: (minutesADay) =>
      setDraft({
        ...{
          problem: { ...asked.problem, minutesADay },
          plan: now,
          of: shown,
          aim,
          did: { kind: 'minutes', minutes: minutesADay },
        },
        words: 'Minutes a day: kept',
      }),
    letGo: () => void sendAct({ kind: 'dropPlan' } satisfies SeasonAct, 'The plan was let go'),
  };
}

/** The plan that stands, by the lots and the clay of a problem. */
export const keptPlan = (
  { leaches }: Pick<PlanProblem, 'leaches'>,
  { visits, soaks, clay }: NonNullable<SeasonView['kept']>,
): SeasonPlan => ({ visits, soaks, leaches: leaches.map(({ id }) => clay[id] ?? []) });

/** What a grower can do to an act, as what it makes of the plan and how it is told. */
function editsOf(
  view: SeasonView,
  plan: SeasonPlan,
  aim: PlanAim,
  done: (of: SeasonView, edited: Edited, did: PlanDid, words: string) => void,
): Pick<SeasonPlanState, 'move' | 'free' | 'forbid'> {
  const on = (day: number) => plusDays(view.on, day);
  const edit = (
    act: PlanAct,
    { what, potIds }: Told,
    make: (problem: PlanProblem, plan: SeasonPlan, act: PlanAct) => Edited,
    did: (told: { readonly what: string; readonly pots: number }) => PlanDid,
    words: string,
  ) => {
    const cut = splitAct(view, plan, act, new Set(potIds));
    done(cut.view, make(cut.view.problem, cut.plan, cut.act), did({ what, pots: potIds.length }), `${what}: ${words}`);
  };
  return {
    move: (act, to, told) =>
      edit(
        act,
        told,
        (problem, whole, part) => moveAct(problem, whole, part, to, PLAN_AIMS[aim]),
        (of) =>
          to === act.day
            ? { kind: 'pinned', ...of, on: on(to) }
            : { kind: 'moved', ...of, from: on(act.day), to: on(to) },
        to === act.day ? 'pinned' : 'moved',
      ),
    free: (act, told) =>
      edit(act, told, freeAct, (of) => ({ kind: 'freed', ...of, on: on(act.day) }), 'no longer pinned'),
    forbid: (act, told) =>
      edit(act, told, forbidAct, (of) => ({ kind: 'notThatDay', ...of, on: on(act.day) }), 'not on that day'),
  };
}

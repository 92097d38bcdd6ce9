import { useEffect, useMemo, useRef, useState } from 'react';
import type { PlanAim, PlanProblem } from '../../core/plan/index.ts';
import { AIMS, bestOfEach, betterPlan, mendedPlan, plansAtOnce, type Plans, type Stands } from './make-plans.ts';
import type { PlanAsk, PlanReply } from './plan-worker.ts';

export type PlansState = {
  readonly plans: Plans;
  /** What was sought so far; the others were made at once. */
  readonly sought: readonly PlanAim[];
  /** How far the search is, 0 to 1. */
  readonly share: number;
  readonly stopped: boolean;
  stop(): void;
  again(): void;
};

/** Where there are no workers only this many moves are made, for the page waits for them. */
const MOVES_HERE = 3000;

type Asked = { readonly problem: PlanProblem; readonly stands: Stands | undefined };
type Found = { readonly asked: Asked; readonly plans: Plans; readonly sought: readonly PlanAim[] };

function plansHere(asked: Asked): Found {
  const { problem, stands } = asked;
  const first = plansAtOnce(problem, stands);
  const better = AIMS.map((aim) => [
    aim,
    stands?.aim === aim
      ? mendedPlan(problem, stands, undefined, MOVES_HERE)
      : betterPlan(problem, aim, first[aim].plan, undefined, MOVES_HERE),
  ]);
  return { asked, plans: bestOfEach(problem, Object.fromEntries(better) as Plans, stands?.aim), sought: AIMS };
}

/**
 * Plans of a problem: one at once, then better ones from a worker that says how far it is and can be stopped.
 * @param asked the same object as long as the question is the same
 */
export function usePlans(asked: Asked): PlansState {
  const [found, setFound] = useState<Found>();
  const [share, setShare] = useState(0);
  const [stopped, setStopped] = useState(false);
  const [turn, setTurn] = useState(0);
  const worker = useRef<Worker | undefined>(undefined);
  const atOnce = useMemo(() => plansAtOnce(asked.problem, asked.stands), [asked]);
  useEffect(() => {
    setShare(0);
    setStopped(false);
    if (typeof Worker === 'undefined') {
      setFound(plansHere(asked));
      setShare(1);
      return undefined;
    }
    const running = new Worker(new URL('./plan-worker.ts', import.meta.url), { type: 'module' });
    worker.current = running;
    running.addEventListener('message', ({ data }: MessageEvent<PlanReply>) => {
      if (data.kind === 'progress') setShare(data.share);
      else if (data.kind === 'plans') setFound({ asked, plans: data.plans, sought: data.sought });
    });
    running.postMessage({ kind: 'plans', ...asked } satisfies PlanAsk);
    return () => running.terminate();
  }, [asked, turn]);
  const stop = () => {
    worker.current?.terminate();
    setStopped(true);
  };
  // A plan of yesterday's question is no answer to today's.
  const answer = found?.asked === asked ? found : undefined;
  return {
    plans: answer?.plans ?? atOnce,
    sought: answer?.sought ?? [],
    share,
    stopped,
    stop,
    again: () => setTurn((n) => n + 1),
  };
}

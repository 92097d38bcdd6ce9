import { useEffect, useRef, useState } from 'react';
import type { PlanProblem } from '../../core/plan/index.ts';
import { AIMS, bestOfEach, betterPlan, plansAtOnce, type Plans } from './make-plans.ts';
import type { PlanAsk, PlanReply } from './plan-worker.ts';

export type PlansState = {
  readonly plans: Plans | undefined;
  /** How far the search is, 0 to 1. */
  readonly share: number;
  readonly stopped: boolean;
  stop(): void;
  again(): void;
};

/** Where there are no workers only this many moves are made, for the page waits for them. */
const MOVES_HERE = 3000;

/** Plans of a problem: one at once, then better ones from a worker that says how far it is and can be stopped. */
export function usePlans(problem: PlanProblem | undefined): PlansState {
  const [found, setFound] = useState<{ readonly problem: PlanProblem; readonly plans: Plans }>();
  const [share, setShare] = useState(0);
  const [stopped, setStopped] = useState(false);
  const [turn, setTurn] = useState(0);
  const worker = useRef<Worker | undefined>(undefined);
  useEffect(() => {
    if (!problem) return undefined;
    setShare(0);
    setStopped(false);
    if (typeof Worker === 'undefined') {
      const first = plansAtOnce(problem);
      const better = AIMS.map((aim) => [aim, betterPlan(problem, aim, first[aim].plan, undefined, MOVES_HERE)]);
      setFound({ problem, plans: bestOfEach(problem, Object.fromEntries(better) as Plans) });
      setShare(1);
      return undefined;
    }
    const running = new Worker(new URL('./plan-worker.ts', import.meta.url), { type: 'module' });
    worker.current = running;
    running.addEventListener('message', ({ data }: MessageEvent<PlanReply>) => {
      if (data.kind === 'progress') setShare(data.share);
      else setFound({ problem, plans: data.plans });
    });
    running.postMessage({ problem } satisfies PlanAsk);
    return () => running.terminate();
  }, [problem, turn]);
  const stop = () => {
    worker.current?.terminate();
    setStopped(true);
  };
  // A plan of yesterday's question is no answer to today's.
  const plans = found?.problem === problem ? found?.plans : undefined;
  return { plans, share, stopped, stop, again: () => setTurn((n) => n + 1) };
}

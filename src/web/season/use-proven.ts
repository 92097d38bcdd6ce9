import { useEffect, useState } from 'react';
import type { PlanAim, PlanProblem } from '../../core/plan/index.ts';
import type { ProveAsk, ProveReply } from './bound-worker.ts';

/** What is proven of a season: each undefined until it is, and where nothing can prove it. */
export type Proven = {
  /** So many mixes at least if nobody is late. */
  readonly mixes?: number;
  /** What no plan can cost less than, by the aim's weights. */
  readonly cost?: number;
};
const NOTHING: Proven = {};

export function useProven(problem: PlanProblem, aim: PlanAim): Proven {
  const [found, setFound] = useState<{
    readonly problem: PlanProblem;
    readonly aim: PlanAim;
    readonly proven: Proven;
  }>();
  useEffect(() => {
    if (typeof Worker === 'undefined') return undefined;
    let proven = NOTHING;
    const worker = new Worker(new URL('./bound-worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<ProveReply>) => {
      if (data.kind === 'mixes') proven = { ...proven, mixes: data.mixes };
      else if (data.cost !== undefined) proven = { ...proven, cost: data.cost };
      setFound({ problem, aim, proven });
      if (data.kind === 'cost') worker.terminate();
    });
    worker.postMessage({ problem, aim } satisfies ProveAsk);
    return () => worker.terminate();
  }, [problem, aim]);
  return found?.problem === problem && found.aim === aim ? found.proven : NOTHING;
}

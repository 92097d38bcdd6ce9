import { useEffect, useState } from 'react';
import type { PlanProblem } from '../../core/plan/index.ts';

/** How many mixes there are at least if nobody is late; undefined until that is proven, and where nothing can prove it. */
export function useFewestMixes(problem: PlanProblem): number | undefined {
  const [found, setFound] = useState<{ readonly problem: PlanProblem; readonly mixes: number }>();
  useEffect(() => {
    if (typeof Worker === 'undefined') return undefined;
    const worker = new Worker(new URL('./bound-worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<number>) => {
      setFound({ problem, mixes: data });
      worker.terminate();
    });
    worker.postMessage(problem);
    return () => worker.terminate();
  }, [problem]);
  return found?.problem === problem ? found.mixes : undefined;
}
